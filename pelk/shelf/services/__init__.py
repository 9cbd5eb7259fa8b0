"""What is done on the shelf: every write in a transaction that also writes the log."""
