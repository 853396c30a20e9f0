"""Rows of verdicts and searches."""
