"""Today: what is due across the stations."""
