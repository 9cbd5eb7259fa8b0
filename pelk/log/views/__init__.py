"""Pages of the log, and the views every station has in common."""
