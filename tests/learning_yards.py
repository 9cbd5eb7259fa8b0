"""Simulated yards that learn: hidden true bags, the simulator's own noise, five heaps each."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from pelk.core.materials.library import library
from pelk.core.materials.material import Material, Taught
from pelk.core.materials.taught import OF_THE_LOT, USUAL_SD, Estimate, Factor, learned_of
from pelk.core.simulation.calibration import PhReading, calibrate
from pelk.core.simulation.ensemble import draws_of, ensemble, quantiles
from pelk.core.simulation.evidence import evidence_of
from pelk.core.simulation.initial_state import heap_of, starting_at
from pelk.core.simulation.life import MixedSoil
from pelk.core.simulation.run import LINE_PACE, Surroundings, simulate

WHERE, DAYS, READ_ON = Surroundings(temperature_c=20.0), 60, (7, 14, 28, 42, 60)
LIME = ("lime-dolomitic-ground", 3.0)
PEAT_AND_PERLITE = (("sphagnum-peat-light", 0.75), ("perlite", 0.25))
WITH_COMPOST = (("sphagnum-peat-light", 0.7), ("yard-compost", 0.2), ("perlite", 0.1))
# Two heaps of one delivery, then three of the next.
BAGS = "AABBB"
PEN_SD, NOISE_SD = 0.15, float(np.hypot(0.10, 0.12))


@dataclass(frozen=True, slots=True)
class Foretold:
    """A heap's forecast of mixing day against what came: of its last day. [pH]."""

    heap: int
    width: float
    error: float
    is_inside: bool


def factors_of(slug: str) -> tuple[Factor, ...]:
    """Return what may be off the book of a material here."""
    if slug == LIME[0]:
        return (Factor.LIME,)
    return (Factor.PH, Factor.BUFFER)


def soil_of(shelf: dict[str, Material], parts) -> MixedSoil:
    """Return a mix of what is on a shelf."""
    held = tuple((shelf[slug], share) for slug, share in parts)
    doses = ((shelf[LIME[0]], LIME[1]),)
    heap = heap_of(held, doses)
    return MixedSoil(heap=heap, ingredients=(), parts=held, doses=doses, loss=0.0, mineral=0.0)


def a_yard(rng, parts, heaps: int = 5) -> Iterator[Foretold]:
    """Make heap after heap, read each, learn from it; yield how each was foretold."""
    slugs = [*(slug for slug, _ in parts), LIME[0]]
    keys = [(slug, factor) for slug in slugs for factor in factors_of(slug)]
    kind_sd = float(np.sqrt(1 - OF_THE_LOT**2))
    kinds = {key: rng.normal(0, kind_sd * USUAL_SD[key[1]]) for key in keys}
    pen, seen = rng.normal(0, PEN_SD), {}
    for number in range(heaps):
        bag = BAGS[number]
        if number in (0, BAGS.index("B")):
            bags = {k: x + rng.normal(0, OF_THE_LOT * USUAL_SD[k[1]]) for k, x in kinds.items()}
        true = shelf_with({key: Taught(x, 1e-9) for key, x in bags.items()}, slugs)
        lessons = {key: learned_of(seen.get(key, []), USUAL_SD[key[1]], bag) for key in keys}
        known = shelf_with({k: x.taught for k, x in lessons.items() if x}, slugs)
        hidden = soil_of(true, parts).heap
        run = simulate(hidden, WHERE, DAYS, draws_of(hidden, 2, int(rng.integers(1e6))), LINE_PACE)
        truth = np.interp(np.arange(DAYS + 1), run.edges, run["ph"][:, 1])
        mix = soil_of(known, parts)
        low, middle, high = quantiles(ensemble(mix.heap, WHERE, DAYS), "ph")[:, DAYS]
        yield Foretold(number, high - low, abs(middle - truth[-1]), bool(low <= truth[-1] <= high))
        start, *later = (truth[d] + pen + rng.normal(0, NOISE_SD) for d in (0, *READ_ON))
        readings = [
            PhReading(day=float(d), ph=ph, meter="checked pen")
            for d, ph in zip(READ_ON, later, strict=True)
        ]
        taught = calibrate(starting_at(mix.heap, start), WHERE, readings)
        for row in evidence_of(mix, taught, start, "checked pen"):
            seen.setdefault((row.slug, row.factor), []).append(Estimate(row.value, row.error, bag))


def shelf_with(taught: dict[tuple[str, Factor], Taught], slugs) -> dict[str, Material]:
    """Return the materials of a shelf with what is known of them."""
    shelf = {}
    for slug in slugs:
        own = {factor.value: x for (of, factor), x in taught.items() if of == slug}
        shelf[slug] = replace(library()[slug], taught=own)
    return shelf


def by_heap(parts, yards: int, seed: int = 5, heaps: int = 5) -> list[tuple[float, float, float]]:
    """Return the mean width, mean error and coverage of each heap's forecast over many yards."""
    rng = np.random.default_rng(seed)
    rows = [told for _ in range(yards) for told in a_yard(rng, parts, heaps)]
    means = []
    for number in range(heaps):
        of_it = [(r.width, r.error, r.is_inside) for r in rows if r.heap == number]
        means.append(tuple(float(x) for x in np.mean(of_it, axis=0)))
    return means
