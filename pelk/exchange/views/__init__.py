"""Pages of files in and out."""
