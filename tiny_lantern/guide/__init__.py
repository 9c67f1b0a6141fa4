"""The guide that ships with the program, and its pictures."""
