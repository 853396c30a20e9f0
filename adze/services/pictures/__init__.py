"""Pictures under a plan, and photos of things."""
