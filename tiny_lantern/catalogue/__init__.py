"""Generic parts as data files, and how to find one."""
