"""Ways to drive: one file each, with its fields, what it needs of a board, and which pieces it suits."""
