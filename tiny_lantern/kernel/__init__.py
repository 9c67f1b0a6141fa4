"""A small language of integers in which effects are written once, and evaluated or printed for a board."""
