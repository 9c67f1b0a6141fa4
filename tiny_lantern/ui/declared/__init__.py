"""What the window has, said once: each station with its commands and its findings, and the commands of none. One file
each; whatever stands in this folder is found by the registry."""
