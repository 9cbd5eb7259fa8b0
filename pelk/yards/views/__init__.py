"""Pages of people and yards."""
