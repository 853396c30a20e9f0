"""Rows of farms, plans, revisions and imported ground."""
