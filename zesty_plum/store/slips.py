"""Slips: named recipes with versions that are never overwritten, and a trash that gives things back."""

import sqlite3
from dataclasses import dataclass, replace

from ..core.errors import NotFound, PlumError
from ..core.recipe import Recipe, dumps, loads
from .database import transaction

NAME_LENGTH = 120


@dataclass(frozen=True)
class Slip:
    """A slip with its newest version."""

    id: int
    name: str
    version: int
    versions: int
    recipe: Recipe
    saved_at: str
    deleted: bool
    parent: int | None


_LISTED = """
SELECT slip.id, slip.name, slip.deleted_at, version.number, version.recipe, version.saved_at, origin.slip AS parent,
       (SELECT count(*) FROM version AS v WHERE v.slip = slip.id) AS versions
FROM slip
JOIN version ON version.slip = slip.id
LEFT JOIN version AS origin ON origin.id = slip.parent_version
"""
_NEWEST = " AND version.number = (SELECT max(number) FROM version AS v WHERE v.slip = slip.id)"


def _slip(row: sqlite3.Row) -> Slip:
    recipe = replace(loads(row["recipe"]), name=row["name"])
    return Slip(row["id"], row["name"], row["number"], row["versions"], recipe, row["saved_at"], row["deleted_at"] is not None,
                row["parent"])  # fmt: skip


def _name(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise PlumError("A slip needs a name. Type one and save again.")
    if len(name) > NAME_LENGTH:
        raise PlumError(f"A name can have {NAME_LENGTH} characters; this one has {len(name)}. Shorten it.")
    return name


def listed(db: sqlite3.Connection, deleted: bool = False) -> list[Slip]:
    """All slips, newest first; or those in the trash."""
    state = "IS NOT NULL" if deleted else "IS NULL"
    query = f"{_LISTED} WHERE slip.deleted_at {state}{_NEWEST} ORDER BY version.saved_at DESC, slip.id DESC"
    return [_slip(r) for r in db.execute(query)]


def get(db: sqlite3.Connection, slip_id: int, number: int | None = None) -> Slip:
    """A slip at its newest version, or at version `number`."""
    if number is None:
        row = db.execute(f"{_LISTED} WHERE slip.id = ?{_NEWEST}", (slip_id,)).fetchone()
    else:
        row = db.execute(f"{_LISTED} WHERE slip.id = ? AND version.number = ?", (slip_id, number)).fetchone()
    if row is None:
        what = f"no slip {slip_id}" if number is None else f"no version {number} of slip {slip_id}"
        raise NotFound(f"There is {what}. It may have been made on another machine; look among your slips.")
    return _slip(row)


def history(db: sqlite3.Connection, slip_id: int) -> list[Slip]:
    """All versions of a slip, newest first."""
    return [_slip(r) for r in db.execute(f"{_LISTED} WHERE slip.id = ? ORDER BY version.number DESC", (slip_id,))]


def create(db: sqlite3.Connection, recipe: Recipe, now: str, parent: tuple[int, int] | None = None) -> Slip:
    """Write a new slip at version 1; `parent` is the (slip, version) it was varied from."""
    name = _name(recipe.name)
    with transaction(db):
        origin = None
        if parent is not None:
            row = db.execute("SELECT id FROM version WHERE slip = ? AND number = ?", parent).fetchone()
            origin = row["id"] if row else None
        made = db.execute("INSERT INTO slip (name, parent_version, made_at) VALUES (?, ?, ?)", (name, origin, now))
        slip_id = int(made.lastrowid or 0)
        text = dumps(replace(recipe, name=name))
        db.execute("INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, 1, ?, ?)", (slip_id, text, now))
    return get(db, slip_id)


def save(db: sqlite3.Connection, slip_id: int, recipe: Recipe, now: str) -> Slip:
    """Add a version to a slip, which takes the recipe's name; the older ones stay."""
    name = _name(recipe.name)
    with transaction(db):
        row = db.execute("SELECT max(number) AS newest FROM version WHERE slip = ?", (slip_id,)).fetchone()
        if row["newest"] is None:
            raise NotFound(f"There is no slip {slip_id} to save to. Save it as a new one.")
        text = dumps(replace(recipe, name=name))
        values = (slip_id, row["newest"] + 1, text, now)
        db.execute("INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, ?, ?, ?)", values)
        db.execute("UPDATE slip SET name = ?, deleted_at = NULL WHERE id = ?", (name, slip_id))
    return get(db, slip_id)


def rename(db: sqlite3.Connection, slip_id: int, name: str) -> Slip:
    """Give a slip another name; versions keep the names they were saved under."""
    name = _name(name)
    with transaction(db):
        changed = db.execute("UPDATE slip SET name = ? WHERE id = ?", (name, slip_id)).rowcount
    if not changed:
        raise NotFound(f"There is no slip {slip_id} to rename.")
    return get(db, slip_id)


def delete(db: sqlite3.Connection, slip_id: int, now: str) -> None:
    """Put a slip into the trash."""
    with transaction(db):
        changed = db.execute("UPDATE slip SET deleted_at = ? WHERE id = ? AND deleted_at IS NULL", (now, slip_id)).rowcount
    if not changed:
        raise NotFound(f"There is no slip {slip_id} to delete.")


def restore(db: sqlite3.Connection, slip_id: int) -> Slip:
    """Take a slip back out of the trash."""
    with transaction(db):
        db.execute("UPDATE slip SET deleted_at = NULL WHERE id = ?", (slip_id,))
    return get(db, slip_id)
