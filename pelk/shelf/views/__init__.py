"""Pages of the shelf."""
