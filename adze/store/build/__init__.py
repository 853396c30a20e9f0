"""Rows of the work."""
