"""At the bench: what probes should say, what is wrong where they do not, and what was done about it."""
