"""The shelf: finding slips among thousands, and their tags. Every change of a slip writes its place
here beside it."""

import sqlite3
from contextlib import suppress
from dataclasses import replace
from functools import lru_cache

from ..core.base.errors import PlumError
from ..core.recipe import Recipe, loads
from ..core.recipe.search import PLACES, TEXTS, Query, Term, texts_of, words_of
from ..core.styles import style
from .database import hit, transaction
from .tables import Tables

SORTS = {
    "newest": "shelf.saved_at DESC, shelf.slip DESC",
    "oldest": "shelf.saved_at, shelf.slip",
    "name": "shelf.name, shelf.slip",
    "body": "shelf.body, shelf.name, shelf.slip",
    "style": "shelf.style, shelf.name, shelf.slip",
}
TAG_LENGTH = 40
EVERY = Query(())
SIGNS = {s: f"number {s} ?" for s in (">", "<", ">=", "<=")} | {
    "=": "abs(number - ?) < 0.006"
}  # thirds have two decimals


def put(db: sqlite3.Connection, slip_id: int) -> None:
    """Write the place of a slip anew; inside the caller's transaction."""
    row = db.execute(
        "SELECT slip.name, version.id, version.recipe, version.saved_at FROM slip JOIN "
        "version ON version.slip = slip.id "
        "WHERE slip.id = ? ORDER BY version.number DESC LIMIT 1",
        (slip_id,),
    ).fetchone()
    if row is None:
        raise PlumError(f"Slip {slip_id} has no version.")
    recipe = replace(loads(row["recipe"]), name=row["name"])
    db.execute("DELETE FROM shelf_dial WHERE slip = ?", (slip_id,))
    db.execute("DELETE FROM shelf_text WHERE rowid = ?", (slip_id,))
    _put(db, slip_id, row["id"], recipe, row["saved_at"], tags_of(db, slip_id))


def put_new(
    db: sqlite3.Connection, slip_id: int, version: int, recipe: Recipe, saved_at: str
) -> None:
    """The same for a slip that was made just now, with its first version."""
    _put(db, slip_id, version, recipe, saved_at, [])


def _put(
    db: sqlite3.Connection,
    slip_id: int,
    version: int,
    recipe: Recipe,
    saved_at: str,
    tags: list[str],
) -> None:
    camera, called = recipe.camera, style(recipe.look.style).name
    name = recipe.name.casefold()
    db.execute(
        "INSERT OR REPLACE INTO shelf (slip, version, saved_at, name, body, style, content) "
        "VALUES (?, ?, ?, ?, ?, ?, ?)",
        (slip_id, version, saved_at, name, camera.name, called, recipe.key),
    )
    dials = [
        (dial.id, value, dial.choice(value).label)
        for dial in camera.dials
        for value in (recipe.dials[dial.id],)
        if camera.counts(dial, recipe.dials)  # or nobody set it
    ]
    db.executemany(
        "INSERT INTO shelf_dial (slip, dial, number, words) VALUES (?, ?, ?, ?)",
        [(slip_id, k, camera.dial(k).number(v), _words(f"{v} {label}")) for k, v, label in dials],
    )
    texts = texts_of(recipe, tags)
    db.execute(
        # names are our own
        f"INSERT INTO shelf_text (rowid, {', '.join(texts)}) VALUES (?{', ?' * len(texts)})",
        (slip_id, *(text.casefold() for text in texts.values())),
    )


@lru_cache(maxsize=4096)  # places of dials, which come again in every slip
def _words(text: str) -> str:
    return "".join(f" {w}" for w in words_of(text.casefold()))


def take_off(db: sqlite3.Connection, slip_id: int) -> None:
    """Take a slip off the shelf, where no list finds it."""
    with transaction(db):
        db.execute("DELETE FROM shelf_text WHERE rowid = ?", (slip_id,))
        for table in ("shelf_dial", "shelf"):
            db.execute(f"DELETE FROM {table} WHERE slip = ?", (slip_id,))  # names are our own


