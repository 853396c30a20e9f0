"""Numbers, units, statuses and the cache: what every room uses. Imports nothing of the core."""
