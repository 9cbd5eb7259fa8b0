"""Salts and metals: what a meter reads and what plants stand."""
