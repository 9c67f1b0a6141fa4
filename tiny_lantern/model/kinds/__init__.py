"""Kinds of piece that are one file each: whatever class of this folder has a ``kind`` of its own is found by itself."""
