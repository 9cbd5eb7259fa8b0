"""A logger's file before its readings count."""

from __future__ import annotations

from django.urls import reverse

from pelk.barrow.models import Batch
from pelk.core.base.rounding import sig
from pelk.core.curing.logger_csv import Logged, LoggedRow
from pelk.ui.preview import Action, Answer, Cell, Head, Line, Preview, Question
from pelk.ui.uploads import Upload

SHOWN = 12


def logger_preview(batch: Batch, upload: Upload, logged: Logged) -> Preview:
    """Show what a logger's file holds for a heap, what is asked and what is wrong."""
    count = len(logged.rows)
    return Preview(
        title="Import logger readings",
        about=f"{upload.name or 'Pasted text'}, into heap {batch.code}",
        back=(reverse("cure:heap", args=[batch.pk]), f"Heap {batch.code}"),
        mark="short" if logged.problems or logged.questions or not count else "good",
        says=_says(logged),
        heads=(
            Head("when"),
            Head("pH", is_number=True),
            Head("EC, dS/m", is_number=True),
            Head("temperature", is_number=True),
        ),
        lines=tuple(_line(batch, row) for row in logged.rows[:SHOWN]),
        more=max(count - SHOWN, 0),
        questions=tuple(
            Question(ask.key, ask.asks, tuple(Answer(key, words) for key, words in ask.answers))
            for ask in logged.questions
        ),
        asked_for="The file does not say. The answer is kept for files like it.",
        aside=logged.aside,
        problems=tuple((f"Line {line}", say) for line, say in logged.problems),
        actions=_actions(logged),
        carried={"text": upload.text, "name": upload.name},
        footnote="Every line is kept. The fit takes the median of each day, beside what you read "
        "by hand. The whole import can be undone as one.",
    )


def _says(logged: Logged) -> str:
    count, bad = len(logged.rows), len(logged.problems)
    readings = f"{count} reading{'' if count == 1 else 's'}"
    if logged.questions:
        return "Its readings can be shown once you answer what the file leaves open."
    if bad:
        return f"{readings} can be read; {bad} line{' is' if bad == 1 else 's are'} not readable."
    return f"Readable: {readings}."


def _line(batch: Batch, row: LoggedRow) -> Line:
    warm = row.temperature_c
    return Line(
        (
            Cell(f"{row.at:%-d %b %Y %H:%M}"),
            Cell("" if row.ph is None else f"{row.ph:g}"),
            Cell("" if row.ec_ds_m is None else sig(row.ec_ds_m, 3)),
            Cell("" if warm is None else batch.yard.measures.warmth(warm, 3)),
        )
    )


def _actions(logged: Logged) -> tuple[Action, ...]:
    count = len(logged.rows)
    if logged.questions:
        return (Action("look", "Check again", is_main=True),)
    if not count:
        return ()
    if logged.problems:
        return (Action("leave", f"Import {count}, leave the bad lines out", is_main=True),)
    return (Action("keep", f"Import {count} reading{'' if count == 1 else 's'}", is_main=True),)
