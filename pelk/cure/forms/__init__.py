"""What is typed in Cure."""
