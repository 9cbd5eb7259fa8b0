"""Soils: one thing through heap, pots and old soil, with what was done to it."""
