"""Pages that are printed or carried to the field."""
