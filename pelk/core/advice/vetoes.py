"""What is never advised, whatever it would mend: by crop, by what lies there, by the season."""

from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop, is_acid_lover
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.material import Material
from pelk.core.salts.salts import boron_ratio
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.readiness import FEEDING_TAGS

ASH, BURNT = frozenset(["ash-wood", "ash-other"]), frozenset(["lime-hydrated", "lime-quick"])
METAL_SALTS = frozenset(["al-sulfate", "fe-sulfate"])
MANURES = frozenset(["manure-raw", "manure-hot", "manure-composted"])
HOT = FEEDING_TAGS | MANURES | {"blood", "feather", "bone"}
# Below this a smell or a reading is news; older, the forecast is. [d]
NEWS_DAYS = 14
# A salt has dissolved by then, and lime has not been turned in yet. [d]
SOON_DAYS = 3


def is_lime(material: Material) -> bool:
    """Return whether a material raises the pH by what it is: lime, ash, burnt lime."""
    tags = {*material.tags}
    is_dust = "rock-dust" in tags and not tags & ASH
    return bool((material.lime_grade and not is_dust) or tags & (ASH | BURNT))


@cites("trade", "no feed on seedlings; no ash on acid lovers; no aluminium for food")
def unfit(material: Material, crop: Crop) -> str:
    """Return why a material is never advised for a crop.

    Parameters
    ----------
    material : Material
        That would be given, or left in.
    crop : Crop
        What grows.

    Returns
    -------
    str
        A reason; empty where there is none.
    """
    tags, name = {*material.tags}, material.spoken_name
    if "seedling" in crop.tags and (tags & HOT or tags & METAL_SALTS):
        return f"{name} burns seedlings"
    if "al-sulfate" in tags and "food" in crop.tags:
        return f"{name} is for ornamentals only"
    if is_acid_lover(crop) and tags & (ASH | BURNT):
        return f"{name} is never for acid lovers"
    if tags & {"human-waste", "pet-waste", "lime-quick", "ash-other"}:
        return f"{name} does not belong in a pot"
    return ""


@cites("trade", "ash and burnt lime are caustic and quick: nobody is advised to mend with them")
def not_as_remedy(material: Material, crop: Crop) -> str:
    """Return why a material is no remedy for a crop; empty where it may be one."""
    if {*material.tags} & (ASH | BURNT):
        return f"{material.spoken_name} is caustic, and no remedy"
    return unfit(material, crop)


@cites("trade", "lime drives ammonia out of what holds ammonium")
def no_lime_now(ahead: Forecast, day: int) -> bool:
    """Return whether ammonium or free ammonia is too high on a day to give lime."""
    days = slice(min(day, ahead.line.days), day + SOON_DAYS + 1)
    return bool(
        ahead.line.daily("ammonium_mg_l")[days].max() > ahead.limits.ammonium_mg_l
        or ahead.line.daily("free_ammonia_mg_l")[days].max() > ahead.limits.free_ammonia_mg_l
    )


def acid_salts(evaluation: Evaluation) -> list[Material]:
    """Return the acid salts that were dosed: taken back sooner than limed against."""
    return [
        d.material
        for d in evaluation.doses
        if d.material.acidity_role == "strong_acid" and d.g_per_l > 0
    ]


def against_what_lies_there(material: Material, evaluation: Evaluation, day: int = 0) -> str:
    """Return why a dose is not given to a mix as it is; empty where it may be.

    Parameters
    ----------
    material : Material
        To be given.
    evaluation : Evaluation
        Of the mix.
    day : int
        When. [d]
    """
    if not is_lime(material):
        return ""
    salts = acid_salts(evaluation)
    if salts:
        return f"{salts[0].spoken_name} lies in it: take that back, add no lime against it"
    if evaluation.forecast is not None and no_lime_now(evaluation.forecast, day):
        return "there is too much ammonium in it for lime: turn it, and wait"
    return ""


@cites("maas_boron", "what a dose brings, whole, against what injures the crop")
def poisons(material: Material, crop: Crop, g_per_l: float) -> str:
    """Return what of a dose poisons a crop at once; empty where nothing does.

    Parameters
    ----------
    material : Material
        That is given.
    crop : Crop
        What grows.
    g_per_l : float
        In a litre of soil. [g/L]
    """
    boron = material.composition["B"].typ if "B" in material.composition else 0.0
    ratio = boron_ratio(10 * boron * g_per_l, crop.slug)
    if ratio > 1:
        return f"its boron is {ratio:.0f} times what injures {crop.name.lower()}"
    return unfit(material, crop)
