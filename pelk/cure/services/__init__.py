"""What is done in Cure."""
