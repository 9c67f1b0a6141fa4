"""What each way to drive does at its pins, one file a way."""
