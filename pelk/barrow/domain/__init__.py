"""What this station reckons over its rows."""
