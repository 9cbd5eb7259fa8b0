"""What is done with pots, and with the soil that comes out of them."""
