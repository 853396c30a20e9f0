"""Adze: design, prove, build and keep an electric fence."""

__version__ = "0.1.0"
