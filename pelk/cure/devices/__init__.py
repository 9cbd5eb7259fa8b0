"""Pens and scales: a line protocol, the adapter that speaks it, and stand-ins that ship with Pelk."""
