"""The work as a calendar or plan, and the weather it waits for."""
