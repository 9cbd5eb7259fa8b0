"""What each day brings to a soil: warmth, rain, what leaves take, what the can gives."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.water import Water
from pelk.core.crops.groups import Crop
from pelk.core.crops.living import (
    YEAR_DAYS,
    Living,
    cover_by,
    livings,
    season_nitrogen,
    wanted_by_day,
)
from pelk.core.release.nitrogen_curves import daily_temperatures
from pelk.core.simulation.cohorts import USUAL_ROOTS, Roots
from pelk.core.simulation.life import Life, Place, Pot, Where
from pelk.core.vessels.canopy import (
    INDOORS,
    MOST_LEAF,
    SAUCER_LEACHING,
    THIRSTY,
    USUAL_LEACHING,
    DailyWater,
    daily_water,
    evaporation_mm,
    taken_l_l,
)

Floats = NDArray[np.float64]

MONTH_DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
# Nitrogen in rain: 0.3 to 2, from memory.
RAIN_N_MG_L = 0.8
# A soil that rests under a roof dries out: judgement.
DRY = 0.15


@dataclass(frozen=True, slots=True)
class Weather:
    """Each day of a life. [°C], [mm], [mm/d]."""

    air_c: Floats
    rain_mm: Floats
    evaporated_mm: Floats

    @classmethod
    def of(cls, place: Place, first_day_of_year: int, days: int) -> Weather:
        """Return the days of a place, by its months."""
        count = days + 1
        air = (
            daily_temperatures(place.monthly_c, first_day_of_year, count)
            if place.monthly_c
            else np.full(count, place.temperature_c)
        )
        month = _months(first_day_of_year, count)
        rain = (
            np.array(place.monthly_rain_mm)[month] / MONTH_DAYS[month]
            if place.monthly_rain_mm
            else np.zeros(count)
        )
        taken = (
            daily_temperatures(place.monthly_et0_mm, first_day_of_year, count)
            if place.monthly_et0_mm
            else evaporation_mm(air)
        )
        return cls(air, rain, taken)


def _months(first_day_of_year: int, count: int) -> NDArray[np.int_]:
    """Return the month of each day, 0 for January."""
    day = (first_day_of_year + np.arange(count)) % int(MONTH_DAYS.sum())
    return np.searchsorted(np.cumsum(MONTH_DAYS), day, side="right")


@dataclass(slots=True)
class Growing:
    """What stands in a pot since a day.

    Attributes
    ----------
    wanted : array
        Share of a season's nitrogen wanted by each day since planting. [-]
    standing_n : Lane
        Nitrogen in it, in a pot. [mg]
    """

    crop: Crop
    living: Living
    plants: float
    vigour: float
    since: int
    wanted: Floats

    @classmethod
    def planted(
        cls, crop: Crop, plants: float, vigour: float, day: int, weather: Weather
    ) -> Growing:
        """Return plants that were put in on a day."""
        line = wanted_by_day(crop, weather.air_c[day:])
        return cls(crop, livings()[crop.slug], plants, vigour, day, line)

    def season_mg_l(self, litres: float) -> float:
        """Return the nitrogen wanted of a litre in a full season. [mg/L]."""
        return season_nitrogen(self.crop, self.plants, litres, self.vigour)

    def wanted_on(self, days: NDArray[np.int_], litres: float) -> Floats:
        """Return the nitrogen wanted of a litre on each day. [mg/L/d]."""
        line = self.wanted[np.clip(days[0] - self.since, 0, None) :]
        daily = np.diff(line)[: len(days)]
        return self.season_mg_l(litres) * np.pad(daily, (0, len(days) - len(daily)))


@dataclass(slots=True)
class Regime:
    """How a soil is kept from a day on.

    Attributes
    ----------
    is_watered : bool
        Water comes at all: a heap under cover gets none.
    litres_week, leaching : float or None
        As the grower said, in a pot and as a share; None is reckoned. [L], [-]
    where : Where or None
        Where it rests without plants.
    """

    is_watered: bool = False
    litres_week: float | None = None
    leaching: float | None = None
    where: Where | None = None


@dataclass(frozen=True, slots=True)
class Stretch:
    """Steps between two days on which something happens, ready for the stepper.

    Attributes
    ----------
    air_c, moisture, wanted_mg_l, growing_share : array, shape (n_steps,)
        Of each step. [°C], [-], [mg/L]
    waters : list of Water
        Per step: amounts a day, what drains of them, ions.
    ratios : dict of str to float
        Of each element to nitrogen, of all that grows. [-]
    """

    air_c: list[float]
    moisture: Floats
    wanted_mg_l: list[float]
    waters: list[Water]
    roots: Roots
    ratios: dict[str, float]
    thirsty_days: int


class SoilDays:
    """The days of one life."""

    def __init__(self, life: Life) -> None:
        self.life = life
        first = life.mixed_on.timetuple().tm_yday - 1
        # A year further, so that the last year of what lives over winter is a whole one.
        self.weather = Weather.of(life.place, first, life.days + YEAR_DAYS)

    def stretch(
        self, edges: Floats, litres: float, pot: Pot, growing: Sequence[Growing], regime: Regime
    ) -> Stretch:
        """Return what the steps between some edges bring.

        Parameters
        ----------
        edges : array, shape (n_steps + 1,)
            Of the steps. [d]
        litres : float
            Of the soil in a pot. [L]
        pot : Pot
            What it stands in.
        growing : sequence of Growing
            What grows.
        regime : Regime
            How it is kept.
        """
        first, last = int(np.floor(edges[0])), int(np.ceil(edges[-1]))
        days = np.arange(first, max(last, first + 1))
        air = self.weather.air_c[np.minimum(days, len(self.weather.air_c) - 1)]
        wanted = sum((g.wanted_on(days, litres) for g in growing), np.zeros(len(days)))
        water = self._water(days, litres, pot, growing, regime)
        moisture = self._moisture(days, water, regime)
        return Stretch(
            air_c=_means(air, days, edges).tolist(),
            moisture=_means(moisture, days, edges),
            wanted_mg_l=_sums(wanted, days, edges).tolist(),
            waters=self._by_step(water, days, edges),
            roots=_roots(growing, litres),
            ratios=_ratios(growing, litres),
            thirsty_days=int(water.thirsty.sum()) if growing else 0,
        )

    def _water(
        self,
        days: NDArray[np.int_],
        litres: float,
        pot: Pot,
        growing: Sequence[Growing],
        regime: Regime,
    ) -> DailyWater:
        none = np.zeros(len(days))
        if not regime.is_watered:
            return DailyWater(none, none, none, none.astype(bool))
        place, at = self.life.place, np.minimum(days, len(self.weather.air_c) - 1)
        where = regime.where or (Where.ROOFED if place.roof else Where.RAIN)
        rain = self.weather.rain_mm[at] if where is Where.RAIN else none
        mm = self.weather.evaporated_mm[at]
        if where is Where.INDOORS:
            mm = evaporation_mm(self.weather.air_c[at], INDOORS)
        leaves = self._leaves(days, growing)
        ones = np.ones(len(days))
        taken = taken_l_l(mm, leaves, ones, pot.height_cm, pot.wall)
        falls = rain / (10 * pot.height_cm)
        usual = SAUCER_LEACHING if pot.saucer else USUAL_LEACHING
        leaching = usual if regime.leaching is None else regime.leaching
        given = None if regime.litres_week is None else regime.litres_week / 7 / litres
        if regime.where is not None:
            given = 0.0
        return daily_water(taken, falls, leaching, given)

    def _leaves(self, days: NDArray[np.int_], growing: Sequence[Growing]) -> Floats:
        """Return leaves times how far they cover, of all that grows; bare soil without. [-]."""
        if not growing:
            return np.full(len(days), 0.25)
        whole = np.zeros(len(days))
        for g in growing:
            line = g.wanted[np.clip(days - g.since, 0, len(g.wanted) - 1)]
            whole += g.living.leaf * cover_by(line) / len(growing)
        return np.minimum(whole, MOST_LEAF)

    def _moisture(self, days: NDArray[np.int_], water: DailyWater, regime: Regime) -> Floats:
        usual = np.full(len(days), self.life.place.moisture)
        if regime.where in (Where.ROOFED, Where.INDOORS):
            return np.full(len(days), DRY)
        return np.where(water.thirsty & (regime.where is None), THIRSTY, usual)

    def _by_step(self, water: DailyWater, days: NDArray[np.int_], edges: Floats) -> list[Water]:
        tap = self.life.water
        given, rain, drained = (
            _means(line, days, edges).tolist() for line in (water.given, water.rain, water.drained)
        )
        waters = []
        for w, r, d in zip(given, rain, drained, strict=True):
            whole = w + r
            if whole <= 0:
                waters.append(Water())
                continue
            ions = {ion: c * w / whole for ion, c in tap.ions_mg_l.items()}
            if r:
                ions["NO3-N"] = ions.get("NO3-N", 0.0) + RAIN_N_MG_L * r / whole
            waters.append(
                replace(
                    tap,
                    alkalinity_meq_l=tap.alkalinity_meq_l * w / whole,
                    l_per_l_day=whole,
                    leaching_fraction=d / whole,
                    ions_mg_l=ions,
                    from_day=0.0,
                )
            )
        return waters


def _sums(daily: Floats, days: NDArray[np.int_], edges: Floats) -> Floats:
    """Return what daily amounts add up to in each step."""
    summed = np.concatenate([[0.0], np.cumsum(daily)])
    at = np.concatenate([[float(days[0])], days + 1.0])
    return np.diff(np.interp(edges, at, summed))


def _means(daily: Floats, days: NDArray[np.int_], edges: Floats) -> Floats:
    """Return the mean of each step of a value known for every day."""
    return np.asarray(_sums(daily, days, edges) / np.diff(edges))


def _weights(growing: Sequence[Growing], litres: float) -> list[float]:
    return [g.season_mg_l(litres) for g in growing]


def _roots(growing: Sequence[Growing], litres: float) -> Roots:
    weights = _weights(growing, litres)
    whole = sum(weights)
    if not whole:
        return USUAL_ROOTS
    shares = [w / whole for w in weights]
    living = [g.living for g in growing]
    return Roots(
        kappa=sum(s * v.kappa for s, v in zip(shares, living, strict=True)),
        ammonium_first=sum(s * v.ammonium_first for s, v in zip(shares, living, strict=True)),
        fixed=sum(s * v.fixed for s, v in zip(shares, living, strict=True)),
    )


def _ratios(growing: Sequence[Growing], litres: float) -> dict[str, float]:
    weights = _weights(growing, litres)
    whole = sum(weights)
    if not whole:
        return {}
    of_each = [
        {e: g.crop.uptake_mg_l[e] / g.crop.uptake_mg_l["N"] for e in ("P", "K", "Ca", "Mg", "S")}
        for g in growing
    ]
    return {
        e: sum(w / whole * r[e] for w, r in zip(weights, of_each, strict=True))
        for e in ("P", "K", "Ca", "Mg", "S")
    }
