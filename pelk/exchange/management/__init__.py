"""Commands of the open formats."""
