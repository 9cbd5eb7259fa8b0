"""Forms of the shelf."""