def refresh(db: sqlite3.Connection) -> None:
    """Put on the shelf what is missing there, as after an update of the program; what cannot be
    read stays off it."""
    missing = "SELECT id FROM slip WHERE id NOT IN (SELECT slip FROM shelf)"
    if db.execute(f"{missing} LIMIT 1").fetchone():
        with transaction(db):
            for row in db.execute(missing).fetchall():
                with suppress(PlumError, TypeError, AttributeError):
                    put(db, row["id"])


def empty(db: sqlite3.Connection) -> None:
    """Clear the shelf, so that nothing is on it but what `refresh` puts there."""
    with transaction(db):
        for table in ("shelf_text", "shelf_dial", "shelf"):
            db.execute(f"DELETE FROM {table}")


def _match(term: Term) -> str:
    """The index's expression: every word begins a word of the field."""
    field = f"{term.field} : " if term.field else ""
    return " AND ".join(f'{field}"{w}" *' for w in words_of(term.value.casefold()))


def _is_text(term: Term) -> bool:
    return term.number is None and (not term.field or term.field in TEXTS)


def _holds(term: Term) -> tuple[str, list[object]]:
    """SQL and values of one term. Every word of a text has to begin one of the slip's words."""
    if term.number is not None:
        how = SIGNS[term.sign]
        return f"SELECT slip FROM shelf_dial WHERE dial = ? AND {how}", [term.field, term.number]
    if term.field in PLACES:
        return _stands(term)
    if not _is_text(term):
        words = words_of(term.value.casefold())
        like = " AND ".join("instr(words, ?) > 0" for _ in words)
        return f"SELECT slip FROM shelf_dial WHERE dial = ? AND {like}", [
            term.field,
            *(f" {w}" for w in words),
        ]
    return "SELECT rowid FROM shelf_text WHERE shelf_text MATCH ?", [_match(term)]


def _stands(term: Term) -> tuple[str, list[object]]:
    """Where a slip stands in the cameras that are in use: slot:A1, slot:A, in:kit, or in: with a
    camera's letter or name."""
    said = term.value.casefold().strip('"')
    sql = (
        "SELECT slip FROM kit_slot JOIN kit_case ON kit_case.id = case_id "
        "WHERE slip IS NOT NULL AND retired_at IS NULL"
    )
    if term.field == "slot":
        at = said.replace(" ", "")
        return f"{sql} AND (lower(letter || key) = ? OR lower(letter) = ?)", [at, at]
    if said == "kit":
        return sql, []
    return f"{sql} AND (lower(letter) = ? OR instr(lower(kit_case.name), ?) > 0)", [said, said]


def _where(query: Query, deleted: bool) -> tuple[str, list[object]]:
    parts, values = [f"slip.deleted_at IS {'NOT ' if deleted else ''}NULL"], list[object]()
    texts = [t for t in query.terms if _is_text(t) and not t.negated]
    if texts:  # in one go, so that the index meets the rarest word first
        parts.append("shelf.slip IN (SELECT rowid FROM shelf_text WHERE shelf_text MATCH ?)")
        values.append(" AND ".join(f"({_match(t)})" for t in texts))
    for term in (t for t in query.terms if t not in texts):
        sql, given = _holds(term)
        parts.append(f"shelf.slip {'NOT ' if term.negated else ''}IN ({sql})")
        values += given
    return " AND ".join(parts), values


def count(db: sqlite3.Connection, query: Query = EVERY, deleted: bool = False) -> int:
    """How many slips the query finds."""
    where, values = _where(query, deleted)
    found: int = db.execute(
        f"SELECT count(*) FROM slip CROSS JOIN shelf ON shelf.slip = slip.id WHERE {where}", values
    ).fetchone()[0]
    return found


