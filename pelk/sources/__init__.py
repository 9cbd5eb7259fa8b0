"""Every work a number rests on, and what rests on it."""
