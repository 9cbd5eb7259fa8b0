"""What is typed of people and yards."""
