"""What a material is for, what else does the same job, and what changes with it."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from pelk.core.acid_base.acids import excess_base_of
from pelk.core.acid_base.contributions import lasting_meq_per_g
from pelk.core.base.elements import CACO3_G_PER_EQ, SULFUR_MEQ_PER_G
from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.totals import concentration_mg_l
from pelk.core.release.nitrogen_curves import nitrogen_released
from pelk.core.vessels.structure import Structure, structure_of

# Where two materials are set side by side: a warm month, a pot of common height.
BESIDE_C, BESIDE_DAYS, BESIDE_CM = 20.0, 30, 15.0
ORGANIC = {
    "check": "ask your certifier",
    "not-permitted": "not permitted",
    "raw-manure-rule": "by the raw manure rule",
}
# An element that comes along is told when it differs by this much. [g/kg], [-]
CLEARLY_G, CLEARLY_MORE = 4.0, 1.4
# A content counts as what a feed is bought for from here on. [%]
WORTH_BUYING = {"N": 3.0, "P": 3.0, "K": 5.0, "Ca": 15.0, "Mg": 6.0}
HOLDERS = frozenset(["peat", "coir", "wood", "bark"])
LIMES = frozenset(["lime", "ash"])
# A bark or chip that holds less water than this is there for air. [L/L]
HOLDS_WATER = 0.40
FOOD = frozenset(["compost", "castings", "manure"])
NAMES = {"N": "nitrogen", "P": "phosphorus", "K": "potassium", "Ca": "calcium", "Mg": "magnesium"}


@dataclass(frozen=True, slots=True)
class Job:
    """What something is bought for.

    Attributes
    ----------
    name : str
        As in "what does the same job: ...".
    unit : str
        What is counted to compare.
    per_kg : float or None
        How much of that a kilogram brings; None where a litre stands for a litre.
    """

    key: str
    name: str
    unit: str
    per_kg: float | None


AIR = Job("air", "brings air", "L", None)


def job_of(material: Material) -> Job:
    """Return what a material is for.

    Parts stand litre for litre; limes and acidifiers count by charge, feeds by the
    element they are richest in beside what is worth buying.
    """
    if material.role in ("bulk", "mulch"):
        return _job_of_part(material)
    if material.family in LIMES and material.cce:
        return Job("lime", "raises pH", "kg of lime (CaCO3)", material.cce.typ / 100)
    if material.acidity_role in ("sulfur", "strong_acid"):
        acid = -lasting_meq_per_g(material, 0.0) / SULFUR_MEQ_PER_G
        if acid > 0:
            return Job("acid", "lowers pH", "kg of sulfur (acidity)", acid)
    worth = {
        element: content.typ / WORTH_BUYING[element]
        for element in WORTH_BUYING
        if (content := material.composition.get(element)) is not None
    }
    best = max(worth, key=lambda e: worth[e], default="")
    if best and worth[best] >= 1:
        grams = material.composition[best].typ * 10
        return Job(best, f"brings {NAMES[best]}", f"g of {NAMES[best]}", grams)
    return Job(
        material.family, f"belongs to the {material.family.replace('-', ' ')} materials", "kg", 1.0
    )


def _job_of_part(material: Material) -> Job:
    if material.role == "mulch":
        return Job("mulch", "covers the soil", "L", None)
    if material.family in HOLDERS:
        held = _structure(material)
        if held is not None and held.container_capacity < HOLDS_WATER:
            return AIR
        return Job("holder", "holds water", "L", None)
    if material.family in FOOD:
        return Job("food", "brings food and life", "L", None)
    if material.family == "mineral-aggregate":
        return AIR
    return Job(
        material.family, f"belongs to the {material.family.replace('-', ' ')} materials", "L", None
    )


@dataclass(frozen=True, slots=True)
class Change:
    """One property, of the material and of what takes its place.

    Attributes
    ----------
    name : str
        The property, or the element that comes with it.
    by_g : float
        For an element: grams more (+) or less (-) for a kilogram; else 0. [g/kg]
    """

    name: str
    was: str
    now: str
    by_g: float = 0.0


@dataclass(frozen=True, slots=True)
class Substitute:
    """Something that does the same job.

    Attributes
    ----------
    for_one : float
        Of it, for one of the material: kg for kg, litre for litre. [-]
    changes : tuple of Change
        What is different then.
    """

    material: Material
    for_one: float
    changes: tuple[Change, ...]


@cites("arithmetic", "as much of the job as one kilogram does")
def substitutes(material: Material, others: Iterable[Material]) -> list[Substitute]:
    """Return what does the same job, the least changed first.

    Parameters
    ----------
    material : Material
        To be replaced.
    others : iterable of Material
        To choose from.

    Returns
    -------
    list of Substitute
        How much stands for one, and what changes.
    """
    job, rows = job_of(material), []
    for other in others:
        same = job_of(other)
        if other.slug == material.slug or same.key != job.key:
            continue
        if material.share_max_pct != 0 and other.share_max_pct == 0:
            continue
        times = 1.0
        if job.per_kg and same.per_kg:
            times = job.per_kg / same.per_kg
        rows.append(Substitute(other, times, changes(material, other, times)))
    return sorted(rows, key=lambda s: (len(s.changes), s.material.name))


def changes(material: Material, other: Material, for_one: float) -> tuple[Change, ...]:
    """Return what is different with `for_one` of another in place of one of a material."""
    pairs = [(name, told(material, 1.0), told(other, for_one)) for name, told in _TOLD.items()]
    brings = _brings(material, other, for_one)
    if material.role == "bulk":
        pairs = [(n, tell(material), tell(other)) for n, tell in _TOLD_OF_PARTS.items()]
        brings = []
    pairs.append(("from", material.origin, other.origin))
    pairs.append(("for organic growing", _organic(material), _organic(other)))
    differ = [Change(n, a, b) for n, a, b in pairs if a != b and a and b]
    return (*differ, *brings)


def _organic(material: Material) -> str:
    status = material.organic.split(":")[0]
    return ORGANIC.get(status, status)


def _brings(material: Material, other: Material, for_one: float) -> list[Change]:
    """Return the elements of which something else brings clearly more or less."""
    job, changes = job_of(material).key, []
    for element, name in NAMES.items():
        held, theirs = (m.composition.get(element) for m in (material, other))
        if held is None or theirs is None or element == job:
            continue
        was, now = 10 * held.typ, 10 * theirs.typ * for_one
        if abs(now - was) >= CLEARLY_G and max(now, was) > CLEARLY_MORE * min(now, was):
            changes.append(Change(name, f"{was:.0f} g", f"{now:.0f} g", now - was))
    return changes


def _month(material: Material, times: float) -> str:
    """Say how much of the nitrogen comes within a warm month."""
    share = nitrogen_released(material, [BESIDE_C] * BESIDE_DAYS)
    if share is None or material.composition["N"].typ < WORTH_BUYING["N"] / 2:
        return ""
    tens = round(10 * float(share[-1]))
    return f"{10 * tens} % in 30 days"


def _charge(material: Material, times: float) -> str:
    """Say what it leaves behind in acid or base once it has worked."""
    nitrogen = material.composition.get("N")
    free = 0.0
    if nitrogen and (share := nitrogen_released(material, [BESIDE_C] * 120)) is not None:
        free = concentration_mg_l(1.0, nitrogen.typ) * float(share[-1])
    meq = times * lasting_meq_per_g(material, free)
    if not meq and material.role == "dose":
        meq = times * excess_base_of(material) / 1000
    lime = meq * CACO3_G_PER_EQ / 10  # kg CaCO3 for 100 kg
    if abs(lime) < 5:
        return "hardly moves pH"
    strength = "strongly " if abs(lime) > 60 else ""
    return f"{strength}{'base' if lime > 0 else 'acid'}"


def _pace(material: Material, times: float) -> str:
    """Say when an acidifier is felt."""
    paces = {"sulfur": "over months", "strong_acid": "at once"}
    return paces.get(material.acidity_role, "")


def _salty(material: Material, times: float) -> str:
    sodium, chloride = (material.composition.get(e) for e in ("Na", "Cl"))
    if sodium is None and chloride is None:
        return ""
    grams = times * 10 * sum(c.typ for c in (sodium, chloride) if c)
    return "much salt" if grams > 30 else "some salt" if grams > 8 else "little salt"


_TOLD: dict[str, Callable[[Material, float], str]] = {
    "nitrogen comes": _month,
    "pH": _charge,
    "acid comes": _pace,
    "salt": _salty,
}


def _structure(material: Material) -> Structure | None:
    try:
        return structure_of([(material, 1.0)], 0.0, BESIDE_CM)
    except UnknownError:
        return None


def _air(material: Material) -> str:
    held = _structure(material)
    air = held.total_porosity - held.container_capacity if held else 0.0
    return f"{100 * air:.0f} %" if held else ""


def _water(material: Material) -> str:
    held = _structure(material)
    return f"{100 * held.container_capacity:.0f} %" if held else ""


_TOLD_OF_PARTS: dict[str, Callable[[Material], str]] = {
    "air in a 15 cm pot": _air,
    "water held": _water,
    "pH": lambda m: f"{m.ph.typ:.1f}" if m.ph else "",
    "salts": lambda m: f"{m.ec.typ:g} dS/m" if m.ec else "",
    "lime value": lambda m: f"{m.cce.typ:g} %" if m.cce and m.cce.typ else "",
    "weight by volume": lambda m: f"{sig(m.loose_density().typ, 2)} kg/L" if m.density else "",
}
