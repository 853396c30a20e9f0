"""Case files: networks, and searches for faults, for the command line."""
