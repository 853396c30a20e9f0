"""Rows of members, invitations and links to look."""
