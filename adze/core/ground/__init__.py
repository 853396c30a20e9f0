"""The fence on the ground: surveyed, wired, zoned, edited. Imports basics, tables, plan."""
