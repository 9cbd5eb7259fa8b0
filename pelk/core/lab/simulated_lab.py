"""A laboratory that is not there: a made-up report of a made-up lot, for the demo.

Draws a lot from the spans of a material and writes what a laboratory would print. It
is invented from beginning to end, and says so in its first line.
"""

from math import log

import numpy as np

from pelk.core.base.elements import element_in_oxide
from pelk.core.base.rounding import sig
from pelk.core.materials.facts import spread_of
from pelk.core.materials.material import Material, Range

SAYS = "# Simulated laboratory, invented numbers: for practice, never for a real mix"
DAYS_TO_REPORT = 9
# Eight lots in ten between low and high; a measurement of one is good to 3 %.
TEN_PERCENT_POINT, ASSAY = 1.2816, 0.03
PRINTED = {
    "N": "Total N",
    "P": "P2O5",
    "K": "K2O",
    "Ca": "CaO",
    "Mg": "MgO",
    "S": "S",
    "Na": "Na",
    "Cl": "Cl",
}


def report_text(material: Material, lot: np.random.Generator, sample: str, dated: str) -> str:
    """Return a report of one lot as CSV.

    Parameters
    ----------
    material : Material
        What was sent.
    lot : numpy.random.Generator
        Seeded by the sample: the same sample is always the same lot.
    sample, dated : str
        As they are printed.

    Returns
    -------
    str
        Lines of name, value, unit and basis; the first line says it is invented.
    """
    moisture = material.moisture_pct
    dry = 1 - moisture / 100 if moisture is not None else 1.0
    basis = "dry" if moisture is not None else "fresh"
    lines = [SAYS, f"Sample: {sample}", f"Date: {dated}", "analyte,value,unit,basis"]
    if moisture is not None:
        lines.append(f"Dry matter,{100 * dry:.1f},%,")
    for element, printed in PRINTED.items():
        content = material.composition.get(element)
        if content is None or content.typ <= 0:
            continue
        oxide = element_in_oxide(printed) if printed in ("P2O5", "K2O", "CaO", "MgO") else 1
        value = _drawn(content, lot) / dry / oxide
        lines.append(f"{printed},{sig(value, 3)},%,{basis}")
    if material.ph:
        low, typ, high = material.ph.low, material.ph.typ, material.ph.high
        ph = float(lot.normal(typ, (high - low) / 2 / TEN_PERCENT_POINT))
        lines.append(f"pH (1:5),{min(max(ph, low - 0.5), high + 0.5):.1f},,")
    if material.ec:
        lines.append(f"EC (1:5),{1000 * _drawn(material.ec, lot) / 5.4:.0f},uS/cm,")
    if material.density:
        lines.append(f"Bulk density,{1000 * _drawn(material.density, lot):.0f},g/L,")
    return "\n".join(lines) + "\n"


def _drawn(span: Range, lot: np.random.Generator) -> float:
    """Return a value of a lot, measured once."""
    if not 0 < span.low < span.high:
        span = spread_of("N", span.typ, "lab")
    wide = log(span.high / span.low) / 2 / TEN_PERCENT_POINT
    true = span.typ * float(np.exp(lot.normal(0, wide)))
    return float(true * lot.normal(1, ASSAY))
