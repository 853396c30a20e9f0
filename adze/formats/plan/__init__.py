"""The plan document as a file."""
