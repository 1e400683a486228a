"""Slips: named recipes with versions that are never overwritten, and a trash that gives things
back."""

import sqlite3
from contextlib import suppress
from dataclasses import dataclass, replace

from ..core.base.errors import NotFound, PlumError
from ..core.recipe import MOST_BYTES, MOST_NAME, Recipe, dumps, loads
from . import checks, shelf
from .database import hit, transaction
from .tables import Counts, Tables

MOST_VERSIONS = 10**6


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
SELECT slip.id, slip.name, slip.deleted_at, version.number, version.recipe, version.saved_at,
       origin.slip AS parent,
       (SELECT count(*) FROM version AS v WHERE v.slip = slip.id) AS versions
FROM slip
JOIN version ON version.slip = slip.id
LEFT JOIN version AS origin ON origin.id = slip.parent_version
"""
_NEWEST = " AND version.number = (SELECT max(number) FROM version AS v WHERE v.slip = slip.id)"


def _slip(row: sqlite3.Row) -> Slip:
    try:
        _check_version(row)
        recipe = replace(loads(row["recipe"]), name=checks.text(row, "name", MOST_NAME, 1))
    except PlumError as error:
        raise checks.CannotRead(f"Slip {row['id']}", error) from error
    return Slip(
        row["id"],
        row["name"],
        row["number"],
        row["versions"],
        recipe,
        row["saved_at"],
        row["deleted_at"] is not None,
        row["parent"],
    )


def _name(name: str) -> str:
    name = " ".join(name.split())
    if not name:
        raise PlumError("A slip needs a name. Type one and save again.")
    if len(name) > MOST_NAME:
        raise PlumError(
            f"A name can have {MOST_NAME} characters; this one has {len(name)}. Shorten it."
        )
    return name


def some(db: sqlite3.Connection, ids: list[int]) -> list[Slip]:
    """The slips of these ids, in this order; ids that are not there are left out, and slips that
    cannot be read. Those leave the shelf, so that no list meets them again (`unreadable`)."""
    found: dict[int, Slip] = {}
    for k in range(0, len(ids), 500):
        part = ids[k : k + 500]
        query = f"{_LISTED} WHERE slip.id IN ({','.join('?' * len(part))}){_NEWEST}"
        for row in db.execute(query, part).fetchall():
            try:
                found[row["id"]] = _slip(row)
            except PlumError:
                with suppress(sqlite3.OperationalError):  # a folder for reading only
                    shelf.take_off(db, row["id"])
    return [found[k] for k in ids if k in found]


def variants(db: sqlite3.Connection, slip_id: int) -> list[Slip]:
    """What was varied from a slip, oldest first."""
    query = (
        "SELECT slip.id FROM slip JOIN version ON version.id = parent_version WHERE "
        "version.slip = ? AND deleted_at IS NULL"
    )
    return some(db, [r["id"] for r in db.execute(f"{query} ORDER BY slip.id", (slip_id,))])


def get(db: sqlite3.Connection, slip_id: int, number: int | None = None) -> Slip:
    """A slip at its newest version, or at version `number`."""
    if number is None:
        row = db.execute(f"{_LISTED} WHERE slip.id = ?{_NEWEST}", (slip_id,)).fetchone()
    else:
        row = db.execute(
            f"{_LISTED} WHERE slip.id = ? AND version.number = ?", (slip_id, number)
        ).fetchone()
    if row is None:
        what = f"no slip {slip_id}" if number is None else f"no version {number} of slip {slip_id}"
        raise NotFound(
            f"There is {what}. It may have been made on another machine; look among your slips."
        )
    return _slip(row)


def history(db: sqlite3.Connection, slip_id: int) -> list[Slip]:
    """All versions of a slip that can be read, newest first."""
    found = []
    query = f"{_LISTED} WHERE slip.id = ? ORDER BY version.number DESC"
    for row in db.execute(query, (slip_id,)).fetchall():
        with suppress(PlumError):
            found.append(_slip(row))
    return found


def add(
    db: sqlite3.Connection, recipe: Recipe, now: str, parent: tuple[int, int] | None = None
) -> int:
    """Id of a new slip at version 1, inside the caller's transaction; `parent` is the (slip,
    version) it was varied from."""
    name = _name(recipe.name)
    origin = None
    if parent is not None:
        row = db.execute("SELECT id FROM version WHERE slip = ? AND number = ?", parent).fetchone()
        origin = row["id"] if row else None
    made = db.execute(
        "INSERT INTO slip (name, parent_version, made_at) VALUES (?, ?, ?)", (name, origin, now)
    )
    slip_id = int(made.lastrowid or 0)
    recipe = recipe if recipe.name == name else replace(recipe, name=name)
    first = db.execute(
        "INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, 1, ?, ?)",
        (slip_id, dumps(recipe), now),
    )
    shelf.put_new(db, slip_id, int(first.lastrowid or 0), recipe, now)
    return slip_id


def append(db: sqlite3.Connection, slip_id: int, recipe: Recipe, now: str) -> int:
    """Number of a slip's next version, inside the caller's transaction; the slip takes the recipe's
    name."""
    name = _name(recipe.name)
    row = db.execute(
        "SELECT max(number) AS newest FROM version WHERE slip = ?", (slip_id,)
    ).fetchone()
    if row["newest"] is None:
        raise NotFound(f"There is no slip {slip_id} to save to. Save it as a new one.")
    text = dumps(replace(recipe, name=name))
    values = (slip_id, row["newest"] + 1, text, now)
    db.execute("INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, ?, ?, ?)", values)
    db.execute("UPDATE slip SET name = ?, deleted_at = NULL WHERE id = ?", (name, slip_id))
    shelf.put(db, slip_id)
    return int(row["newest"]) + 1


def create(
    db: sqlite3.Connection, recipe: Recipe, now: str, parent: tuple[int, int] | None = None
) -> Slip:
    """Write a new slip at version 1; `parent` is the (slip, version) it was varied from."""
    with transaction(db):
        return get(db, add(db, recipe, now, parent))


def save(db: sqlite3.Connection, slip_id: int, recipe: Recipe, now: str) -> Slip:
    """Add a version to a slip, which takes the recipe's name; the older ones stay."""
    with transaction(db):
        return get(db, slip_id, append(db, slip_id, recipe, now))


