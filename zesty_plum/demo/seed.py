"""Filling an empty library with the crew's slips, so that the demo has something to show."""

import sqlite3

from ..store import bodies, shelf, slips
from . import TAGS, TAUGHT, VARIED_FROM, drill, kit, notes, outing, recipes


def seed(db: sqlite3.Connection, now: str) -> None:
    """Put the crew's slips, a body that was taught, their cameras, a day of theirs and what they
    noted into a library that holds none and never did."""
    if shelf.count(db) or shelf.count(db, deleted=True):
        return
    bodies.keep(db, bodies.read(TAUGHT.read_bytes()), now)
    made: dict[str, slips.Slip] = {}
    for each in recipes():
        older = made.get(VARIED_FROM.get(each.name, ""))
        made[each.name] = slips.create(db, each, now, (older.id, 1) if older else None)
        for tag in TAGS.get(each.name, []):
            shelf.tag(db, [made[each.name].id], tag)
    kit.fill(db, made, now)
    outing.fill(db, now)
    notes.fill(db, made, now)
    drill.fill(db, now)
