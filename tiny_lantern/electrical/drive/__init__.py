"""Ways to drive lamps, one file a way."""
