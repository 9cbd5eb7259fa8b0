"""Cure: readings of a heap and how its pH goes."""
