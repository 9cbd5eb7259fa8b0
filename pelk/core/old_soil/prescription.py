"""What to put into last year's soil: amounts for its volume, and why."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import ceil, inf, log

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.crops.demand import REACHES
from pelk.core.crops.feeding_rules import PORE_VOLUME_L_L, most_on_top
from pelk.core.crops.groups import crop
from pelk.core.old_soil.inspection import SALTY, Decision, Inspection, Route, over, under

RINSE_LEFT = {"NO3": 1.0, "Cl": 1.0, "Na": 1.5, "K": 3.0, "Mg": 4.0, "Ca": 6.0}
# Share of last season's available additions still there: after a dry and a wet winter.
CARRIED = {
    "N": (0.10, 0.02),
    "K": (0.30, 0.10),
    "Ca": (0.60, 0.60),
    "Mg": (0.50, 0.50),
    "S": (0.20, 0.20),
    "P": (0.70, 0.70),
}
# How much of a pot that stays is dug out, by rule; a third else.
DUG_OUT = {9: (0.5, "half"), 15: (2 / 3, "two thirds")}
BLEND_N_PCT, BLEND_LEAST_G_L, BLEND_MOST_G_L = 4.0, 1.0, 4.0
ENOUGH_P_SME = 10.0


class Item(StrEnum):
    """What goes into old soil."""

    COMPOST = "compost"
    AGGREGATE = "aggregate"
    PEAT_OR_COIR = "peat-or-coir"
    BLEND = "blend"
    KELP = "kelp"
    NEW_MIX = "new-mix"
    WATER = "water"
    PELLETS_NOW = "pellets-now"
    PELLETS_LATER = "pellets-later"


@dataclass(frozen=True, slots=True)
class Prescription:
    """What goes into old soil, for its volume.

    Attributes
    ----------
    rows : tuple of (Item, float, str)
        What, how much, unit.
    makes_l : float
        Mixed litres it comes to. [L]
    steps : tuple of str
        In order.
    goes : int
        How many times what is given later is given, each no more than the first. [-]
    """

    rows: tuple[tuple[Item, float, str], ...]
    makes_l: float
    steps: tuple[str, ...]
    goes: int = 0


@cites("pelk", "half of the season's supply to plan, less half of what is carried over")
@answers
def blend_to_add(
    nitrogen_uptake_mg_l: float,
    credit_mg_l: float,
    litres: float,
    nitrogen_pct: float,
    available_share: float,
) -> float:
    """Return the organic blend that old soil is given.

    Parameters
    ----------
    nitrogen_uptake_mg_l : float
        Of the crop over its season. [mg/L]
    credit_mg_l : float
        Carried over and slow, as far as it is credited. [mg/L]
    litres : float
        Of soil. [L]
    nitrogen_pct : float
        Of the blend. [%]
    available_share : float
        Of its nitrogen in the season. [-]

    Returns
    -------
    float
        Blend, between 1 and 4 g/L of a 4 % blend or the same nitrogen. [g]
    """
    need = max(0.5 * nitrogen_uptake_mg_l / REACHES["normal"] - credit_mg_l, 0.0)
    grams_l = need / (nitrogen_pct * 10 * available_share)
    scale = BLEND_N_PCT / nitrogen_pct
    return min(max(grams_l, BLEND_LEAST_G_L * scale), BLEND_MOST_G_L * scale) * litres


def carried_over(added_mg_l: Mapping[str, float], *, wet_winter: bool) -> dict[str, float]:
    """Return what is still there of last season's available additions, untracked. [mg/L]."""
    return {e: amount * CARRIED[e][1 if wet_winter else 0] for e, amount in added_mg_l.items()}


@cites("pelk", "rinse 1.3 ln(EC/target), between one and three pore volumes")
@answers
def rinse_pore_volumes(ec_ds_m: float, target_ds_m: float) -> float:
    """Return how many pore volumes rinse old soil.

    Parameters
    ----------
    ec_ds_m, target_ds_m : float
        Now, and the middle of the crop's band. [dS/m]

    Returns
    -------
    float
        Pore volumes, about 0.55 L of water a litre each. [-]
    """
    return min(max(1.3 * log(max(ec_ds_m / target_ds_m, 1.0)), 1.0), 3.0)


@answers
def left_after_rinse(pore_volumes: float) -> dict[str, float]:
    """Return the share of each ion that stays after a rinse. [-]."""
    return {ion: 2.718281828 ** (-pore_volumes / r) for ion, r in RINSE_LEFT.items()}


