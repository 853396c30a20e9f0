"""Routes of photos."""
