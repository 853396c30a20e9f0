"""The work: its days, its ticks, and what was built otherwise than drawn."""
