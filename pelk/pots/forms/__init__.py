"""What is typed at this station."""
