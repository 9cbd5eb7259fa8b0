"""One append-only record of deeds, written by the services of all stations."""
