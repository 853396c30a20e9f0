"""Findings and verdicts of each stage. Imports every room above but pulse and soil."""
