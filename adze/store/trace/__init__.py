"""Rows of searches for faults and their events."""
