"""What a board does at its pins: every way to drive carried out, in C and in Python."""
