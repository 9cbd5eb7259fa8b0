"""What growers mix in: what is pushed has a limit of weight, what stands has none."""

from dataclasses import dataclass

# More than anyone lays on a tarpaulin, so that only the volume binds.
NO_LIMIT_KG = 1e6


@dataclass(frozen=True, slots=True)
class Vessel:
    """A thing to mix in, with what it usually holds. [L]."""

    key: str
    name: str
    litres: float
    is_carried: bool = False


VESSELS = {
    v.key: v
    for v in (
        Vessel("barrow", "the barrow", 85, is_carried=True),
        Vessel("pool", "a paddling pool", 200),
        Vessel("tarp", "a tarpaulin", 300),
        Vessel("tub", "a tub or bin", 60),
    )
}


@dataclass(frozen=True, slots=True)
class MixedIn:
    """What one batch is mixed in: its loads are cut for it. [L], [kg]."""

    kind: str
    litres: float
    limit_kg: float | None
