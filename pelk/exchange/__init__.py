"""Exchange: open formats in and out."""
