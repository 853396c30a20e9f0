"""Tests of the designer and of what mends a plan."""
