"""Pages of the Bench: one recipe, the book, recipes side by side."""
