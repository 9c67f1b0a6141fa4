"""What is wrong with strips and their feeds, and what their copper really is, from readings."""
