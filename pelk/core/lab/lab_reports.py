"""A laboratory's report into the facts of a material: names, units, methods, sense.

A report is rows of what the laboratory calls it, a number and a unit. Totals of a
digest become contents; what a soil test or an extract draws out is what a plant can
have, and is marked so.
"""

from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace

from pelk.core.base.elements import ATOMIC_MASS, element_in_oxide
from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.lab.lime_requirement import BUFFERS, buffer_of, buffer_ph
from pelk.core.lab.report_lines import Reported
from pelk.core.lab.report_names import (
    CAPACITIES,
    CONDUCTIVITIES,
    DENSITIES,
    EQUIVALENTS,
    EXTRACTS,
    ION,
    NAMES,
    VALENCE,
    WEIGHTS,
    key_of,
)
from pelk.core.materials.facts import fact, value_of
from pelk.core.materials.material import Material
from pelk.core.salts.salts import METHODS as EC_METHODS
from pelk.core.salts.salts import PASTE_L_L, RETARDATION, as_saturated_extract, extract_share

METHODS = {
    "total": "totals of a digest: compost, manure, meal",
    "soil": "a soil test: what an extract draws from dry soil",
    "sme": "saturated media extract, mg in a litre of extract",
}
BASES = {"dry": "of the dry matter", "fresh": "as received"}
# Organic matter holds carbon: half in composts, 58 % in soils.
CARBON_IN_ORGANIC_MATTER = {"total": 0.50, "soil": 0.58, "sme": 0.50}
# This much outside the usual span is asked about.
UNLIKELY = 2.5
# Two values for one thing within so much are one.
SAME = 0.01
DECIMAL_SLIPS = (0.1, 10.0, 0.01, 100.0, 0.001, 1000.0)

FOR_LIME = "for the lime below"


@dataclass(frozen=True, slots=True)
class Mapped:
    """One fact that a report gives, beside what was known.

    Attributes
    ----------
    state : str
        ``good``, ``unlikely``, ``impossible``, ``unknown`` (not mapped) or ``aside``
        (read, and of no use here).
    value : float or None
        In the fact's unit.
    usable : bool
        Drawn out by an extract: what a plant can have.
    mends : tuple of float
        Values it may have been, were the point slipped.
    how : str
        What was done to the number.
    buffers : tuple of str
        Of a buffer pH without a name: which it may be.
    """

    row: Reported
    fact: str
    state: str
    value: float | None = None
    usable: bool = False
    how: str = ""
    why: str = ""
    mends: tuple[float, ...] = ()
    buffers: tuple[str, ...] = ()


@cites("trade", "an acre of plough layer is taken for two million pounds")
@cites("cavins", "readings of dilutions to the saturated extract")
@cites("pelk", "organic matter is half carbon, 58 % in soils")
def mapped(
    rows: Sequence[Reported],
    material: Material,
    method: str,
    *,
    basis: str = "dry",
    ec_method: str = "1:5",
) -> list[Mapped]:
    """Return what a report says of a material, in the material's own terms.

    Parameters
    ----------
    rows : sequence of Reported
        As read.
    material : Material
        What the sample was taken of.
    method : str
        A key of `METHODS`.
    basis : str
        ``dry`` or ``fresh``, where a row does not say.
    ec_method : str
        Of a conductivity: ``sme``, ``1:2``, ``1:5``, ``pour-through``.

    Returns
    -------
    list of Mapped
        One for each row; ammonium and nitrate are joined into one fact.

    Raises
    ------
    PelkError
        For an unknown method.
    """
    allowed: dict[str, tuple[str, Iterable[str]]] = {
        "method": (method, METHODS),
        "basis": (basis, BASES),
        "ec_method": (ec_method, EC_METHODS),
    }
    for name, (given, known) in allowed.items():
        if given not in {*known}:
            raise PelkError(f"found {given!r}, allowed: {', '.join(known)}", name)
    reader = _Reader(rows, material, method, basis, ec_method)
    facts = [reader.map(row) for row in rows]
    return _once(reader.joined(facts))


def _once(facts: Sequence[Mapped]) -> list[Mapped]:
    """Ask which of two values for one thing counts; the same twice stands once."""
    by_fact: dict[str, list[int]] = {}
    for i, each in enumerate(facts):
        if each.fact and each.value is not None and each.fact not in ION:
            by_fact.setdefault(each.fact, []).append(i)
    asked = list(facts)
    for places in by_fact.values():
        first = facts[places[0]].value or 0.0
        for i in places[1:]:
            if abs((facts[i].value or 0.0) - first) <= SAME * abs(first):
                asked[i] = replace(facts[i], fact="", state="aside", why="the same as above")
        left = [i for i in places if asked[i].fact]
        if len(left) < 2:
            continue
        lines = " and ".join(str(facts[i].row.line) for i in left)
        for i in left:
            why = f"lines {lines} give different values for one thing: keep one, leave the other"
            asked[i] = replace(facts[i], state="unlikely", why=why)
    return asked


