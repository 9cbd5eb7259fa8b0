"""The feeding plan of some pots in a sentence."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from pelk.core.advice.feeding_plan import FeedingPlan
from pelk.pots.models import PotGroup
from pelk.ui.days import short_day

OFTEN_DAYS = 2
FIRST_YEAR_DAYS = 240


@dataclass(frozen=True, slots=True)
class PlanSays:
    """The plan in a sentence."""

    state: str
    word: str
    text: str


def says(group: PotGroup, plan: FeedingPlan, today: date) -> PlanSays:
    """Say when the soil falls behind, and whether the feeds as planned close the gap."""
    start, end = plan.season
    short_weeks = plan.short_weeks
    if plan.run_out_on is None or plan.run_out_on > end:
        return PlanSays("good", "Fed", "The soil alone feeds this crop to the end of its season.")
    alone = f"The soil alone runs short of nitrogen from {short_day(plan.run_out_on, 'j F')}."
    if plan.run_out_on == start:
        later = group.planted_on and (start - group.planted_on).days > FIRST_YEAR_DAYS
        why = (
            "the pots are past their first year"
            if later
            else "it did not come from one of your heaps"
        )
        alone = f"Nothing is counted from the soil: {why}."
    if not short_weeks:
        return PlanSays("good", "Fed", f"{alone} The planned feeds make up the difference.")
    first = start + timedelta(weeks=short_weeks[0])
    last = min(start + timedelta(weeks=short_weeks[-1] + 1), end)
    thin = f"{short_day(first)} to {short_day(last)}"
    text = f"{alone} Even with the planned feeds, nitrogen is short from {thin}."
    days = plan.closing_days
    if days is not None and days >= OFTEN_DAYS:
        text += (
            f" Liquid feed every {max(round(days), OFTEN_DAYS)} days in that time would cover it."
        )
    elif days is not None:
        text += " Liquid feed cannot cover it; a larger pot or a richer mix would."
    if last > plan.last_nitrogen:
        stops = short_day(plan.last_nitrogen, "j F")
        text += f" No nitrogen is planned after {stops}: soft growth does not stand the cold."
    return PlanSays("short", "Short", text)
