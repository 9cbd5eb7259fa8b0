"""The day before the month."""
