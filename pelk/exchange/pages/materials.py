"""A file of materials before they count."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from django.urls import reverse

from pelk.exchange.domain.materials import Preview as Coming
from pelk.ui.preview import Action, Cell, Head, Line, Preview

SHOWN, LONGEST = 60, 60


def materials_preview(coming: Sequence[Coming], text: str) -> Preview:
    """Show what taking a file of materials in would change."""
    new = [one for one in coming if one.is_new]
    changed = [one for one in coming if not one.is_new and one.changes]
    differ = [*new, *changed]
    same = len(coming) - len(differ)
    return Preview(
        title="Import materials",
        about="Each value with what it replaces on your shelf",
        back=(reverse("exchange:bring_in"), "Import and export"),
        mark="good" if differ else "none",
        says=f"{len(new)} new, {len(changed)} changed, {same} the same"
        + ("." if differ else ". Nothing in the file differs from your shelf."),
        heads=(Head("material"), Head("value"), Head("on your shelf"), Head("in the file")),
        lines=tuple(_lines(differ[:SHOWN])),
        more=max(len(differ) - SHOWN, 0),
        actions=(Action("take", "Import all", is_main=True),) if differ else (),
        carried={"text": text},
        footnote="The log keeps the import. A value can be taken back on its material’s page.",
    )


def _lines(differ: Iterable[Coming]) -> Iterable[Line]:
    for one in differ:
        for place, change in enumerate(one.changes):
            name = Cell(one.name, note="new" if one.is_new else one.slug) if not place else Cell()
            now = change.now if len(change.now) <= LONGEST else f"{change.now[:LONGEST]}…"
            yield Line((name, Cell(change.name.lower()), Cell(change.was), Cell(now)))
