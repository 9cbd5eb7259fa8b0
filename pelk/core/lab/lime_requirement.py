"""How much lime a soil wants by its buffer pH or its exchange capacity, as laboratories reckon."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pelk.core.acid_base.buffering import blend_curve, component
from pelk.core.base.elements import CACO3_G_PER_EQ
from pelk.core.base.errors import UnknownError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.lab.report_lines import Reported
from pelk.core.materials.material import Material, Range

TARGETS = (6.0, 6.5, 6.8)
BUFFERS = {"smp": "SMP", "sikora": "Sikora", "mehlich": "Mehlich", "adams-evans": "Adams-Evans"}
# What a buffered soil can read: a buffer itself stands at 6.6 to 8.0.
READS = (3.5, 8.1)
# A short ton on an acre 8 inches deep. [g/L]
TON_ACRE_8_IN_G_L = 1.1032
# Intercept and slope on ten times the buffer pH, tons an acre 8 inches deep.
SMP_TONS = {6.0: (49.3, 0.71), 6.5: (60.4, 0.87), 6.8: (71.4, 1.03)}
# A calibration in another soil is a fifth out, one way or the other.
DOUBT = 0.2
FIELD_FACTOR = 1.5
MEHLICH_PH = 6.6


@dataclass(frozen=True, slots=True)
class LimeNeed:
    """Lime for one target by one method.

    Attributes
    ----------
    by : str
        The method, as said.
    caco3_g_l : Range
        Pure calcium carbonate in a litre of soil. [g/L]
    how : str
        The sum in words.
    """

    by: str
    target_ph: float
    caco3_g_l: Range
    how: str


def buffer_of(name: str) -> str | None:
    """Return which buffer a row names: a key of `BUFFERS`, empty when unnamed, None for no buffer.

    Parameters
    ----------
    name : str
        As the report prints it, such as "SMP buffer pH".
    """
    plain = re.sub(r"[^a-z]", "", name.lower())
    if "limetestindex" in plain or plain in ("lti", "smp", "smpph"):
        return "smp"
    if "buffer" not in plain and plain not in ("bph", "phb"):
        return None
    for key in ("sikora", "mehlich", "smp"):
        if key in plain:
            return key
    return "adams-evans" if "adams" in plain or plain.startswith("ae") else ""


@cites("arithmetic", "an index is ten times its pH")
def buffer_ph(row: Reported) -> float:
    """Return the buffer pH of a row: an index is ten times it.

    Parameters
    ----------
    row : Reported
        Of a buffer.

    Returns
    -------
    float
        Read in the buffer. [pH]

    Raises
    ------
    UnknownError
        For what no buffer reads.
    """
    ph = row.value / 10 if row.value > 10 else row.value
    if not READS[0] <= ph <= READS[1]:
        raise UnknownError(
            f"no buffer reads {row.value:g}: a buffer pH is {READS[0]} to {READS[1]}"
        )
    return ph


@cites("smp1961", "SMP buffer: tons an acre by ten times the buffer pH")
@answers
def by_smp(ph: float, read_ph: float, target_ph: float) -> Range:
    """Return lime by the SMP buffer, or one made to read as it. [g/L].

    Parameters
    ----------
    ph, read_ph : float
        Of the soil in water and of the soil in the buffer.
    target_ph : float
        One of `TARGETS`.

    Returns
    -------
    Range
        Pure calcium carbonate. [g/L]

    Raises
    ------
    UnknownError
        For another target.
    """
    if target_ph not in SMP_TONS:
        raise UnknownError("SMP is tabled to pH 6.0, 6.5 and 6.8 alone")
    start, slope = SMP_TONS[target_ph]
    tons = 0.0 if ph >= target_ph else max(start - slope * 10 * read_ph, 0.0)
    grams = tons * TON_ACRE_8_IN_G_L
    return Range(grams * (1 - DOUBT), grams, grams * (1 + DOUBT))


@cites("mehlich1976", "acidity by the Mehlich buffer, meq in 100 cm3")
@answers
def by_mehlich(ph: float, read_ph: float, target_ph: float) -> Range:
    """Return lime by the Mehlich buffer: the charge alone to what a field is given. [g/L].

    Parameters
    ----------
    ph, read_ph : float
        Of the soil in water and of the soil in the buffer.
    target_ph : float
        Below 6.6, at which the buffer itself stands.
    """
    if ph >= min(target_ph, MEHLICH_PH):
        return Range(0.0, 0.0, 0.0)
    acid = max(MEHLICH_PH - read_ph, 0.0) / 0.25
    share = min((target_ph - ph) / (MEHLICH_PH - ph), 1.0)
    charge = acid * share * CACO3_G_PER_EQ / 100
    field = acid * share * TON_ACRE_8_IN_G_L
    return Range(charge, (charge + field) / 2, field)


@cites("adams1962", "hydrogen saturation by pH, and acidity by the Adams-Evans buffer")
@answers
def by_adams_evans(ph: float, read_ph: float, target_ph: float, dry_kg_l: float) -> Range:
    """Return lime by the Adams-Evans buffer. [g/L].

    Parameters
    ----------
    ph, read_ph : float
        Of the soil in water and of the soil in the buffer.
    target_ph : float
    dry_kg_l : float
        Dry soil in a litre. [kg/L]
    """
    held = hydrogen_share(ph)
    capacity = 8 * max(8.0 - read_ph, 0.0) / held if held else 0.0
    return _of_capacity(capacity, ph, target_ph, dry_kg_l)


@cites("adams1962", "hydrogen saturation by pH")
@answers
def by_capacity(ph: float, cec_meq_100g: float, target_ph: float, dry_kg_l: float) -> Range:
    """Return lime by exchange capacity: the hydrogen a soil of it holds at each pH. [g/L].

    Parameters
    ----------
    ph, target_ph : float
    cec_meq_100g : float
        Exchange capacity. [meq/100 g]
    dry_kg_l : float
        Dry soil in a litre. [kg/L]
    """
    return _of_capacity(cec_meq_100g, ph, target_ph, dry_kg_l)


@cites("adams1962", "hydrogen saturation by pH")
@answers
def hydrogen_share(ph: float) -> float:
    """Return what share of its exchange places a soil fills with acid at a pH, by Adams and Evans.

    ``pH = 7.79 - 5.55 H + 2.27 H^2``, solved for H from 0 to 1.

    Parameters
    ----------
    ph : float
        Of the soil in water. [pH]

    Returns
    -------
    float
        Held by acid. [-]
    """
    inside = 5.55**2 - 4 * 2.27 * (7.79 - ph)
    return float(np.clip((5.55 - np.sqrt(max(inside, 0.0))) / (2 * 2.27), 0.0, 1.0))


def _of_capacity(capacity: float, ph: float, target_ph: float, dry_kg_l: float) -> Range:
    acid = capacity * max(hydrogen_share(ph) - hydrogen_share(target_ph), 0.0)
    grams = acid * 10 * dry_kg_l * CACO3_G_PER_EQ / 1000
    return Range(grams, grams * (1 + FIELD_FACTOR) / 2, grams * FIELD_FACTOR)


@cites("pelk", "its own buffer curve of the soil, from its pH to the target")
def by_pelk(material: Material, ph: float, target_ph: float) -> Range | None:
    """Return lime by Pelk's own buffer capacity of a soil; None when it is not known. [g/L].

    Parameters
    ----------
    material : Material
    ph : float
        As the report reads it.
    target_ph : float
    """
    if material.buffer is None or not material.buffer.typ:
        return None
    curve = blend_curve([component(replace(material, ph=Range(ph, ph, ph)), 1.0)])
    grams = max(curve.base_at(target_ph) - curve.base_at(ph), 0.0) * CACO3_G_PER_EQ / 1000
    spread = material.buffer
    return Range(grams * spread.low / spread.typ, grams, grams * spread.high / spread.typ)


def lime_needs(
    material: Material, ph: float, buffers: Sequence[tuple[str, float]], cec_meq_100g: float | None
) -> list[LimeNeed]:
    """Return the lime a soil wants by every method a report allows, Pelk's own last.

    Parameters
    ----------
    material : Material
        What the sample is of; its dry weight turns weight to litres.
    ph : float
        In water, of the report.
    buffers : sequence of (str, float)
        A key of `BUFFERS` and the pH read in it.
    cec_meq_100g : float, optional

    Returns
    -------
    list of LimeNeed
        By target, lowest first; empty when the report has no buffer and no capacity.
    """
    dry_kg_l = _dry(material)
    needs = []
    for target in TARGETS:
        for key, read in buffers:
            if (range_ := _by_buffer(key, ph, read, target, dry_kg_l)) is not None:
                said = f"the soil at pH {ph:g}, in the buffer {read:g}"
                needs.append(LimeNeed(f"{BUFFERS[key]} buffer", target, range_, said))
        if cec_meq_100g is not None and dry_kg_l:
            range_ = by_capacity(ph, cec_meq_100g, target, dry_kg_l)
            said = f"the acid that {cec_meq_100g:g} meq/100 g hold at pH {ph:g} and no more there"
            needs.append(LimeNeed("Exchange capacity", target, range_, said))
        if needs and (own := by_pelk(material, ph, target)) is not None:
            said = (
                f"its buffer capacity, {material.buffer.typ:g} meq/L a pH"
                if material.buffer
                else ""
            )
            needs.append(LimeNeed("Pelk", target, own, said))
    return needs


def _by_buffer(
    key: str, ph: float, read: float, target: float, dry_kg_l: float | None
) -> Range | None:
    if key in ("smp", "sikora"):
        return by_smp(ph, read, target)
    if key == "mehlich":
        return by_mehlich(ph, read, target) if target < MEHLICH_PH else None
    return by_adams_evans(ph, read, target, dry_kg_l) if dry_kg_l else None


def _dry(material: Material) -> float | None:
    if material.density is None:
        return None
    return material.density.typ * (1 - (material.moisture_pct or 0.0) / 100)
