"""Where the pH of a mix settles once all lime, sulfur and acids have acted.

The time it takes is another question. Meals, ammonium and hard water move the pH
of a pot further; they are named, not counted here.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.acid_base.buffering import CALCITE_PH, BlendCurve, Carbonate, blend_curve
from pelk.core.acid_base.equilibrium import Settled, Z, settle, settled_span
from pelk.core.base.elements import SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.guards import answers
from pelk.core.base.quantities import PH_SETTLED, PH_START
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material

SILICATE = "silicate"
# Doses that bring solid base.
SOLID = ("lime", "rock")


@dataclass(frozen=True, slots=True)
class Action:
    """What one dose does to the charge of the mix in the end.

    Attributes
    ----------
    kind : str
        ``lime``, ``rock`` (the quick part of a dust), ``sulfur``, ``acid``, ``fading`` (an organic
        acid) or ``nitrogen`` (a meal: named, not counted).
    base_meq_l : float
        Base +, acid -; of ``fading`` and ``nitrogen`` the potential. [meq/L]
    """

    material: Material
    g_per_l: float
    kind: str
    base_meq_l: float


@dataclass(frozen=True, slots=True)
class Acidity:
    """The pH of a mix on mixing day and when settled.

    Attributes
    ----------
    rest : Settled
        Without any lime, sulfur or acid.
    band : tuple of float
        What the crop wants. [pH]
    """

    start: Figure
    settled: Figure
    rest: Settled
    end: Settled
    actions: tuple[Action, ...]
    curve: BlendCurve
    band: tuple[float, float]

    def sum_of(self, kind: str) -> float:
        """Return the base of all doses of a kind. [meq/L]."""
        return sum(a.base_meq_l for a in self.actions if a.kind == kind)

    @property
    def verdict(self) -> str:
        """``within`` the band, ``low`` or ``high``, by where it settles."""
        low, high = self.band
        if low <= self.end.ph <= high:
            return "within"
        return "low" if self.end.ph < low else "high"


@cites("iupac2021", "S + 1.5 O2 + H2O gives 2 H+")
@answers
def sulfur_acid(dose_g_l: float, elemental_pct: float) -> float:
    """Return the acid that elemental sulfur makes when all of it has turned.

    Parameters
    ----------
    dose_g_l : float
        Product. [g/L]
    elemental_pct : float
        Elemental sulfur in it; sulfate does not acidify. [%]

    Returns
    -------
    float
        Acid. [meq/L]
    """
    return dose_g_l * elemental_pct / 100 * SULFUR_MEQ_PER_G


@cites("pierre1933", "potential acidity, half the nitrogen counted")
@answers
def lasting_base(dose_g_l: float, acid_base_kg_per_100kg: float) -> float:
    """Return the lasting base of a product by its acid-base value.

    Parameters
    ----------
    dose_g_l : float
        Product. [g/L]
    acid_base_kg_per_100kg : float
        Base +, acid -. [kg CaCO3/100 kg]

    Returns
    -------
    float
        Base +, acid -. [meq/L]
    """
    return dose_g_l * base_meq_per_g(acid_base_kg_per_100kg / 100)


def actions(doses: Sequence[tuple[Material, float]]) -> tuple[Action, ...]:
    """Return what each dose does to the charge of the mix in the end.

    Parameters
    ----------
    doses : sequence of (Material, float)
        Materials with their rate. [g/L]

    Returns
    -------
    tuple of Action
        Doses without any effect on pH are left out.
    """
    acting: list[Action] = []
    for material, rate in doses:
        base = lasting_base(rate, material.acid_base or 0.0)
        role = material.acidity_role
        if role == "sulfur":
            elemental = material.composition.get("S elemental")
            acid = sulfur_acid(rate, elemental.typ if elemental else 0.0)
            acting.append(Action(material, rate, "sulfur", -acid))
        elif role == "strong_acid":
            acting.append(Action(material, rate, "acid", base))
        elif role == "weak_acid":
            acting.append(Action(material, rate, "fading", base))
        if material.lime_grade and material.cce:
            lime = rate * base_meq_per_g(material.cce.typ / 100)
            kind = "rock" if material.lime_grade == SILICATE else "lime"
            acting.append(Action(material, rate, kind, lime))
        elif role == "organic_n" and base:
            acting.append(Action(material, rate, "nitrogen", base))
    return tuple(acting)


@cites("arithmetic", "charge balance solved for the dose")
def sulfur_for(acidity: Acidity, ph: float) -> float:
    """Return the elemental sulfur that settles a mix at a pH, other doses kept.

    Parameters
    ----------
    acidity : Acidity
        The mix; sulfur already in it is taken out of the sum first.
    ph : float
        Target.

    Returns
    -------
    float
        Pure elemental sulfur, zero when none is needed. [g/L]
    """
    base = acidity.sum_of("acid") + acidity.sum_of("lime") + acidity.sum_of("rock")
    base += sum(c.base_meq_l for c in acidity.curve.carbonates if c.saturation_ph > ph)
    return max(base - acidity.curve.base_at(ph), 0.0) / SULFUR_MEQ_PER_G


@cites("arithmetic", "charge balance solved for the dose")
def lime_for(acidity: Acidity, ph: float, cce: float = 1.0) -> float:
    """Return the fully reacted lime that settles a mix at a pH, other doses kept.

    Parameters
    ----------
    acidity : Acidity
        The mix; lime already in it is taken out of the sum first.
    ph : float
        Target.
    cce : float
        Calcium carbonate equivalent of the lime. [kg/kg]

    Returns
    -------
    float
        Lime, zero when none is needed. [g/L]
    """
    base = acidity.sum_of("acid") + acidity.sum_of("sulfur") + acidity.sum_of("rock")
    base += sum(c.base_meq_l for c in acidity.curve.carbonates if c.saturation_ph > ph)
    return max(acidity.curve.base_at(ph) - base, 0.0) / base_meq_per_g(cce)


def acidity(curve: BlendCurve, acts: Sequence[Action], band: tuple[float, float]) -> Acidity:
    """Return the pH of a mix on mixing day and when settled, with its reasons.

    Parameters
    ----------
    curve : BlendCurve
        The parts.
    acts : sequence of Action
        The doses.
    band : tuple of float
        What the crop wants. [pH]

    Returns
    -------
    Acidity
        Figures with ranges.
    """
    acid = sum(a.base_meq_l for a in acts if a.kind in ("sulfur", "acid"))
    lime = sum(a.base_meq_l for a in acts if a.kind in SOLID)
    rest = settle(curve, 0.0, curve.carbonates)
    end = settle(curve, acid, [*curve.carbonates, Carbonate(lime)])
    spread = Z * curve.start_ph_sd
    start_ph = curve.start_ph
    return Acidity(
        start=figure(
            PH_START,
            start_ph,
            blend_curve,
            span=(start_ph - spread, start_ph + spread),
            method="the pH at which the charges of the parts balance, carbonates not yet "
            "dissolved: parts pull by their buffer capacity, not by their volume",
        ),
        settled=_settled_figure(curve, acts, end, (acid, lime)),
        rest=rest,
        end=end,
        actions=tuple(acts),
        curve=curve,
        band=band,
    )


def _settled_figure(
    curve: BlendCurve, acts: Sequence[Action], end: Settled, sums: tuple[float, float]
) -> Figure:
    acid, lime = sums
    carbonate = sum(c.base_meq_l for c in curve.carbonates)
    inputs = [
        Input("pH of the parts on mixing day", curve.start_ph, "", "derived"),
        Input("buffer capacity here", curve.capacity_at(end.ph), "meq/L per pH", "guess"),
    ]
    if carbonate:
        inputs.append(Input("free carbonate of the parts", carbonate, "meq/L", "guess"))
    inputs += [
        Input(
            a.material.name,
            a.base_meq_l,
            "meq/L",
            a.material.mark_of("cce" if a.kind in SOLID else "S elemental"),
            f"{sig(a.g_per_l, 3)} g/L, all of it",
        )
        for a in acts
        if a.kind in (*SOLID, "sulfur", "acid")
    ]
    if end.carbonate_left_meq_l:
        left = end.carbonate_left_meq_l
        inputs.append(Input("carbonate that stays solid", left, "meq/L", "derived"))
    return figure(
        PH_SETTLED,
        end.ph,
        settle,
        also=(blend_curve, sulfur_acid, settled_span),
        span=settled_span(curve, acid, lime),
        inputs=tuple(inputs),
        method="start from the charge of the parts, add the base of lime and carbonate, "
        "take away the acid of sulfur and acids; the pH is where buffer capacity has "
        f"taken it all. Lime and carbonate stop at pH {CALCITE_PH:g}",
        note=_left_out(acts),
    )


def _left_out(acts: Sequence[Action]) -> str:
    """Say what moves the pH of a pot and is not in the settled figure."""
    said = []
    nitrogen = sum(a.base_meq_l for a in acts if a.kind == "nitrogen")
    if abs(nitrogen) >= 0.5:
        way = "acid" if nitrogen < 0 else "base"
        said.append(
            f"Meals and blends may bring about {abs(nitrogen):.0f} meq/L more {way} as "
            "they rot (half their nitrogen counted)."
        )
    if any(a.kind == "fading" for a in acts):
        said.append("Organic acids fade within days and leave nothing, so they count zero.")
    if any(a.material.lime_grade == SILICATE for a in acts):
        said.append("Rock dust counts with its quick part only; the rest takes decades.")
    said.append("Hard water limes a pot on top of this.")
    return " ".join(said)
