"""The one circuit of a build: elements between named nodes, solved in one still state."""
