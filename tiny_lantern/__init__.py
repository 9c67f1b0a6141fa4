"""Tiny Lantern plans the power, the wiring and the show of LED builds."""

__version__ = "0.1.0"
