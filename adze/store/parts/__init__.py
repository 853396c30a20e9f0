"""Rows of the shed."""
