"""Strand heights from animals' bodies, checks of strands, what a touch does. Imports basics, soil, tables."""
