"""Finding faults: where one may be, what to read or look at next and why, until nothing is left."""
