"""Shelf: materials, their analyses and where each value comes from."""
