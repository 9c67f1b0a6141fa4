"""How each kind of input is wired, one file a kind or a family of kinds."""
