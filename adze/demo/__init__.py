"""The invented farms, loaded by the same services that a person's click uses."""
