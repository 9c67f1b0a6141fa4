"""Kinds of faults in lamps, chips and supplies, by what they are at."""
