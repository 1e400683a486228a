"""Bringing many recipes in: looked at first, then taken in whole in one transaction, and taken back
when that was a mistake."""

import json
import sqlite3
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from ..core.base.errors import NotFound, PlumError
from ..core.bodies import marks
from ..core.exchange import Brought
from ..core.recipe import Recipe, from_data, to_data
from . import shelf, slips
from .database import transaction
from .tables import Tables

NEW, NEXT, SKIP = "new", "next", "skip"
KEPT = 20  # batches that are remembered, so that they can be taken back


@dataclass(frozen=True)
class Row:
    """A recipe of a batch; `same` the slips that do just this, `named` the slip of its name,
    `offered` what is proposed."""

    brought: Brought
    same: list[tuple[int, str]]
    named: int | None
    offered: str


def stage(db: sqlite3.Connection, found: list[Brought], now: str) -> int:
    """Keep what was read until a person has looked at it; returns the batch's id."""
    text = json.dumps(
        [
            {
                "recipe": to_data(b.recipe),
                "carried": b.recipe.carried,
                "file": b.file,
                "tags": b.tags,
            }
            for b in found
        ],
        ensure_ascii=False,
    )
    with transaction(db):
        made = db.execute("INSERT INTO intake (made_at, recipes) VALUES (?, ?)", (now, text))
        db.execute("DELETE FROM intake WHERE id <= ?", (int(made.lastrowid or 0) - KEPT,))
    return int(made.lastrowid or 0)


def _batch(
    db: sqlite3.Connection, batch: int
) -> tuple[list[Brought], dict[str, list[list[int]]] | None]:
    row = db.execute("SELECT recipes, done FROM intake WHERE id = ?", (batch,)).fetchone()
    if row is None:
        raise NotFound("What was brought in here is not kept any more. Choose the files again.")
    try:
        return list(_read(row["recipes"], marks())), json.loads(row["done"]) if row[
            "done"
        ] else None
    except (ValueError, TypeError, KeyError, AttributeError) as error:
        raise NotFound(
            "What was brought in here cannot be read any more. Choose the files again."
        ) from error


@lru_cache(maxsize=1)  # looked at, then taken in
def _read(text: str, bodies: str) -> tuple[Brought, ...]:
    """The recipes of a batch, while the same `bodies` are here."""
    del bodies
    return tuple(Brought(_recipe(r), r["file"], tuple(r["tags"])) for r in json.loads(text))


def _recipe(told: dict[str, Any]) -> Recipe:
    made = from_data(told["recipe"])
    return replace(made, carried=tuple(map(str, told.get("carried", made.carried))))


def rows(db: sqlite3.Connection, batch: int) -> list[Row]:
    """What will happen to each recipe: new, or left out where a slip or an earlier row does just
    the same."""
    found, _ = _batch(db, batch)
    made, seen = list[Row](), dict[str, str]()
    for brought in found:
        key = brought.recipe.key
        same = shelf.same(db, brought.recipe) or ([(0, seen[key])] if key in seen else [])
        seen.setdefault(key, brought.recipe.name)
        made.append(Row(brought, same, shelf.named(db, brought.recipe.name), SKIP if same else NEW))
    return made


def taken(db: sqlite3.Connection, batch: int) -> int:
    """How many slips the batch made or changed; 0 while it is only looked at."""
    return len((_batch(db, batch)[1] or {"made": []})["made"])


def take(db: sqlite3.Connection, batch: int, choices: list[str], now: str) -> list[int]:
    """Take a batch in, all of it or nothing: `choices` is new, next (a version of the slip of that
    name) or skip for each row.

    Returns the slips made or changed. A batch that was taken in already is not taken in twice.
    """
    made: list[list[int]] = []
    with transaction(db):  # two who press at once: the second finds it done
        found, done = _batch(db, batch)
        if done is not None:
            return [k for k, _ in done["made"]]
        if len(choices) != len(found) or not set(choices) <= {NEW, NEXT, SKIP}:
            raise PlumError(
                "Something is missing in this form, so nothing was taken in. Choose the files "
                "again."
            )
        for brought, choice in zip(found, choices):
            if choice != SKIP:
                made.append(_taken_in(db, brought, choice == NEXT, now))
        db.execute("UPDATE intake SET done = ? WHERE id = ?", (json.dumps({"made": made}), batch))
    return [k for k, _ in made]


def _taken_in(db: sqlite3.Connection, brought: Brought, onto_named: bool, now: str) -> list[int]:
    """Slip that a recipe became, and the version before it or 0 where it is a new one; inside the
    caller's transaction."""
    onto = shelf.named(db, brought.recipe.name) if onto_named else None
    if onto is None:
        slip_id, before = slips.add(db, brought.recipe, now), 0
    else:
        slip_id, before = onto, slips.append(db, onto, brought.recipe, now) - 1
    for tag in brought.tags:
        db.execute("INSERT OR IGNORE INTO tag (slip, tag) VALUES (?, ?)", (slip_id, tag))
    if brought.tags:
        shelf.put(db, slip_id)
    return [slip_id, before]


def take_back(db: sqlite3.Connection, batch: int, now: str) -> int:
    """Undo: new slips go into the trash; slips that got a version get the one before it again, as
    their newest."""
    with transaction(db):
        _, done = _batch(db, batch)
        if done is None:
            raise PlumError("Nothing of this was taken in, so there is nothing to take back.")
        for slip_id, before in done["made"]:
            if before:
                slips.append(db, slip_id, slips.get(db, slip_id, before).recipe, now)
            else:
                db.execute("UPDATE slip SET deleted_at = ? WHERE id = ?", (now, slip_id))
        db.execute("UPDATE intake SET done = NULL WHERE id = ?", (batch,))
    return len(done["made"])


TABLES = Tables(
    left_out={"intake": "batches that were looked at before they were taken in are one library's"}
)
