"""Template tags of the Bench."""
