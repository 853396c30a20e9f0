"""Routes by subject."""
