"""The job itself: pure functions and frozen dataclasses, one module per physical or trade subject."""
