"""Routes of the shed."""
