"""Routes of the program itself: health, and what a phone keeps."""
