"""Slips, blind rounds and notes that cannot be read, as after a body was taken out of the program:
told of, taken away as they are, and removed."""

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from ..core.base.errors import NotFound
from ..core.base.text import well_formed
from . import notes, rounds, slips
from .checks import CannotRead
from .database import transaction

SLIP, ROUND, NOTE, PLAN = "slip", "round", "note", "plan"
_TABLES = {SLIP: "slip", ROUND: "blind", NOTE: "trial", PLAN: "single"}
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
    for row, why in rounds.broken(db):
        found.append(Unreadable(ROUND, row["id"], f"Blind round {row['id']}", why))
    for kind, number, name, why in notes.broken(db):
        found.append(Unreadable(kind, number, _name(name), why))
    return found


def _name(value: object) -> str:
    return well_formed(value)[:80] if isinstance(value, str) and value else "Without a name"


def as_it_is(db: sqlite3.Connection, kind: str, number: int) -> str:
    """Everything that the database holds of it, as JSON; what is no text is told in hexadecimal."""
    parts = {
        SLIP: (("slip", "id"), ("version", "slip")),
        ROUND: (("blind", "id"), ("blind_answer", "blind")),
        NOTE: (("trial", "id"),),
        PLAN: (("single", "id"),),
    }
    if kind not in parts:
        raise NotFound("There is nothing of that kind.")
    held: dict[str, list[dict[str, Any]]] = {}
    table = parts[kind][0][0]
    for name, column in parts[kind]:
        rows = db.execute(f"SELECT * FROM {name} WHERE {column} = ?", (number,))  # our own names
        held[name] = [{k: _plain(row[k]) for k in row.keys()} for row in rows]  # noqa: SIM118
    if not held[table]:
        raise NotFound("It is not there any more.")
    return json.dumps(held, ensure_ascii=False, indent=2) + "\n"


def _plain(value: object) -> object:
    return f"bytes {value.hex()}" if isinstance(value, bytes) else value


def remove(db: sqlite3.Connection, kind: str, number: int, now: str | None) -> None:
    """Put it away, or with no time take it back; nothing of it is lost."""
    if kind not in _TABLES:
        raise NotFound("There is nothing of that kind.")
    with transaction(db):
        db.execute(f"UPDATE {_TABLES[kind]} SET deleted_at = ? WHERE id = ?", (now, number))
