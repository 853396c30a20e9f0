"""Typed operations: one class for each change of a plan, from plan to plan, checked as it is made."""
