"""Writing the log, and the deeds every station has in common."""
