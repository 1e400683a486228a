"""What cannot be read, of whatever room, as after a body was taken out of the program: told of,
taken away as it is, and removed."""

import json
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from ..core.base.errors import NotFound
from ..core.base.text import well_formed
from . import cases, drills, notes, outings, rounds, slips
from .checks import CannotRead, made
from .database import hit, transaction

SLIP = "slip"
Reader = Callable[[sqlite3.Connection, sqlite3.Row], object]


@dataclass(frozen=True)
class Kind:
    """A kind of thing that may be unreadable: its table and what belongs to it, by the column that
    names it; the column of its name, and the one that puts it away; and its reader."""

    parts: tuple[tuple[str, str], ...]
    away: str = "deleted_at"
    name: str = "name"
    read: Reader | None = None  # slips are looked for on the shelf

    @property
    def table(self) -> str:
        """Its own table."""
        return self.parts[0][0]


def _alone(read: Callable[[sqlite3.Row], object]) -> Reader:
    """A reader that needs no more than the row."""
    return lambda _, row: read(row)


KINDS = {
    SLIP: Kind((("slip", "id"), ("version", "slip"))),
    "round": Kind((("blind", "id"), ("blind_answer", "blind")), name="", read=rounds.read_round),
    "note": Kind((("trial", "id"),), name="asked", read=_alone(notes.read_trial)),
    "plan": Kind((("single", "id"),), read=_alone(notes.read_single)),
    "day": Kind((("outing", "id"), ("outing_shoot", "outing")), read=_alone(outings.read_day)),
    "shoot": Kind((("outing_shoot", "id"),), "removed_at", "", _alone(outings.read_shoot)),
    "camera": Kind(
        (("kit_case", "id"), ("kit_slot", "case_id")), "retired_at", read=_alone(cases.read_case)
    ),
    "drill": Kind((("drill", "id"), ("drill_answer", "drill")), name="", read=drills.read_drill),
}
MOST_SHOWN = 100


@dataclass(frozen=True)
class Unreadable:
    """What it is, its number, the name that it seems to have, and why it cannot be read."""

    kind: str
    id: int
    name: str
    why: str


def listed(db: sqlite3.Connection) -> list[Unreadable]:
    """All that cannot be read, the newest first."""
    found = []
    missing = (
        "SELECT id, name FROM slip WHERE deleted_at IS NULL "
        "AND id NOT IN (SELECT slip FROM shelf) ORDER BY id DESC LIMIT ?"
    )
    for row in db.execute(missing, (MOST_SHOWN,)).fetchall():
        try:
            slips.get(db, row["id"])
            why = "it has no place on the shelf; start Zesty Plum again"
        except CannotRead as error:
            why = error.why
        except NotFound:
            why = "it has no version"
        found.append(Unreadable(SLIP, row["id"], _name(row["name"]), why))
    for word, kind in KINDS.items():
        found += _broken(db, word, kind) if kind.read else []
    return found


def _broken(db: sqlite3.Connection, word: str, kind: Kind) -> list[Unreadable]:
    assert kind.read is not None
    out = []
    # names are our own
    every = f"SELECT * FROM {kind.table} WHERE {kind.away} IS NULL ORDER BY id DESC"
    for row in db.execute(every).fetchall():
        try:
            made(word, row, partial(kind.read, db))
        except CannotRead as error:
            called = _name(row[kind.name]) if kind.name else f"number {row['id']}"
            out.append(Unreadable(word, row["id"], called, error.why))
    return out[:MOST_SHOWN]


def _name(value: object) -> str:
    return well_formed(value)[:80] if isinstance(value, str) and value else "Without a name"


def as_it_is(db: sqlite3.Connection, kind: str, number: int) -> str:
    """Everything that the database holds of it, as JSON; what is no text is told in hexadecimal."""
    known = _known(kind)
    held: dict[str, list[dict[str, Any]]] = {}
    for name, column in known.parts:
        rows = db.execute(f"SELECT * FROM {name} WHERE {column} = ?", (number,))  # our own names
        held[name] = [{k: _plain(row[k]) for k in row.keys()} for row in rows]  # noqa: SIM118
    if not held[known.table]:
        raise NotFound("It is not there any more.")
    return json.dumps(held, ensure_ascii=False, indent=2) + "\n"


def _plain(value: object) -> object:
    return f"bytes {value.hex()}" if isinstance(value, bytes) else value


def remove(db: sqlite3.Connection, kind: str, number: int, now: str | None) -> None:
    """Put it away, or with no time take it back; nothing of it is lost."""
    known = _known(kind)
    with transaction(db):
        done = db.execute(f"UPDATE {known.table} SET {known.away} = ? WHERE id = ?", (now, number))
        hit(done, "It is not there any more.")


def _known(kind: str) -> Kind:
    if kind not in KINDS:
        raise NotFound("There is nothing of that kind.")
    return KINDS[kind]
