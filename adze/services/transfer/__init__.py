"""Ground files, and whole accounts in and out."""
