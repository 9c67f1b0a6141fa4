"""Lights that follow at once: what goes over a wire, what sends it, and a simulated board that shows what came."""
