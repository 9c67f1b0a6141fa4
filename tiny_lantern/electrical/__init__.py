"""Copper, the network solve, feed search and faults."""