def find(
    db: sqlite3.Connection,
    query: Query = EVERY,
    sort: str = "newest",
    most: int = -1,
    after: int = 0,
    deleted: bool = False,
) -> list[int]:
    """Ids of the slips that the query finds, in order."""
    if sort not in SORTS:
        raise PlumError(
            f"Slips are not sorted by '{sort[:20]}'. They can be by {', '.join(SORTS)}."
        )
    where, values = _where(query, deleted)
    rows = db.execute(
        f"SELECT shelf.slip FROM shelf CROSS JOIN slip ON slip.id = shelf.slip WHERE {where} "
        f"ORDER BY {SORTS[sort]} LIMIT ? OFFSET ?",
        (*values, most, after),
    )
    return [r["slip"] for r in rows]


def names(db: sqlite3.Connection, query: Query = EVERY, most: int = 60) -> list[tuple[int, str]]:
    """Id and name of the newest slips that the query finds."""
    ids = find(db, query, most=most)
    rows = db.execute(f"SELECT id, name FROM slip WHERE id IN ({','.join('?' * len(ids))})", ids)
    called = {r["id"]: r["name"] for r in rows}
    return [(k, called[k]) for k in ids if isinstance(called.get(k), str)]


def same(db: sqlite3.Connection, recipe: Recipe) -> list[tuple[int, str]]:
    """Slips that do just what a recipe does: id and name."""
    rows = db.execute(
        "SELECT slip.id, slip.name FROM shelf JOIN slip ON slip.id = shelf.slip "
        "WHERE content = ? AND deleted_at IS NULL ORDER BY slip.id",
        (recipe.key,),
    )
    return [(r["id"], r["name"]) for r in rows]


def named(db: sqlite3.Connection, name: str) -> int | None:
    """The slip of a name, if there is one; the oldest of several."""
    row = db.execute(
        "SELECT slip FROM shelf JOIN slip ON slip.id = shelf.slip "
        "WHERE shelf.name = ? AND deleted_at IS NULL ORDER BY slip LIMIT 1",
        (name.casefold(),),
    ).fetchone()
    return row["slip"] if row else None


def tags_of(db: sqlite3.Connection, slip_id: int) -> list[str]:
    """Tags of a slip."""
    return [
        r["tag"] for r in db.execute("SELECT tag FROM tag WHERE slip = ? ORDER BY tag", (slip_id,))
    ]


def tags(db: sqlite3.Connection) -> list[tuple[str, int]]:
    """All tags in use, and on how many slips."""
    rows = db.execute(
        "SELECT tag, count(*) AS many FROM tag JOIN slip ON slip.id = tag.slip WHERE "
        "deleted_at IS NULL GROUP BY tag ORDER BY tag"
    )
    return [(r["tag"], r["many"]) for r in rows]


def tag(db: sqlite3.Connection, slip_ids: list[int], text: str, off: bool = False) -> list[str]:
    """Put tags, apart by commas, on slips or take them off; returns them as they are kept."""
    kept = list(dict.fromkeys(t for part in text.split(",") if (t := " ".join(part.split()))))
    if not kept or any(not words_of(t) or len(t) > TAG_LENGTH for t in kept):
        raise PlumError(
            f"A tag is a word or two, at most {TAG_LENGTH} characters; commas stand between "
            "several. Type one and try again."
        )
    with transaction(db):
        for slip_id in slip_ids:
            here = db.execute("UPDATE slip SET id = id WHERE id = ?", (slip_id,))
            hit(here, f"There is no slip {slip_id} any more, so nothing was changed.")
            for each in kept:
                if off:
                    db.execute("DELETE FROM tag WHERE slip = ? AND tag = ?", (slip_id, each))
                else:
                    db.execute(
                        "INSERT OR IGNORE INTO tag (slip, tag) VALUES (?, ?)", (slip_id, each)
                    )
            said = " ".join(tags_of(db, slip_id)).casefold()
            db.execute("UPDATE shelf_text SET tag = ? WHERE rowid = ?", (said, slip_id))
    return kept


TABLES = Tables(
    left_out={
        "shelf": "it says nothing that the slips do not say, and is written beside them",
        "shelf_dial": "as shelf",
        "shelf_text": "as shelf, with the tables that SQLite keeps for it",
    }
)
