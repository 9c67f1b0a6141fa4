"""Shorts between the rails: what flows, which fuses and supplies answer, what is left standing, what it overloads."""
