"""Typed operations: one class for each deed that changes a plan, from plan to plan, checked as it is made."""
