"""What is read at the Barrow for the shelf."""

from pelk.barrow.models import Batch
from pelk.bench.selectors import PLACES, uses_of
from pelk.yards.extensions import Need, Place, needs_of_batches, places_of_material
from pelk.yards.models import Yard


@places_of_material.register
def batches_using(yard: Yard, slug: str) -> list[Place]:
    """Return the newest batches that a material went into, twenty at most."""
    batches = Batch.objects.of(yard).live().naming(slug)[:PLACES]
    return [Place(f"{b.code} {b.name}", b.get_absolute_url()) for b in batches]


@needs_of_batches.register
def needs_of_open(yard: Yard) -> list[Need]:
    """Return what the batches still being mixed will take."""
    return [
        Need(f"{b.code} {b.name}", b.get_absolute_url(), uses_of(b.shown))
        for b in Batch.objects.of(yard).live().at_the_barrow()
    ]
