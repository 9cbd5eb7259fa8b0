"""What files change."""
