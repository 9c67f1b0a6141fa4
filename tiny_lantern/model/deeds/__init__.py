"""What a rule does, one file a kind."""
