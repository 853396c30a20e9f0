"""A farm with hidden faults that answers, and searches played against it: for practice and for measuring."""
