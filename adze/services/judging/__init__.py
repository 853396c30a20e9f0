"""Verdicts that are kept, and searches for the cheapest fence that holds."""
