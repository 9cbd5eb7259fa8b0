"""Lab reports: kept as pasted, decided on row by row, taken whole or not at all."""

from collections.abc import Mapping
from datetime import date, datetime, timedelta

import numpy as np
from django.db import transaction
from django.urls import reverse
from django.utils import timezone

from pelk.core.base.errors import PelkError
from pelk.core.lab.lab_reports import Mapped
from pelk.core.lab.simulated_lab import DAYS_TO_REPORT, SAYS, report_text
from pelk.core.materials.facts import FACTS, spread_of
from pelk.core.materials.material import Range
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.models.materials import Material
from pelk.shelf.selectors import rows_of_report
from pelk.shelf.services.materials import Said, say_values
from pelk.yards.models import User, Yard

TEXT_LENGTH = 60_000


@transaction.atomic
def keep_report(
    *,
    yard: Yard,
    by: User | None,
    material: Material,
    text: str,
    method: str,
    basis: str = "dry",
    ec_method: str = "1:5",
    lab: str = "",
    dated: date | None = None,
    at: datetime | None = None,
) -> LabReport:
    """Keep a report to be looked through; nothing of it counts yet."""
    report: LabReport = LabReport.objects.create(
        yard=yard,
        by=by,
        material=material,
        text=text[:TEXT_LENGTH],
        method=method,
        basis=basis,
        ec_method=ec_method,
        lab=lab,
        dated=dated or timezone.localdate(at),
        created_at=at or timezone.now(),
    )
    record(
        yard=yard,
        by=by,
        station=Station.SHELF,
        url=report.get_absolute_url(),
        at=at,
        text=f"{material.short_name}: lab report added, not in use yet",
    )
    return report


@transaction.atomic
def decide(*, report: LabReport, decisions: Mapping[str, str]) -> None:
    """Keep what the grower decided on odd rows: leave, keep, or another number."""
    report.lock()
    report.decisions = {**report.decisions, **decisions}
    report.save(update_fields=["decisions"])


@transaction.atomic
def take_report(*, report: LabReport, by: User | None) -> Material:
    """Let a report count: its values stand on the material, each marked from the lab.

    Raises
    ------
    PelkError
        While a row that cannot be is neither mended nor left out, or when it was taken already.
    """
    report.lock()
    if report.state == LabReport.State.TAKEN:
        raise PelkError("it was taken already")
    rows = rows_of_report(report)
    held_up = next((row for row in rows if row.waits), None)
    if held_up is not None:
        raise PelkError(
            f"line {held_up.mapped.row.line} needs a decision: correct it or leave it out"
        )
    values = {row.mapped.fact: _spanned(row.mapped) for row in rows if row.counts}
    if not values:
        raise PelkError("no row of this report can be taken")
    usable = [row.mapped.fact for row in rows if row.counts and row.mapped.usable]
    simulated = report.text.startswith(SAYS[:20])
    note = f"{report.lab or 'lab'}{', simulated' if simulated else ''}"
    own = say_values(
        yard=report.yard,
        by=by,
        material=report.material,
        values=values,
        usable=usable,
        said=Said("lab", report.dated, note, report=report),
    )
    report.state = LabReport.State.TAKEN
    report.save(update_fields=["state"])
    return own


def _spanned(fact: Mapped) -> Range:
    value = fact.value or 0.0
    if FACTS[fact.fact].has_span:
        return spread_of(fact.fact, value, "lab")
    return Range(value, value, value)


@transaction.atomic
def send_sample(
    *, yard: Yard, by: User | None, material: Material, at: datetime | None = None
) -> Sample:
    """Send a sample to the simulated laboratory."""
    yard.lock()
    now = at or timezone.now()
    number = Sample.objects.of(yard).count() + 1
    sample: Sample = Sample.objects.create(
        yard=yard,
        material=material,
        label=f"{material.short_name}, no. {number}"[:60],
        due_at=now + timedelta(days=DAYS_TO_REPORT),
        created_at=now,
    )
    record(
        yard=yard,
        by=by,
        station=Station.SHELF,
        url=reverse("shelf:lab"),
        at=at,
        text=f"{sample.label} sent to the simulated lab",
    )
    return sample


@transaction.atomic
def hurry(*, sample: Sample) -> None:
    """Fast-forward: the report is back now."""
    sample.lock()
    sample.due_at = min(sample.due_at, timezone.now())
    sample.save(update_fields=["due_at"])


def sample_report(sample: Sample) -> str:
    """Return the file that came back: the same for a sample each time."""
    lot = np.random.default_rng(sample.pk)
    dated = timezone.localdate(sample.due_at).isoformat()
    return report_text(sample.material.core, lot, sample.label, dated)


# Values taken from a report stay until they are taken back.
REPORTS = Shelving(
    model=LabReport,
    station=Station.SHELF,
    says=lambda row, word: f"{row.material.short_name}: lab report {word}",
    address=LabReport.get_absolute_url,
)
