"""Commands of Cure."""
