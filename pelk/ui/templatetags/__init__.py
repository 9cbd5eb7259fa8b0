"""Template tags of the kit."""
