"""Limits on what one account or address may ask for: tokens, places at work, quotas."""