def rename(db: sqlite3.Connection, slip_id: int, name: str) -> Slip:
    """Give a slip another name; versions keep the names they were saved under."""
    name = _name(name)
    with transaction(db):
        done = db.execute("UPDATE slip SET name = ? WHERE id = ?", (name, slip_id))
        hit(done, f"There is no slip {slip_id} to rename.")
        shelf.put(db, slip_id)
        return get(db, slip_id)


def delete(db: sqlite3.Connection, slip_ids: list[int], now: str) -> str:
    """Put slips into the trash; returns the moment by which they come back together, which is this
    deletion's own even where another was made in the same second."""
    with transaction(db):
        moment, number = now, 0
        while db.execute("SELECT 1 FROM slip WHERE deleted_at = ?", (moment,)).fetchone():
            number += 1
            moment = f"{now.removesuffix('Z')}.{number:03d}Z"
        query = "UPDATE slip SET deleted_at = ? WHERE id = ? AND deleted_at IS NULL"
        changed = sum(db.execute(query, (moment, slip_id)).rowcount for slip_id in slip_ids)
    if slip_ids and not changed:
        raise NotFound(
            "What should be deleted is not among your slips; it may be in the trash already."
        )
    return moment


def deleted_at(db: sqlite3.Connection, moment: str = "") -> list[int]:
    """Ids of what lies in the trash; with `moment`, of what was put there together at that time."""
    where, given = ("= ?", (moment,)) if moment else ("IS NOT NULL", ())
    return [
        r["id"]
        for r in db.execute(f"SELECT id FROM slip WHERE deleted_at {where} ORDER BY id", given)
    ]


