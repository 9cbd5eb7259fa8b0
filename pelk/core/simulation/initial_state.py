"""The heap that parts and doses make: its charges, grains, nitrogen, life and water.

Everything is per litre of mixed soil and does not yet know how time goes on.
"""

from collections.abc import Sequence
from dataclasses import replace

from pelk.core.acid_base.acids import WEAK, excess_base_of
from pelk.core.acid_base.buffering import FINE_GRAIN_MM, Component, blend_curve, component
from pelk.core.base.elements import SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.taught import Factor, doubt_of, times_of
from pelk.core.materials.totals import concentration_mg_l
from pelk.core.release.grains import lime_grade_of, sulfur_grades
from pelk.core.release.microbes import live_share
from pelk.core.release.organic_nitrogen import OrganicN, organic_n, release_class_of
from pelk.core.release.phosphorus import phosphorus_classes
from pelk.core.simulation.heap import Apatite, Doubt, Heap, Solid, SulfurGrains

# Of a rock dust's base what comes free in a year, and its base over calcite's. [-]
SILICATE_PER_YEAR = 0.02
SILICATE_CCE = {"basalt-dust": 0.40, "volcanic-rock-dust": 0.30, "glacial-rock-dust": 0.25}
INHIBITOR_G_L, INHIBITED_DAYS, INHIBITED = 1.0, 30.0, 0.7
WOODY_CLASSES = frozenset(["peat", "bark_aged", "bark_chunk", "wood_chip", "wood_raw"])


def heap_of(
    parts: Sequence[tuple[Material, float]],
    doses: Sequence[tuple[Material, float]],
    loss: float = 0.0,
    *,
    capacity: float = 0.55,
    porosity: float = 0.85,
    litres: float = 60.0,
    inoculum: float | None = None,
    contact: float = 1.0,
    on_top: bool = False,
) -> Heap:
    """Return the heap that parts and doses make.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Bulk materials with their shares of loose volume. [-]
    doses : sequence of (Material, float)
        Doses with their rates per litre of mixed soil. [g/L]
    loss : float
        Share of loose volume lost on blending. [-]
    capacity, porosity : float
        Container capacity and total porosity. [L/L]
    litres : float
        Size of the heap. [L]
    inoculum : float, optional
        What the grower says of its life, in place of what the parts bring. [-]
    contact : float
        Share of a lime's surface that mixing reaches: 1 turned, 0.5 tilled, 0.1 on top. [-]
    on_top : bool
        The doses are spread on the surface.

    Returns
    -------
    Heap
        Per litre of mixed soil.

    Raises
    ------
    UnknownError
        When a part's pH or buffer capacity was never measured.
    """
    per_litre = 1 / (1 - loss)
    pieces = [(m, x * per_litre) for m, x in parts]
    for material, rate in doses:
        if material.acidity_role == "bulk":
            pieces.append((material, rate / 1000 / material.loose_density().typ))
    components = tuple(component(m, x) for m, x in pieces)
    brought = _Doses(doses, contact, on_top)
    carbonates = [
        _carbonate(i, c, m)
        for i, ((m, _), c) in enumerate(zip(pieces, components, strict=True))
        if c.carbonate_meq
    ]
    nitrogen = [organic_n(m, 1000 * x * m.loose_density().typ, is_bulk=True) for m, x in pieces]
    nitrogen += brought.nitrogen
    shares = sum(x for m, x in parts if m.release_class in WOODY_CLASSES)
    live = live_share(parts) if inoculum is None else inoculum
    microbes = sum(x * m.sulfur_microbes for m, x in parts)
    return Heap(
        components=components,
        solids=(*carbonates, *brought.solids),
        sulfurs=tuple(brought.sulfurs),
        apatites=(*_apatites(pieces), *brought.apatites),
        nitrogen=tuple(n for n in nitrogen if n is not None),
        strong=tuple(brought.strong),
        weak=tuple(brought.weak),
        silicate_meq_l=brought.silicate,
        inoculum=live,
        sulfur_microbes=microbes if inoculum is None else inoculum,
        capacity=capacity,
        porosity=porosity,
        litres=litres,
        is_woody=shares >= 0.5,
        inhibited_days=brought.inhibited,
        doubt=Doubt(
            _mean_doubt(brought.lime_doubts),
            _mean_doubt(brought.sulfur_doubts),
            _mean_doubt(
                [
                    (c.litres * c.carbonate_meq, doubt_of(m, Factor.CARBONATE))
                    for c, (m, _) in zip(components, pieces, strict=True)
                ]
            ),
        ),
    )


