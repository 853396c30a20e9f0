"""Small wrong changes of the code, made one at a time, to see whether its tests notice them."""
