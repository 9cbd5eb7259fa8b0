"""What comes free over time, and how fast: nitrogen, phosphorus, lime, sulfur."""
