"""Last year's soil: looked at, judged, renewed."""
