"""Doses and plans worked out for a grower: for a pH, for a crop, for a season."""
