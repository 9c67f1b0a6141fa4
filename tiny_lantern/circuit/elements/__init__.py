"""What a circuit is made of, one file for each kind: its terminals, its law, and what a solution says of it."""
