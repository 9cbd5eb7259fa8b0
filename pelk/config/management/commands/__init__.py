"""Commands of the project."""
