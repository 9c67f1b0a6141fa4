"""The surfaces of the window, one a station."""
