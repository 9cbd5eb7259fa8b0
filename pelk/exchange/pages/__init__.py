"""What is shown of files."""
