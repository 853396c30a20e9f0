"""What a farm has in its shed, and what mends took of it."""
