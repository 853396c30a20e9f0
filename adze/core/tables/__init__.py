"""Named parameter sets (CSV files with unit and source) as frozen rows. Imports basics."""
