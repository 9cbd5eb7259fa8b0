"""What is done to people and yards."""
