"""What Today shows and says."""