@answers
def prescribe(
    decision: Decision,
    observed: Inspection,
    litres: float,
    *,
    credit_mg_l: float = 0.0,
    pot_cm: float | None = None,
    pot: str = "plastic",
    habit: str = "normal",
    nitrogen_pct: float = BLEND_N_PCT,
    available_share: float = 0.55,
    most_g_l: float = inf,
    pots: int = 1,
) -> Prescription:
    """Return what to put into old soil, in place or tipped out.

    Parameters
    ----------
    decision : Decision
        What was decided.
    observed : Inspection
        What was seen.
    litres : float
        Old soil, settled. [L]
    credit_mg_l : float
        Nitrogen carried over and slow; half of it counts. [mg/L]
    pot_cm : float, optional
        Diameter of the pot. [cm]
    pot, habit : str
        Kind of pot, and watering: over, normal, under.
    nitrogen_pct, available_share : float
        Of the blend. [%], [-]
    most_g_l : float, optional
        Of the blend at once, by everything in it. [g/L]
    pots : int
        That the soil stands in. [-]

    Returns
    -------
    Prescription
        Amounts for all of the soil.

    Raises
    ------
    PelkError
        For soil that gets nothing, with the reason.
    """
    if litres <= 0:
        raise PelkError("found no soil, allowed: over 0 L", "litres")
    wanted = crop(observed.next_crop)
    grams = blend_to_add(
        wanted.uptake_mg_l["N"], credit_mg_l / 2, litres, nitrogen_pct, available_share
    )
    grams = min(grams, most_g_l * litres)
    if decision.route == Route.DUMP_AND_REFRESH:
        return _tipped_out(decision, observed, litres, grams, pot, habit)
    if decision.route == Route.PARTLY_OUT:
        return _partly_out(decision, litres, grams, pot_cm, pots)
    if decision.route == Route.IN_PLACE:
        return _in_place(litres, grams, pot_cm, pots)
    if decision.route == Route.MINOR_PART:
        share = 0.25 if observed.slurry == "silky" else 1 / 3
        return Prescription(
            ((Item.NEW_MIX, litres * (1 - share) / share, "L"),),
            litres / share,
            (f"Use it as {share:.0%} of a new mix, fed as new mix is.",),
        )
    if decision.route == Route.FLUSH:
        target = sum(wanted.ec_target) / 2
        volumes = rinse_pore_volumes(observed.ec_ds_m or SALTY, target)
        return Prescription(
            ((Item.WATER, volumes * PORE_VOLUME_L_L * litres, "L"),),
            litres,
            (
                f"{volumes:.1f} pore volumes in three goes over two days, water under 0.5 dS/m; "
                "catch it. Test again a day later; feed nitrogen and potassium from zero.",
            ),
        )
    if decision.route in (Route.REUSE, Route.BED):
        return Prescription(((Item.BLEND, grams, "g"),), litres, (decision.why,))
    raise PelkError(decision.why, "route")


def _tipped_out(
    decision: Decision, observed: Inspection, litres: float, grams: float, pot: str, habit: str
) -> Prescription:
    light = decision.rule == 13
    salty = over(observed.ec_ds_m, 2.0)
    compost = 0.20 if light or salty else 0.33 if under(observed.ec_ds_m, 0.75) else 0.25
    aggregate = {"fabric": 0.075}.get(pot, 0.15) + (0.05 if habit == "over" else 0.0)
    slumped = observed.slurry in ("mixed", "silky") or observed.squeeze == "lump"
    peat = 0.25 if slumped and not light else 0.0
    old = 1 - compost - aggregate - peat
    whole = litres / old
    rows = [
        (Item.COMPOST, compost * whole, "L"),
        (Item.AGGREGATE, aggregate * whole, "L"),
        (Item.BLEND, grams, "g"),
    ]
    if peat:
        rows.insert(2, (Item.PEAT_OR_COIR, peat * whole, "L"))
    if compost < 0.2:
        rows.append((Item.KELP, 0.5 * litres, "g"))
    steps = [
        "Break it up and sieve; pick out roots over 5 mm.",
        "Mix in compost, aggregate" + (", peat or coir" if peat else "") + ", then the blend.",
        "Test the pH, and lime only if the test calls for it."
        + (
            " No phosphorus: there is enough."
            if over(observed.phosphorus_mg_l, ENOUGH_P_SME)
            else ""
        ),
        "Moisten and rest two to three weeks, then feed by the crop.",
    ]
    return Prescription(tuple(rows), whole, tuple(steps))


def _partly_out(
    decision: Decision, litres: float, grams: float, pot_cm: float | None, pots: int
) -> Prescription:
    """Return what renews a pot that stays where it stands: new mix on top of what is left."""
    share, said = DUG_OUT.get(decision.rule, (1 / 3, "third"))
    fresh, stays = share * litres, (1 - share) * litres
    fed = _in_place(stays, grams * (1 - share), pot_cm, pots)
    steps = (
        f"Dig out the upper {said}, a bucket at a time; leave the roots below.",
        "Loosen what is left with a hand fork, a hand deep.",
        "Fill up with new mix, water, let it sink for a day, and top it up.",
    )
    return Prescription(((Item.NEW_MIX, fresh, "L"), *fed.rows), litres, steps, fed.goes)


def _in_place(litres: float, grams: float, pot_cm: float | None, pots: int) -> Prescription:
    most = grams
    if pot_cm is not None:
        most = min(grams, pots * most_on_top(pot_cm))
    rows = [(Item.PELLETS_NOW, most, "g")]
    goes = 0
    if grams > most:
        rows.append((Item.PELLETS_LATER, grams - most, "g"))
        goes = ceil((grams - most) / most - 0.01)
    steps = (
        "Pull the stems, leave the root channels; loosen only if it is hard.",
        "Rake 2 cm; three slow waterings if it sheds water.",
        "A thin scatter of pellets, one granule deep, worked in with the fingers; no bagged "
        "manure on top, it repels water.",
        "1 to 2 cm of castings or compost if it wets, water in, 3 to 5 cm of mulch.",
    )
    return Prescription(tuple(rows), litres, steps, goes)