class _Reader:
    """Maps the rows of one report; knows its moisture and what it weighs."""

    def __init__(
        self, rows: Sequence[Reported], material: Material, method: str, basis: str, ec_method: str
    ) -> None:
        self.material, self.method = material, method
        self.basis, self.ec_method = basis, ec_method
        self.moisture = material.moisture_pct
        self.density = material.density.typ if material.density else None
        for row in rows:
            target = NAMES.get(key_of(row.name), ("", ""))[0]
            if target == "dry":
                self.moisture = 100 - row.value
            elif target == "moisture_pct":
                self.moisture = row.value
            elif target == "density" and (factor := DENSITIES.get(row.unit)):
                self.density = row.value * factor

    def map(self, row: Reported) -> Mapped:
        """Return what one row gives."""
        if row.problem:
            return Mapped(row, "", "unknown", why=row.problem)
        target, form = NAMES.get(key_of(row.name), ("", ""))
        if form == "derived":
            return Mapped(row, "", "aside", why="follows from carbon and nitrogen")
        if (buffer := buffer_of(row.name)) is not None:
            return _of_buffer(row, buffer)
        if key_of(row.name) in CAPACITIES:
            known = row.unit in EQUIVALENTS
            why = FOR_LIME if known else "an exchange capacity is in meq/100 g or cmol/kg"
            return Mapped(row, "", "aside" if known else "unknown", why=why)
        if not target:
            return Mapped(row, "", "unknown", why=f"{row.name!r} is not an analysis Pelk knows")
        try:
            value, how, usable = self._value(row, target, form)
        except PelkError as error:
            return Mapped(row, target, "unknown", why=error.message)
        key = "moisture_pct" if target == "dry" else target
        if target in ION:
            return Mapped(row, target, "good", value, usable, how)
        return self._judged(Mapped(row, key, "good", value, usable, how))

    def _value(self, row: Reported, target: str, form: str) -> tuple[float, str, bool]:
        if target == "ph":
            return row.value, "as is", False
        if target == "ec":
            factor = _factor(CONDUCTIVITIES, row, "dS/m, mS/cm, µS/cm")
            read = as_saturated_extract(row.value * factor, self.ec_method)
            return read, f"from {self.ec_method} to the saturated extract", False
        if target == "density":
            return (row.value * _factor(DENSITIES, row, "g/L, kg/m3, lb/yd3"), "as is", False)
        if target in ("moisture_pct", "dry"):
            _factor({"%": 1.0, "": 1.0}, row, "%")
            turned = 100 - row.value if target == "dry" else row.value
            return (turned, "water is what is not dry" if target == "dry" else "as is", False)
        if target == "cce":
            return row.value * _factor({"%": 1.0, "": 1.0}, row, "%"), "as is", False
        return self._content(row, target, form)

    def _content(self, row: Reported, target: str, form: str) -> tuple[float, str, bool]:
        """Return a content in percent as is."""
        said = []
        element, share = self._element(target, form)
        if share != 1:
            said.append(f"× {share:.2f}")
        if row.unit in EQUIVALENTS:
            if target not in VALENCE:
                raise PelkError("milliequivalents are for K, Ca, Mg and Na")
            mg_kg = row.value * 10 * ATOMIC_MASS[target] / VALENCE[target]
            said.append("from charge to weight")
        elif self.method == "sme":
            factor = _factor(EXTRACTS, row, "mg/L of extract")
            return self._of_extract(row.value * factor * share, element)
        else:
            mg_kg = row.value * _factor(WEIGHTS, row, "%, g/kg, mg/kg, ppm, lb/acre")
            if row.unit.startswith(("lb/a", "lbs/a")):
                said.append("÷ 2 for the weight of an acre")
        is_dry = (row.basis or self.basis) == "dry" or self.method == "soil"
        if is_dry:
            if self.moisture is None:
                raise PelkError("of the dry matter, and the moisture is not known")
            mg_kg *= 1 - self.moisture / 100
            said.append("dry to fresh")
        usable = self.method == "soil" and element in ("P", "K", "Ca", "Mg")
        return mg_kg * share / 1e4, ", ".join(said) or "as is", usable

    def _element(self, target: str, form: str) -> tuple[str, float]:
        if form == "OM":
            return "C", CARBON_IN_ORGANIC_MATTER[self.method]
        if form in ("NH4", "NO3"):
            return target, ATOMIC_MASS["N"] / ION[form]
        if form in ("P2O5", "K2O", "CaO", "MgO", "SO3"):
            return target, element_in_oxide(form)
        return target, 1.0

    def _of_extract(self, mg_l: float, element: str) -> tuple[float, str, bool]:
        if self.density is None:
            raise PelkError("what a litre weighs is not known")
        key = element if element in RETARDATION else "NO3"
        pool = mg_l * PASTE_L_L / extract_share(RETARDATION[key])
        return pool / self.density / 1e4, "from the extract to a litre of mix", True

    def _judged(self, mapped_row: Mapped) -> Mapped:
        held, value = fact(mapped_row.fact), mapped_row.value or 0.0
        try:
            held.quantity.check(value, "")
        except PelkError as error:
            return replace(
                mapped_row,
                state="impossible",
                why=error.message,
                mends=self._mends(mapped_row.fact, value),
            )
        known = value_of(self.material, mapped_row.fact)
        if known is None or held.key == "ph" or not known.high:
            return mapped_row
        times = value / known.typ if known.typ else 1.0
        outside = value > known.high * UNLIKELY or value < known.low / UNLIKELY
        if outside and not mapped_row.usable and held.key != "moisture_pct":
            word = "times what" if times > 1 else "of what"
            said = (
                f"{sig(times, 2)}" if times > 1 else f"1/{sig(1 / times, 2)}" if times else "none"
            )
            return replace(
                mapped_row,
                state="unlikely",
                mends=self._mends(mapped_row.fact, value),
                why=f"{said} {word} {self.material.short_name.lower()} usually holds",
            )
        return mapped_row

    def _mends(self, key: str, value: float) -> tuple[float, ...]:
        """Return what a value may have been with its point slipped, likeliest first."""
        known = value_of(self.material, key)
        if known is None:
            return ()
        low, high = known.low / UNLIKELY, known.high * UNLIKELY
        return tuple(value * s for s in DECIMAL_SLIPS if low <= value * s <= high)[:1]

    def joined(self, facts: list[Mapped]) -> list[Mapped]:
        """Put ammonium and nitrate together as the share of nitrogen free at once."""
        mineral = [m for m in facts if m.fact in ION and m.value is not None]
        if not mineral:
            return facts
        total = next((m.value for m in facts if m.fact == "N" and m.value), None)
        if total is None and (held := self.material.composition.get("N")):
            total = held.typ
        free = sum(m.value or 0.0 for m in mineral)
        first, result = mineral[0], []
        for each in facts:
            if each is first and total:
                good = free <= total
                result.append(
                    replace(
                        each,
                        fact="mineral_n",
                        value=free / total,
                        state="good" if good else "impossible",
                        how="ammonium and nitrate joined, over total nitrogen",
                        why="" if good else "more nitrogen is free than there is in all",
                    )
                )
            elif each.fact in ION:
                result.append(replace(each, fact="", state="aside", why="joined above"))
            else:
                result.append(each)
        return result


