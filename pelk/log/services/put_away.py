"""Putting away and bringing back: one way for the rows of every station."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from django.db import transaction

from pelk.log.models import Station
from pelk.log.services.record import record
from pelk.yards.models import Lockable, PutAway, User

Row = TypeVar("Row", bound=PutAway)


def _nothing(row: Any) -> None:
    return None


def _always(row: Any) -> bool:
    return True


def _no_address(row: Any) -> str:
    return ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Shelving(Generic[Row]):
    """How the rows of one kind are put away and brought back, each a deed in the log.

    Attributes
    ----------
    model : type
        Whose rows they are.
    station : Station
        Where the deed belongs.
    says : callable
        What the log says of a row, with one of the two words in it.
    away, back : str
        The words for either way.
    locks : callable
        Which row everything hangs on that changes with it; the row itself without a word.
    then : callable
        What moves with it, in the same transaction.
    may_go, may_come_back : callable
        Whether it can be put away at all, and brought back.
    address, away_address : callable
        Where the log's line leads, for either way.
    """

    model: type[Row]
    station: Station
    says: Callable[[Row, str], str]
    away: str = "deleted"
    back: str = "brought back"
    locks: Callable[[Row], Lockable] | None = None
    then: Callable[[Row], None] = _nothing
    may_go: Callable[[Row], bool] = _always
    may_come_back: Callable[[Row], bool] = _always
    address: Callable[[Row], str] = _no_address
    away_address: Callable[[Row], str] = _no_address

    @transaction.atomic
    def put_away(self, row: Row, *, by: User | None) -> None:
        """Put a row away; whoever comes second does nothing."""
        (self.locks(row) if self.locks else row).lock()
        if row.put_away():
            self._note(row, by, self.away, self.away_address)

    @transaction.atomic
    def bring_back(self, row: Row, *, by: User | None) -> None:
        """Undo it; whoever comes second does nothing."""
        (self.locks(row) if self.locks else row).lock()
        if self.may_come_back(row) and row.bring_back():
            self._note(row, by, self.back, self.address)

    def _note(self, row: Row, by: User | None, word: str, address: Callable[[Row], str]) -> None:
        self.then(row)
        yard: Any = row.yard
        text, url = self.says(row, word), address(row)
        record(yard=yard, by=by, station=self.station, text=text, url=url)
