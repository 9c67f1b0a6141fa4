"""Where to feed a line of strips: its copper at the design corner, bounds, and the search for places."""
