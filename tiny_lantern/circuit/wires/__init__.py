"""Which conductors join what: one file for each way to drive, and for supplies, boards, strips and data lines."""
