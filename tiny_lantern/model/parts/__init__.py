"""Generic parts: what can be bought, one file a kind."""
