"""The ways to drive in a build, one file a way, behind one contract."""
