"""Pots: what stands where, filled with what, planted with what."""
