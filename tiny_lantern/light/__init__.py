"""Colour, what an eye sees of a sagging pixel, and flash safety."""
