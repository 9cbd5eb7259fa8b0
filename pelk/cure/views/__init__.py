"""Pages of Cure: heaps and readings, visits, what is due."""

from pelk.cure.views import due, heaps, visits

__all__ = ["due", "heaps", "visits"]
