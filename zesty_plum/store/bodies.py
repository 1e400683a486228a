"""Bodies of one's own: every edition of their files, and which of them count."""

import sqlite3
from contextlib import suppress
from dataclasses import dataclass, replace

from ..core import bodies
from ..core.base.errors import NotFound, PlumError
from ..core.bodies import Body, file
from . import checks
from .database import hit, transaction
from .tables import Counts, Tables

MOST = 200  # bodies
MOST_ID = 40


@dataclass(frozen=True)
class Kept:
    """A body with the number of its editions and when the last one came."""

    body: Body
    editions: int
    added_at: str


def refresh(db: sqlite3.Connection) -> None:
    """Let the last edition of every body that is kept count in this process, and no others."""
    for body_id in set(bodies.bodies()) - set(bodies.shipped()):
        bodies.forget(body_id)
    for row in db.execute(
        "SELECT body, text, checked, max(edition) AS edition FROM body_file "
        "JOIN body_kept USING (body) WHERE put_away_at IS NULL GROUP BY body ORDER BY body"
    ).fetchall():
        with suppress(PlumError):  # told of on its page, and by every slip that is for it
            _count(db, row)


def _count(db: sqlite3.Connection, row: sqlite3.Row) -> None:
    """Let a body count; what this program found whole before is not looked at again."""
    digest = file.digest(row["text"])
    if row["checked"] == digest:
        bodies.bring_known(row["text"])
        return
    made = bodies.bring(row["text"])
    if row["text"] == file.dumps(made):  # as we write it, nothing is left out
        with suppress(sqlite3.OperationalError):  # a folder for reading only
            db.execute(
                "UPDATE body_file SET checked = ? WHERE body = ? AND edition = ?",
                (digest, row["body"], row["edition"]),
            )


def lend(db: sqlite3.Connection) -> None:
    """Let the bodies of another database count too, where none of that id does, so that its slips
    can be read; until `refresh`."""
    for row in db.execute(
        "SELECT body, text, max(edition) FROM body_file GROUP BY body"
    ).fetchall():
        if row["body"] not in bodies.bodies():
            with suppress(PlumError):
                bodies.bring(row["text"])


def read(text: str | bytes) -> Body:
    """A body by its file, which does not count yet; PlumError says what is wrong with it."""
    made = file.loads(text, bodies.known())
    if made.id in bodies.shipped():
        raise PlumError(
            f"There is a body '{made.id}' that ships. Give the one in the file another id."
        )
    return made


def same(db: sqlite3.Connection, made: Body) -> int | None:
    """The edition that says just the same, if one is kept."""
    for row in db.execute("SELECT edition, text FROM body_file WHERE body = ?", (made.id,)):
        if row["text"] == file.dumps(replace(made, edition=row["edition"])):
            return int(row["edition"])
    return None


def keep(db: sqlite3.Connection, made: Body, now: str) -> Body:
    """Keep a body as its next edition, or take back the one that says just the same; it counts from
    now on."""
    with transaction(db):
        last = db.execute(
            "SELECT coalesce(max(edition), 0) FROM body_file WHERE body = ?", (made.id,)
        ).fetchone()[0]
        many = db.execute("SELECT count(*) FROM body_kept").fetchone()[0]
        if not last and many >= MOST:
            raise PlumError(f"{MOST} bodies are kept already. Remove one that you use no more.")
        if last == 0 or same(db, made) != last:
            made = replace(made, edition=last + 1)
            db.execute(
                "INSERT INTO body_file (body, edition, name, text, added_at) "
                "VALUES (?, ?, ?, ?, ?)",
                (made.id, made.edition, made.name, file.dumps(made), now),
            )
        db.execute(
            "INSERT INTO body_kept (body) VALUES (?) "
            "ON CONFLICT (body) DO UPDATE SET put_away_at = NULL",
            (made.id,),
        )
    refresh(db)
    return bodies.body(made.id)


def listed(db: sqlite3.Connection) -> list[Kept]:
    """The bodies that count and can be read, by name."""
    rows = db.execute(
        "SELECT body, count(*) AS editions, max(added_at) AS added_at FROM body_file "
        "JOIN body_kept USING (body) WHERE put_away_at IS NULL GROUP BY body ORDER BY name"
    ).fetchall()
    here = bodies.bodies()
    return [Kept(here[r["body"]], r["editions"], r["added_at"]) for r in rows if r["body"] in here]


def get(db: sqlite3.Connection, body_id: str, edition: int | None = None) -> str:
    """The text of a body's file, the last edition or one of them."""
    row = db.execute(
        "SELECT text FROM body_file WHERE body = ? AND (edition = ? OR ? IS NULL) "
        "ORDER BY edition DESC LIMIT 1",
        (body_id, edition, edition),
    ).fetchone()
    if row is None:
        raise NotFound("This body is not kept here. Bring in its file.")
    return str(row["text"])


def put_away(db: sqlite3.Connection, body_id: str, now: str) -> str:
    """Let a body count no more; its editions stay, so that it can come back. Returns its name."""
    name = file.loads(get(db, body_id), bodies.known()).name
    with transaction(db):
        done = db.execute("UPDATE body_kept SET put_away_at = ? WHERE body = ?", (now, body_id))
        hit(done, "This body is not kept here any more.")
    refresh(db)
    return name


def take_back(db: sqlite3.Connection, body_id: str) -> Body:
    """Let a body that was put away count again."""
    get(db, body_id)
    with transaction(db):
        done = db.execute("UPDATE body_kept SET put_away_at = NULL WHERE body = ?", (body_id,))
        hit(done, "This body is not kept here any more.")
    refresh(db)
    return bodies.body(body_id)


def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    for row in source.execute("SELECT * FROM body_file").fetchall():
        db.execute(
            "INSERT OR IGNORE INTO body_file (body, edition, name, text, added_at) "
            "VALUES (:body, :edition, :name, :text, :added_at)",
            dict(row),
        )
    for row in source.execute("SELECT * FROM body_kept").fetchall():
        db.execute(
            "INSERT OR IGNORE INTO body_kept (body, put_away_at) VALUES (:body, :put_away_at)",
            dict(row),
        )
    return 0, 0


def _check_row(row: sqlite3.Row) -> None:
    made = read(checks.text(row, "text", file.MOST_BYTES))
    if made.id != checks.text(row, "body", MOST_ID) or made.name != row["name"]:
        raise PlumError("its file is another body's")
    if made.edition != checks.whole(row, "edition", 1, 10**6):
        raise PlumError("its file is another edition's")
    checks.moment(row, "added_at")


def _check_kept(row: sqlite3.Row) -> None:
    checks.text(row, "body", MOST_ID)
    checks.moment(row, "put_away_at", may_lack=True)


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "body_file", "Body", _check_row)
    checks.every(db, "body_kept", "Kept body", _check_kept)


TABLES = Tables({"body_file": _copy}, {"body_kept": "body_file"}, order=0, checked=_checked)
