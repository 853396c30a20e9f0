"""Routes of searches for faults."""
