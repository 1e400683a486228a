"""Whether the rows of a database mean anything, table by table, as at bringing in. A backup is
checked by this before anything changes."""

import re
import sqlite3
from collections.abc import Callable, Iterable
from contextlib import suppress
from typing import TypeVar

from ..core.base.errors import PlumError


class CannotRead(PlumError):
    """Something that is kept means nothing; `why` is the reason alone."""

    def __init__(self, what: str, error: PlumError) -> None:
        self.why = str(error).rstrip(".")
        super().__init__(
            f"{what} cannot be read: {self.why}. On the page of slips it can be taken away as it "
            "is."
        )


BROKEN = (
    *(PlumError, ValueError, TypeError, AttributeError, LookupError),
    *(OverflowError, RecursionError),
)
Made = TypeVar("Made")


def made(called: str, row: sqlite3.Row, read: Callable[[sqlite3.Row], Made]) -> Made:
    """What a row says, read by its table's one reader, for pages and for restoring alike.
    CannotRead of whatever it stumbles over: a row may hold anything."""
    try:
        return read(row)
    except CannotRead:
        raise
    except BROKEN as error:
        why = str(error) if isinstance(error, PlumError) else "it is damaged"
        raise CannotRead(f"{called} {row[0]}", PlumError(why)) from error


def readable(rows: Iterable[sqlite3.Row], read: Callable[[sqlite3.Row], Made]) -> list[Made]:
    """What can be read of some rows; the others are told of by `unreadable`."""
    out = []
    for row in rows:
        with suppress(PlumError):
            out.append(made("It", row, read))
    return out


_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{1,6})?Z")
Reader = Callable[[sqlite3.Row], object]


def text(row: sqlite3.Row, column: str, most: int, least: int = 0) -> str:
    """A text of so many letters."""
    value = row[column]
    if not isinstance(value, str) or not least <= len(value) <= most:
        raise PlumError(
            f"its {column.replace('_', ' ')} is not a text of {least} to {most} letters"
        )
    return value


def whole(row: sqlite3.Row, column: str, low: int, high: int) -> int:
    """A whole number within limits."""
    value = row[column]
    if not isinstance(value, int) or not low <= value <= high:
        raise PlumError(f"its {column.replace('_', ' ')} is not a number from {low} to {high}")
    return value


def moment(row: sqlite3.Row, column: str, may_lack: bool = False) -> None:
    """A moment in UTC, to the second or finer."""
    value = row[column]
    if may_lack and value is None:
        return
    if not isinstance(value, str) or not _MOMENT.fullmatch(value):
        raise PlumError(f"its {column.replace('_', ' ')} is not a moment")


def every(db: sqlite3.Connection, table: str, called: str, read: Reader, where: str = "") -> None:
    """Read every row of a table; PlumError names the first that cannot be, and why."""
    for row in db.execute(f"SELECT * FROM {table} {where}"):  # names are our own schema's
        try:
            made(called, row, read)
        except CannotRead as error:
            raise PlumError(f"{called} {row[0]} cannot be read: {error.why}.") from error


def none(db: sqlite3.Connection, query: str, words: str) -> None:
    """Refuse when a query finds anything."""
    found = db.execute(query).fetchone()
    if found is not None:
        raise PlumError(words.format(*found))
