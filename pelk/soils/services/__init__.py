"""What is done to soils."""
