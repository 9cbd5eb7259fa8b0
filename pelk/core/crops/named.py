"""Crops by the names growers use: group, family, how they are planted, what works on their roots.

Figures of the crop's own group feed it; the name only says which group, and what is particular.
"""

import re
from dataclasses import dataclass
from functools import cache

from pelk.core.base.sentences import capital
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows

NEAR_SCORE = 86.0
MOST_OFFERED = 6
WORD = re.compile(r"[^\W\d_]+")


@dataclass(frozen=True, slots=True)
class NamedCrop:
    """One crop.

    Attributes
    ----------
    family : str
        Botanical; what rotation and old soil compare.
    group : str
        Slug of its crop group.
    life : str
        ``annual``, ``biennial``, ``perennial``, ``woody``, ``bulb`` or ``rhizome``.
    litres : tuple of float
        Least and good volume a plant. [L]
    canopy_m2 : float
        Leaf cover of a grown plant. [m2]
    mycorrhiza : str
        ``am``, ``ericoid``, ``ecto`` or ``none``: what works on its roots.
    """

    slug: str
    name: str
    other_names: tuple[str, ...]
    family: str
    rotation: str
    group: str
    life: str
    appetite: str
    depth_note: str
    plant_note: str
    litres: tuple[float, float]
    canopy_m2: float
    season_days: float
    feed_at: str
    rest_months_north: tuple[int, ...]
    mycorrhiza: str
    is_food: bool


@cache
def named_crops() -> dict[str, NamedCrop]:
    """Return the crops by slug."""
    return {row["slug"]: _crop(row) for row in rows("named_crops.csv")}


def _crop(row: dict[str, str]) -> NamedCrop:
    months = row["rest_months_north"].replace(",", ";").split(";")
    return NamedCrop(
        row["slug"],
        row["name"],
        tuple(name.strip() for name in row["other_names"].split(";") if name.strip()),
        row["family"],
        row["rotation_group"],
        row["crop_group"],
        row["life"],
        row["appetite"],
        row["depth_note"],
        row["plant_note"],
        (float(row["litres_min"]), float(row["litres_good"])),
        float(row["canopy_m2_grown"]),
        float(row["season_days"] or 0),
        row["feed_at"],
        tuple(int(m) for m in months if m.strip().isdigit()),
        row["mycorrhiza"],
        row["food"] == "yes",
    )


def _key(text: str) -> str:
    """Return a name as it is compared: small letters, singular, in order of the alphabet."""
    return " ".join(sorted(_singular(word) for word in WORD.findall(text.lower())))


def _singular(word: str) -> str:
    if word.endswith("ies") and len(word) > 4:
        return f"{word[:-3]}y"
    if word.endswith(("toes", "ches", "shes")):
        return word[:-2]
    return word[:-1] if len(word) > 3 and word.endswith("s") and not word.endswith("ss") else word


@cache
def _names() -> dict[str, tuple[str, ...]]:
    named: dict[str, list[str]] = {}
    for crop in named_crops().values():
        plain = crop.name.split(",")[0]
        for name in {_key(n) for n in (crop.name, plain, crop.slug, *crop.other_names)}:
            named.setdefault(name, []).append(crop.slug)
    return {name: tuple(slugs) for name, slugs in named.items()}


@cites("trade", "crops by the names that growers use")
def crops_named(text: str) -> tuple[NamedCrop, ...]:
    """Return the crops that a name may mean, the likeliest first; none where it is not known.

    Parameters
    ----------
    text : str
        As typed: "peppers", "tea camellia", "bean".
    """
    key, crops = _key(text), named_crops()
    if not key:
        return ()
    names = _names()
    if key in names:
        return tuple(crops[slug] for slug in names[key])
    words = set(key.split())
    inside = [slugs for name, slugs in names.items() if words <= set(name.split())]
    if not inside:
        from rapidfuzz import fuzz, process  # noqa: PLC0415  (loaded once a name is not known)

        near = process.extract(
            key, list(names), scorer=fuzz.ratio, limit=MOST_OFFERED, score_cutoff=NEAR_SCORE
        )
        inside = [names[name] for name, _, _ in near]
    slugs = dict.fromkeys(slug for group in inside for slug in group)
    return tuple(crops[slug] for slug in slugs)


def agreed(crops: tuple[NamedCrop, ...], fact: str) -> str:
    """Return what all of some crops have in common of a fact; empty where they differ."""
    values = {str(getattr(crop, fact)) for crop in crops}
    return values.pop() if len(values) == 1 else ""


def family_of(text: str) -> str:
    """Return the botanical family of a crop's name; the text itself where it is none."""
    return agreed(crops_named(text), "family") or text.strip()


def how_to_plant(text: str) -> str:
    """Return how a crop of that name is planted; empty where it is not known or not one."""
    crops = crops_named(text)
    note, depth = agreed(crops, "plant_note"), agreed(crops, "depth_note")
    sentences = [note, f"{capital(depth)}." if depth else ""]
    return " ".join(s for s in sentences if s)
