"""The database file: opening, migrating, transactions."""

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from ..core.errors import PlumError

SCHEMA = Path(__file__).parent / "schema"


def connect(path: Path) -> sqlite3.Connection:
    """Open with WAL, foreign keys and rows by name."""
    db = sqlite3.connect(path, timeout=10, isolation_level=None)
    db.row_factory = sqlite3.Row
    db.execute("PRAGMA journal_mode = WAL")
    db.execute("PRAGMA foreign_keys = ON")
    db.execute("PRAGMA synchronous = FULL")
    return db


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """One short change: all of it or nothing."""
    db.execute("BEGIN IMMEDIATE")
    try:
        yield db
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")


def migrations(folder: Path = SCHEMA) -> list[tuple[int, Path]]:
    """Numbered schema files in order."""
    return sorted((int(p.name.split("_")[0]), p) for p in folder.glob("*.sql"))


def prepare(path: Path, folder: Path = SCHEMA) -> None:
    """Bring the file to the newest schema; before a change of one that holds data a copy is kept
    beside it."""
    steps = migrations(folder)
    try:
        with closing(connect(path)) as db:
            now = db.execute("PRAGMA user_version").fetchone()[0]
            if now > steps[-1][0]:
                raise PlumError(
                    f"The data in {path.parent} was written by a newer Zesty Plum (schema "
                    f"{now}). Update the program to open it."
                )
            due = [(n, p) for n, p in steps if n > now]
            if not due:
                return
            if now:
                db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                shutil.copy2(path, path.with_suffix(f".before-{due[-1][0]}.db"))
            with transaction(db):
                # Another process may have been here first; only what is still due is done.
                now = db.execute("PRAGMA user_version").fetchone()[0]
                for number, script in due:
                    if number > now:
                        for statement in _statements(script.read_text(encoding="utf-8")):
                            db.execute(statement)
                        db.execute(f"PRAGMA user_version = {number}")
    except sqlite3.DatabaseError as error:
        raise PlumError(
            f"{path} is not a Zesty Plum database, or is damaged ({error}). Choose another "
            "data folder."
        ) from error


def _statements(script: str) -> Iterator[str]:
    """Split a script into complete statements; `executescript` would end the transaction."""
    part = ""
    for line in script.splitlines(keepends=True):
        part += line
        if sqlite3.complete_statement(part):
            yield part
            part = ""
    if part.strip():
        raise ValueError("a schema script ends in the middle of a statement")
