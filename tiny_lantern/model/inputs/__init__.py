"""The kinds of input, one file each."""
