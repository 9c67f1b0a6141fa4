"""Each kind of doing at the pins as it is printed, one file a kind: its rows, and its functions in C and Python."""
