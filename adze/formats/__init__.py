"""Open formats in and out; outside names and units change to ours here."""
