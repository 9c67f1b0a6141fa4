"""LEDs in loops and groups: what flows through them, and the resistor that sets it."""
