"""Bench: recipes, their versions, and what they come to."""
