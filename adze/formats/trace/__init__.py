"""A search for faults as it is packed for a phone."""
