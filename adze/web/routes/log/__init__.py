"""Routes of the log: readings, devices, breaches, upkeep."""
