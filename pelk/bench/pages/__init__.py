"""Sentences and pictures for the pages of this station; only views use them."""
