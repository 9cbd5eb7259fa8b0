"""A heap through time: one stepper for a line and an ensemble."""
