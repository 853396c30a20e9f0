"""Rows of the log: readings, tests, breaches, upkeep, weather, devices."""
