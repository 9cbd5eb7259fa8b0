"""The month before the day."""
