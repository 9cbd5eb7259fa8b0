"""Crop groups: what pH, salts and season's food they want."""

from dataclasses import dataclass
from functools import cache

from pelk.core.base.errors import PelkError
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.base.tables import number, rows

# Above this share of mineral soil by volume a mix is judged by the M column.
MINERAL_SHARE = 0.25
VIGOUR = (0.7, 1.3)


# Groups that stand no more salts than this are those that ions harm early. [dS/m]
SALT_SHY_EC = 2.3


@dataclass(frozen=True, slots=True)
class Crop:
    """A group of crops with the same wants.

    Attributes
    ----------
    ph_soilless, ph_mineral : tuple of float
        Band of pH without and with over a quarter of mineral soil.
    ec_target : tuple of float
        Saturated media extract. [dS/m]
    ec_warn, ec_max : float
        Amber and red line of salts. [dS/m]
    intensity : int
        0 seedling, 1 light, 2 medium, 3 heavy feeder.
    reference_l : float
        Litres a plant is reckoned with. [L]
    season_days : float
        Length of the default preset's season. [days]
    uptake_mg_l : dict of str to float
        Season uptake per litre of filled container, elements. [mg/L]
    extract_bands : dict of str to tuple
        What a saturated media extract should read now. [mg/L]
    tags : tuple of str
        Words the caution rules know.
    """

    slug: str
    name: str
    example: str
    ph_soilless: tuple[float, float]
    ph_mineral: tuple[float, float]
    ec_target: tuple[float, float]
    ec_warn: float
    ec_max: float
    intensity: int
    season_days: float
    reference_l: float
    uptake_mg_l: dict[str, float]
    extract_bands: dict[str, tuple[float, float]]
    tags: tuple[str, ...]

    def ph_band(self, mineral_share: float) -> tuple[float, float]:
        """Return the wanted pH for a mix with this share of mineral soil."""
        return self.ph_mineral if mineral_share > MINERAL_SHARE else self.ph_soilless


def is_acid_lover(crop: Crop) -> bool:
    """Return whether a crop is one of those that want it sour."""
    return "ericaceous" in crop.tags


@cites("maas1977", "chloride that halves a sensitive crop leaves tomato whole; from memory")
def ion_limit(crop: Crop, kind: str, side: str) -> float:
    """Return how much sodium or chloride of an extract harms a crop, or holds it back.

    Parameters
    ----------
    crop : Crop
        The group.
    kind, side : str
        ``sodium`` or ``chloride``; ``harms`` or ``drifts``.

    Returns
    -------
    float
        In the saturated extract. [mg/L]
    """
    is_shy = "sensitive" in crop.tags if side == "drifts" else crop.ec_max <= SALT_SHY_EC
    return limit(kind, f"{side}_mg_l" if is_shy else f"hardy_{side}_mg_l")


@cites("warncke_e1736", "bands; split by crop group is our reading")
def ph_band(crop: Crop, mineral_share: float) -> tuple[float, float]:
    """Return the pH a crop group wants.

    Parameters
    ----------
    crop : Crop
        The group.
    mineral_share : float
        Mineral soil by loose volume. [-]

    Returns
    -------
    tuple of float
        Low and high. [pH]
    """
    return crop.ph_band(mineral_share)


@cites("pelk", "season uptake per litre, checked against yield times removal")
def season_demand(crop: Crop, element: str) -> tuple[float, float]:
    """Return what a crop takes up in its season, at vigour 0.7 to 1.3.

    Parameters
    ----------
    crop : Crop
        The group; its default preset counts.
    element : str
        One of ``N P K Ca Mg S``.

    Returns
    -------
    tuple of float
        Low and high. [mg/L]
    """
    uptake = crop.uptake_mg_l[element]
    return (round(uptake * VIGOUR[0], 1), round(uptake * VIGOUR[1], 1))


@cache
def library() -> dict[str, Crop]:
    """Return the crop groups by slug."""
    presets: dict[str, dict[str, str]] = {}
    for row in rows("demand.csv"):
        presets.setdefault(row["group"], row)
    extracts = {row["group"]: row for row in rows("extract_bands.csv")}
    return {
        row["slug"]: _crop(row, presets[row["slug"]], extracts[row["slug"]])
        for row in rows("crops.csv")
    }


def crop(slug: str) -> Crop:
    """Return one crop group.

    Raises
    ------
    PelkError
        When there is no group of that slug.
    """
    if slug not in library():
        raise PelkError(f"found {slug!r}, allowed: {', '.join(library())}", "crop")
    return library()[slug]


def _crop(row: dict[str, str], preset: dict[str, str], extract: dict[str, str]) -> Crop:
    def band(name: str, of: dict[str, str] = row) -> tuple[float, float]:
        return float(of[f"{name}_low"]), float(of[f"{name}_high"])

    nitrogen = float(preset["N"])
    ratios = {e: number(preset[f"{e}_ratio"]) or 0.0 for e in ("P", "K", "Ca", "Mg", "S")}
    return Crop(
        slug=row["slug"],
        name=row["name"],
        example=row["example"],
        ph_soilless=band("ph_soilless"),
        ph_mineral=band("ph_mineral"),
        ec_target=band("ec"),
        ec_warn=float(preset["ec_warn"]),
        ec_max=float(row["ec_max"]),
        intensity=int(row["intensity"]),
        season_days=float(preset["days"]),
        reference_l=float(preset["reference_l_per_plant"]),
        uptake_mg_l={"N": nitrogen, **{e: nitrogen * r for e, r in ratios.items()}},
        extract_bands={e: band(e, extract) for e in ("N", "P", "K", "Ca", "Mg")},
        tags=tuple(row["tags"].split(";")),
    )
