"""Routes of the work."""
