"""Verdicts on what hangs on what: lines that meet, gates, switches, and what the pulse does not reach."""
