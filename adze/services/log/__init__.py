"""What is read and done on a fence over the year: readings, tests, upkeep, weather, devices."""
