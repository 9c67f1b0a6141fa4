"""Effects over time, the weave they make, and what it draws."""
