"""What a library holds for the first editions of bodies, carried over to their dials of today:
once, when a library or a backup is opened that was written before.

A slip gets a version more, and keeps what it was; plans of one change, slots and drills are written
anew. What cannot be read stays as it is, and is told of where it is met.
"""

import json
import sqlite3
from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Any

from ..core.base.errors import PlumError
from ..core.bodies import Body, Dial, Value, body, first
from ..core.recipe import EDITION, dumps, loads
from ..core.recipe.earlier import carry
from . import shelf
from .database import transaction

_UNSAID = f"""NOT LIKE '%"{EDITION}"%'"""
Row = sqlite3.Row
TOLD = 100  # slips after which it is told how far it is


def carry_over(db: sqlite3.Connection, say: Callable[[str], None] = lambda _: None) -> int:
    """Carry over what was not yet, all of it or nothing; returns how many slips got a version.
    `say` hears how far it is, where that takes a while."""
    found = {name: _rows(db, query) for name, (query, _) in _TABLES.items()}
    if not any(found.values()):
        return 0
    many = len(found["version"])
    for k, row in enumerate(found["version"]):  # which is remembered, so that writing is quick
        if k % TOLD == 0 and many > TOLD:
            say(f"Carrying slips over to the dials that bodies have today, once: {k:,} of {many:,}")
        with suppress(PlumError):
            loads(row["recipe"])
    with transaction(db):
        for name, (_, change) in _TABLES.items():
            for row in found[name]:
                with suppress(PlumError, ValueError, TypeError, KeyError, AttributeError):
                    change(db, row)
        db.execute("DELETE FROM kit_before")  # it would undo with dials that are gone
    return many


def _rows(db: sqlite3.Connection, query: str) -> list[Row]:
    return [r for r in db.execute(query).fetchall() if _of_first(str(r["recipe"]))]


def _of_first(text: str) -> bool:
    try:
        said = json.loads(text)
    except (ValueError, RecursionError):
        return False
    return isinstance(said, dict) and said.get("body") in first()


def _version(db: sqlite3.Connection, row: Row) -> None:
    """At the same moment, so that the same slip in a backup stays the same."""
    text = dumps(loads(row["recipe"]))
    values = (row["slip"], row["number"] + 1, text, row["saved_at"])
    db.execute("INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, ?, ?, ?)", values)
    db.execute(
        "UPDATE kit_slot SET version = version + 1 WHERE slip = ? AND version = ?",
        (row["slip"], row["number"]),
    )
    shelf.take_off(db, row["slip"])  # until it is put there anew


def _slot(db: sqlite3.Connection, row: Row) -> None:
    made = loads(row["recipe"])
    left = json.loads(row["left_so"]) if row["left_so"] else None
    if left is not None:
        left = carry(made.body, left).dials
    db.execute(
        "UPDATE kit_slot SET recipe = ?, left_so = ? WHERE case_id = ? AND key = ?",
        (dumps(made), None if left is None else json.dumps(left), row["case_id"], row["key"]),
    )


def _single(db: sqlite3.Connection, row: Row) -> None:
    made, old = loads(row["recipe"]), json.loads(row["recipe"])
    dial, places = _turned(made.body, old.get("dials", {}), row["dial"], json.loads(row["places"]))
    marks = [
        [light, places[place], *more]
        for light, place, *more in json.loads(row["marks"]) or ()
        if place in places
    ]
    kept = {(light, place): [light, place, *more] for light, place, *more in marks}
    db.execute(
        "UPDATE single SET base = ?, dial = ?, places = ?, marks = ? WHERE id = ?",
        (
            dumps(made),
            dial.id,
            json.dumps(sorted(set(places.values()), key=dial.position)),
            json.dumps(list(kept.values()), ensure_ascii=False),
            row["id"],
        ),
    )


def _turned(
    body_id: str, base: Mapping[str, Value], dial_id: str, places: list[Value]
) -> tuple[Dial, dict[Value, Value]]:
    """The dial of today that does what one did, and its places by the old ones."""
    old, now = first()[body_id].dial(dial_id), body(body_id)
    dial = now.by_id.get(dial_id) or max(now.dials, key=lambda d: len(d.touches & old.touches))
    return dial, {v: carry(body_id, {**base, dial_id: v}).dials[dial.id] for v in places}


def _drill(db: sqlite3.Connection, row: Row) -> None:
    asked, said = matched(json.loads(row["recipe"]), str(row["said"]))
    db.execute(
        "UPDATE drill_answer SET question = ?, said = ? WHERE rowid = ?",
        (json.dumps(asked, ensure_ascii=False), said, row["place"]),
    )


def matched(asked: dict[str, Any], said: str) -> tuple[dict[str, Any], str]:
    """A question to match a picture by hand, and what was turned, in dials of today; another
    question as it is."""
    if not {"dials", "target"} <= set(asked):
        return asked, said
    camera, target = body(asked["body"]), dict(asked["target"])
    wanted = camera.changed(carry(camera.id, target).dials)
    head, *turned = said.split(";")
    mine = camera.changed(carry(camera.id, _turns(first()[camera.id], turned)).dials)
    offered = [k for k in asked["dials"] if k in camera.by_id]
    dials = list(dict.fromkeys([*wanted, *mine, *offered]))
    text = ";".join([head, *(f"{k}={v}" for k, v in mine.items())])
    pairs = [list(pair) for pair in wanted.items()]
    return asked | {"target": pairs, "dials": dials, EDITION: camera.edition}, text


def _turns(camera: Body, said: list[str]) -> dict[str, Value]:
    pairs = dict(part.split("=", 1) for part in said if "=" in part)
    return {
        k: next(v for v in camera.dial(k).values if str(v) == text) for k, text in pairs.items()
    }


Change = Callable[[sqlite3.Connection, Row], Any]
# What may have to be carried over, by table: what to look at, as `recipe`, and how it is written.
_TABLES: dict[str, tuple[str, Change]] = {
    "version": (
        "SELECT slip, number, recipe, saved_at FROM version WHERE number = "
        "(SELECT max(number) FROM version AS v WHERE v.slip = version.slip) "
        f"AND recipe {_UNSAID}",
        _version,
    ),
    "kit_slot": (f"SELECT * FROM kit_slot WHERE recipe {_UNSAID}", _slot),
    "single": (f"SELECT *, base AS recipe FROM single WHERE base {_UNSAID}", _single),
    "drill_answer": (
        "SELECT rowid AS place, question AS recipe, said FROM drill_answer "
        f"WHERE question LIKE '%\"target\"%' AND question {_UNSAID}",
        _drill,
    ),
}
