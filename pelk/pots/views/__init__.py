"""Pages of Pots."""
