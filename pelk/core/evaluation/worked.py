"""A plan worked out, as the checks look at it."""

from dataclasses import dataclass

from pelk.core.acid_base.acidity import Acidity
from pelk.core.crops.groups import Crop
from pelk.core.evaluation.season_supply import SeasonSupply
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Dose
from pelk.core.simulation.forecast import Forecast
from pelk.core.vessels.dose_amounts import DoseLine
from pelk.core.vessels.structure import Structure
from pelk.core.vessels.volumes import Volumes

TRADE, OURS = "common practice", "Pelk estimate"
NOT_PH_TOOLS = {
    "coffee-grounds-used": "Used coffee grounds are close to neutral: they feed a "
    "little, they do not acidify.",
    "pine-needles": "Dry pine needles hardly acidify: their ash cancels their acid.",
}


@dataclass(frozen=True, slots=True)
class Worked:
    """A plan worked out, as the checks look at it."""

    crop: Crop
    volumes: Volumes
    parts: tuple[tuple[Material, float], ...]
    doses: tuple[DoseLine, ...]
    typed: tuple[Dose, ...]
    acidity: Acidity | None
    forecast: Forecast | None = None
    supply: SeasonSupply | None = None
    pot: Structure | None = None
    wanted_air: float = 0.17
