"""Rows of pictures and photos."""