def lime_readings(
    rows: Sequence[Reported], named: Mapping[int, str]
) -> tuple[float | None, list[tuple[str, float]], float | None]:
    """Return what a report says of a soil's acidity: pH, buffer readings, exchange capacity.

    Parameters
    ----------
    rows : sequence of Reported
    named : mapping of int to str
        Which buffer an unnamed line was read in, by line.

    Returns
    -------
    tuple
        pH in water or None; (key of `BUFFERS`, pH) of each buffer; meq/100 g or None.
    """
    ph, capacity, buffers = None, None, []
    for row in rows:
        if row.problem:
            continue
        key = buffer_of(row.name)
        key = named.get(row.line, key) if key == "" else key
        if key in BUFFERS:
            with suppress(UnknownError):
                buffers.append((key, buffer_ph(row)))
        elif key is None and key_of(row.name) in CAPACITIES and row.unit in EQUIVALENTS:
            capacity = row.value
        elif key is None and NAMES.get(key_of(row.name), ("", ""))[0] == "ph":
            ph = row.value
    return ph, buffers, capacity


def _of_buffer(row: Reported, buffer: str) -> Mapped:
    try:
        buffer_ph(row)
    except UnknownError as error:
        return Mapped(row, "", "unknown", why=error.message)
    if not buffer:
        why = "which buffer? The report says so at its foot, and each counts differently"
        return Mapped(row, "", "unknown", why=why, buffers=tuple(BUFFERS))
    return Mapped(row, "", "aside", why=FOR_LIME)


def _factor(table: dict[str, float], row: Reported, allowed: str) -> float:
    if row.unit not in table:
        unit = row.unit or "no unit"
        raise PelkError(f"found {unit}, allowed: {allowed}")
    return table[row.unit]