def _mean_doubt(weighed: Sequence[tuple[float, float]]) -> float:
    """Return the mean of some doubts by what each of them is of; the usual without any."""
    whole = sum(weight for weight, _ in weighed)
    return sum(weight * doubt for weight, doubt in weighed) / whole if whole > 0 else 1.0


def with_doses(
    heap: Heap,
    doses: Sequence[tuple[Material, float]],
    *,
    day: float = 0.0,
    contact: float = 1.0,
    on_top: bool = False,
) -> Heap:
    """Return a heap with more lime, sulfur or acid put in on a day.

    Parameters
    ----------
    heap : Heap
        As it is.
    doses : sequence of (Material, float)
        What goes in; nitrogen of doses after mixing day is not followed. [g/L]
    day : float
        When. [d]
    contact : float
        Share of a lime's surface that mixing reaches. [-]
    on_top : bool
        Spread on the surface.

    Returns
    -------
    Heap
        The same, dosed.
    """
    brought = _Doses(doses, contact, on_top)
    nitrogen = tuple(n for n in brought.nitrogen if n is not None) if day == 0 else ()
    return replace(
        heap,
        solids=(*heap.solids, *(replace(s, day=s.day + day) for s in brought.solids)),
        sulfurs=(*heap.sulfurs, *(replace(s, day=day) for s in brought.sulfurs)),
        apatites=(*heap.apatites, *brought.apatites),
        nitrogen=(*heap.nitrogen, *nitrogen),
        strong=(*heap.strong, *((day, acid) for _, acid in brought.strong)),
        weak=(*heap.weak, *((day, name, amount) for _, name, amount in brought.weak)),
        silicate_meq_l=heap.silicate_meq_l + brought.silicate,
    )


def with_buffer(heap: Heap, factor: float) -> Heap:
    """Return a heap whose parts all buffer some times as much."""
    return replace(
        heap,
        components=tuple(replace(c, buffer=c.buffer * factor) for c in heap.components),
        curve=tuple((ph, base * factor) for ph, base in heap.curve),
    )


@cites("arithmetic", "the blend's curve, read at the base that acts at once")
def ph_when_mixed(heap: Heap) -> float:
    """Return the pH of a heap on mixing day, before anything has dissolved.

    Parameters
    ----------
    heap : Heap
        As it was mixed.

    Returns
    -------
    float
        On the slurry scale. [pH]
    """
    at_once = sum(n.base_at_once_meq_l for n in heap.nitrogen)
    at_once += heap.start_base_meq_l - sum(a for day, a in heap.strong if day <= 0)
    return float(blend_curve(heap.components).ph_at(at_once))


def starting_at(heap: Heap, ph: float) -> Heap:
    """Return a heap whose parts start at the pH read on mixing day.

    Every part's own pH moves alike until the blend starts there, doses that act at once
    included.

    Parameters
    ----------
    heap : Heap
        As the library knows its parts.
    ph : float
        Read on mixing day, on the slurry scale.

    Returns
    -------
    Heap
        The same, shifted.
    """
    wanted = heap
    for _ in range(3):
        off = ph - ph_when_mixed(wanted)
        moved = tuple(replace(c, ph=c.ph + off) for c in wanted.components)
        solids = tuple(
            s if s.part is None else replace(s, saturation_ph=moved[s.part].saturation_ph)
            for s in wanted.solids
        )
        wanted = replace(wanted, components=moved, solids=solids)
    return wanted


def _carbonate(index: int, held: Component, material: Material) -> Solid:
    grain = material.carbonate_grain_mm or FINE_GRAIN_MM
    return Solid(
        held.litres * held.carbonate_meq,
        ((grain / 4, 0.0), (grain * 2, 100.0)),
        saturation_ph=held.saturation_ph,
        is_lime=False,
        part=index if held.aged else None,
    )


