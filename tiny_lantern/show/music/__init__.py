"""Sound and notes: what a song is, when its beats are, and what lamps make of it."""
