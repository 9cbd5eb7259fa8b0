"""What a plan comes to: the one door, its figures, checks and cautions."""
