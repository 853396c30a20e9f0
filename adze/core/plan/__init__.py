"""The plan document, its parts, its constructions and its changes. Imports basics, tables, energizer, animals."""
