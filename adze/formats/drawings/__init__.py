"""Drawings on paper, as SVG."""
