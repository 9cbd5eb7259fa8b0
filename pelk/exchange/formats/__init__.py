"""Open formats as this station reads and writes them."""
