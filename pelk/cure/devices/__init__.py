"""Pens and scales: a line protocol, the adapter that speaks it, stand-ins that ship with Pelk."""
