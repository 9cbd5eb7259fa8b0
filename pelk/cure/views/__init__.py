"""Pages of Cure: heaps and readings, visits, what is due, two side by side."""