def restore(db: sqlite3.Connection, slip_ids: list[int]) -> list[Slip]:
    """Take slips back out of the trash."""
    back = "UPDATE slip SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL"
    with transaction(db):
        hit(
            db.executemany(back, [(k,) for k in slip_ids]), "None of this is in the trash any more."
        )
        return some(db, slip_ids)


def _history(db: sqlite3.Connection, slip_id: int) -> tuple[str, ...]:
    return tuple(
        r["recipe"] + r["saved_at"]
        for r in db.execute("SELECT * FROM version WHERE slip = ? ORDER BY number", (slip_id,))
    )


def twin(db: sqlite3.Connection, source: sqlite3.Connection, slip_id: int) -> int | None:
    """The slip here that says all that one of another database says; None where there is none."""
    wanted = _history(source, slip_id)
    every = db.execute("SELECT id FROM slip ORDER BY id").fetchall()
    return next((int(r["id"]) for r in every if _history(db, r["id"]) == wanted), None)


def _copy(
    db: sqlite3.Connection, source: sqlite3.Connection, slip: sqlite3.Row, ids: dict[int, int]
) -> None:
    """One slip with its versions and tags; `ids` from versions there to versions here, for what was
    varied from them."""
    made = db.execute(
        "INSERT INTO slip (name, parent_version, made_at, deleted_at) VALUES (?, ?, ?, ?)",
        (slip["name"], ids.get(slip["parent_version"]), slip["made_at"], slip["deleted_at"]),
    )
    for version in source.execute(
        "SELECT * FROM version WHERE slip = ? ORDER BY number", (slip["id"],)
    ).fetchall():
        values = (made.lastrowid, version["number"], version["recipe"], version["saved_at"])
        new = db.execute(
            "INSERT INTO version (slip, number, recipe, saved_at) VALUES (?, ?, ?, ?)", values
        )
        ids[version["id"]] = int(new.lastrowid or 0)
    for tag in shelf.tags_of(source, slip["id"]):
        db.execute("INSERT INTO tag (slip, tag) VALUES (?, ?)", (made.lastrowid, tag))
    shelf.put(db, int(made.lastrowid or 0))


def _copy_slips(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    """Slips whose history is not here yet, with their versions and tags."""
    here = {_history(db, r["id"]) for r in db.execute("SELECT id FROM slip").fetchall()}
    ids, many, known = dict[int, int](), 0, 0
    for row in source.execute("SELECT * FROM slip ORDER BY id").fetchall():
        if _history(source, row["id"]) in here:
            known += 1
            continue
        _copy(db, source, row, ids)
        many += 1
    return many, known


def _check_slip(row: sqlite3.Row) -> None:
    checks.text(row, "name", MOST_NAME, 1)
    checks.moment(row, "made_at")
    checks.moment(row, "deleted_at", may_lack=True)


def _check_version(row: sqlite3.Row) -> None:
    checks.whole(row, "number", 1, MOST_VERSIONS)
    checks.moment(row, "saved_at")
    loads(checks.text(row, "recipe", MOST_BYTES, 2))


def _check_tag(row: sqlite3.Row) -> None:
    checks.text(row, "tag", shelf.TAG_LENGTH, 1)


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "slip", "Slip", _check_slip)
    checks.every(db, "version", "Version", _check_version)
    checks.every(db, "tag", "The tag of slip", _check_tag)
    for key in ("slip", "version", "tag"):
        bad = f"SELECT 1 FROM pragma_foreign_key_check('{key}')"
        checks.none(db, bad, f"A {key} in it belongs to nothing.")
    lone = "SELECT id FROM slip WHERE id NOT IN (SELECT slip FROM version)"
    checks.none(db, lone, "Slip {0} has no version.")


TABLES = Tables(
    {"slip": _copy_slips},
    comes_with={"version": "slip", "tag": "slip"},
    order=0,
    checked=_checked,
)
