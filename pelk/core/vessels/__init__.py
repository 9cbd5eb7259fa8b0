"""Pots, volumes, air and water, loads and the order of work."""
