"""Whether the rows of a database mean anything, table by table, as at bringing in. A backup is
checked by this before anything changes."""

import re
import sqlite3
from collections.abc import Callable

from ..core.base.errors import PlumError


class CannotRead(PlumError):
    """Something that is kept means nothing; `why` is the reason alone."""

    def __init__(self, what: str, error: PlumError) -> None:
        self.why = str(error).rstrip(".")
        super().__init__(
            f"{what} cannot be read: {self.why}. On the page of slips it can be taken away as it "
            "is."
        )


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
            read(row)
        except PlumError as error:
            why = str(error).rstrip(".")
            raise PlumError(f"{called} {row[0]} cannot be read: {why}.") from error


def none(db: sqlite3.Connection, query: str, words: str) -> None:
    """Refuse when a query finds anything."""
    found = db.execute(query).fetchone()
    if found is not None:
        raise PlumError(words.format(*found))
