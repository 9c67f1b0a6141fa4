"""Pieces of the window that stations share."""
