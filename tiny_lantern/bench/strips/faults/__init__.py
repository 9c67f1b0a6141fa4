"""Kinds of faults of strips, by what they are at."""
