"""Reckoning over the rows."""
