"""Plans for tests of the core, said in few words."""

from dataclasses import replace

from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from pelk.core.materials.measures import DoseUnit
from pelk.core.plans.plan import Batch, Dose, Part, Plan
from pelk.core.release.organic_nitrogen import OrganicN, ReleaseClass
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import heap_of

G_PER_L = DoseUnit("g/L", "mass", 1.0, 1.0)
GRAMS = DoseUnit("g", "mass", 1.0)
KILOS = DoseUnit("kg", "mass", 1000.0)
HANDFUL = DoseUnit("handful", "volume", 0.050, None, 0.6, 1.6)
TBSP_PER_GAL = DoseUnit("tbsp/gal", "volume", 0.01478676478125, 3.785411784)

# A mix with one straight charge curve: 25 meq/L for each pH.
STRAIGHT = Heap(components=(), curve=((2.0, -100.0), (10.0, 100.0)))


def plan(parts, doses=(), crop="fruiting", litres=100.0, **batch):
    """Return a plan; doses are (slug, amount) in g/L or (slug, amount, unit[, per])."""
    rows = []
    for slug, amount, *rest in doses:
        unit = rest[0] if rest else G_PER_L
        per = rest[1] if len(rest) > 1 else None
        rows.append(Dose(material=slug, amount=amount, unit=unit, per=per))
    wanted = Batch(**batch) if batch else Batch(volume_l=litres)
    return Plan(
        name="Test",
        crop=crop,
        batch=wanted,
        parts=tuple(Part(material=slug, parts=n) for slug, n in parts.items()),
        doses=tuple(rows),
    )


def worked(parts, doses=(), **more):
    """Return the evaluation of such a plan."""
    return evaluate(plan(parts, doses, **more), library())


def caution_ids(evaluation):
    """Return the ids of the cautions that fired."""
    return {caution.id for caution in evaluation.cautions}


def heap(parts, doses=None, **more):
    """Return the heap of parts and {slug: g/L}, with no blending loss unless given."""
    shelf, total = library(), sum(parts.values())
    return heap_of(
        [(shelf[slug], n / total) for slug, n in parts.items()],
        [(shelf[slug], rate) for slug, rate in (doses or {}).items()],
        **more,
    )


def mineral_only(got):
    """Return a heap in which nothing rots: lime, sulfur, water and acids alone."""
    return replace(got, nitrogen=(), apatites=())


def one_pool(mmol_l, rate, excess_meq_l=0.0):
    """Return organic nitrogen that rots at one rate and leaves no carbon behind."""
    release = ReleaseClass(1, rate, 0, 0, 22.5, 36, False, 0.2)
    return OrganicN("one pool", mmol_l * 14.007, 0, 0, 0, release, excess_meq_l)
