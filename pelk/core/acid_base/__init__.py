"""Acid and base at rest: buffers, acids, water, where charges settle."""