def _apatites(pieces: Sequence[tuple[Material, float]]) -> list[Apatite]:
    rocks = []
    for material, litres in pieces:
        rate = 1000 * litres * material.loose_density().typ
        rocks += _apatite(material, rate)
    return rocks


def _apatite(material: Material, g_per_l: float) -> list[Apatite]:
    release = phosphorus_classes().get(material.phosphorus_class)
    content = material.composition.get("P")
    if release is None or content is None or not release.base_meq_per_mmol:
        return []
    return [Apatite(concentration_mg_l(g_per_l, content.typ), release)]


class _Doses:
    """Sort doses into what each of them does."""

    def __init__(
        self, doses: Sequence[tuple[Material, float]], contact: float, on_top: bool
    ) -> None:
        self.contact = contact
        self.solids: list[Solid] = []
        self.sulfurs: list[SulfurGrains] = []
        self.apatites: list[Apatite] = []
        self.nitrogen: list[OrganicN | None] = []
        self.strong: list[tuple[float, float]] = []
        self.weak: list[tuple[float, str, float]] = []
        self.silicate = self.inhibited = 0.0
        self.lime_doubts: list[tuple[float, float]] = []
        self.sulfur_doubts: list[tuple[float, float]] = []
        for material, rate in doses:
            if material.acidity_role == "bulk":
                continue
            self._acidity(material, rate)
            self.apatites += _apatite(material, rate)
            base = rate / 1000 * excess_base_of(material)
            is_meal = material.acidity_role == "organic_n"
            item = organic_n(
                material, rate, is_bulk=False, base_meq_l=base if is_meal else 0.0, on_top=on_top
            )
            self.nitrogen.append(item)
            if material.release_class == "neem" and rate >= INHIBITOR_G_L:
                self.inhibited = INHIBITED_DAYS

    def _acidity(self, material: Material, rate: float) -> None:
        role = material.acidity_role
        if material.lime_grade and material.cce:
            self._lime(material, rate)
        if role == "sulfur":
            elemental = material.composition.get("S elemental")
            acid = rate * SULFUR_MEQ_PER_G * (elemental.typ if elemental else 0) / 100
            grade = sulfur_grades().get(material.sulfur_grade or "powder")
            pace = times_of(material, Factor.SULFUR)
            sieves = grade or sulfur_grades()["powder"]
            self.sulfurs.append(SulfurGrains(acid, sieves, pace=pace))
            self.sulfur_doubts.append((acid, doubt_of(material, Factor.SULFUR)))
        elif role == "strong_acid" and material.acid_base:
            self.strong.append((0.0, -rate * base_meq_per_g(material.acid_base / 100)))
        elif role == "weak_acid" and material.slug in WEAK:
            acid_name, mmol_g = WEAK[material.slug]
            self.weak.append((0.0, acid_name, rate * mmol_g))

    def _lime(self, material: Material, rate: float) -> None:
        grade = lime_grade_of(material)
        cce = material.cce.typ if material.cce else 0.0
        base = rate * base_meq_per_g(cce / 100)
        self.lime_doubts.append((base, doubt_of(material, Factor.LIME)))
        self.solids.append(
            Solid(
                base,
                grade.passing,
                grade.rate * times_of(material, Factor.LIME),
                grade.contact * self.contact,
                day=grade.delay_days,
            )
        )
        slow = SILICATE_CCE.get(material.slug, 0.0)
        self.silicate += rate * base_meq_per_g(slow)


@cites("arithmetic", "carbon over nitrogen of all that rots, by mass")
def heap_c_to_n(parts_and_doses: Sequence[tuple[Material, float]]) -> float:
    """Return the C:N of a whole mix; carbon that does not rot is left out.

    Parameters
    ----------
    parts_and_doses : sequence of (Material, float)
        Materials with grams in a litre of mix. [g/L]

    Returns
    -------
    float
        Carbon to nitrogen; infinite when nothing brings nitrogen. [-]
    """
    carbon = nitrogen = 0.0
    for material, rate in parts_and_doses:
        content = material.composition.get("N")
        nitrogen += rate * content.typ if content else 0.0
        held = material.composition.get("C")
        if held and release_class_of(material) is not None:
            carbon += rate * held.typ
    return carbon / nitrogen if nitrogen else float("inf")
