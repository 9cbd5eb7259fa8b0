"""Barrow: batches as made, cut into loads, with ticks."""
