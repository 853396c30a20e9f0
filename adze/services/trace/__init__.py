"""A search for faults on a plan: begun, done step by step, in words, and practised."""
