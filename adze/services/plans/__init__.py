"""Plans as they are opened, saved, undone and merged."""
