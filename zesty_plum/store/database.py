"""The database file: opening, migrating, transactions."""

import hashlib
import os
import secrets
import shutil
import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import closing, contextmanager, suppress
from pathlib import Path
from typing import Any

from ..core.base.errors import Gone, PlumError
from . import faults

SCHEMA = Path(__file__).parent / "schema"


WAIT = 10  # seconds for another process to finish its change


def _reading(path: Path) -> str:
    """How to open a database in a folder that nobody may write to. Whoever takes it for one that
    does not change looks past what was saved and is not in the file itself yet."""
    beside = path.with_name(f"{path.name}-wal")
    return "mode=ro" if beside.exists() and beside.stat().st_size else "immutable=1"


RESERVE, RESERVED = "reserve", 128 * 1024  # a file that is given back when a disk is full


def connect(path: Path) -> sqlite3.Connection:
    """Open with WAL, foreign keys and rows by name; in a folder that cannot be written to, for
    reading only. On a full disk what was kept in reserve is given back, so that reading goes on."""
    db = sqlite3.connect(path, timeout=WAIT, isolation_level=None)
    try:
        db.execute("PRAGMA journal_mode = WAL")
        db.execute("SELECT 1 FROM sqlite_master LIMIT 1")  # what stands beside the file is made
    except sqlite3.OperationalError as error:
        db.close()
        if faults.sentence(error, path.parent) == faults.FULL and _given_back(path.parent):
            return connect(path)
        if not path.is_file() or os.access(path.parent, os.W_OK):
            raise
        db = sqlite3.connect(f"{path.absolute().as_uri()}?{_reading(path)}", uri=True)
    db.row_factory = sqlite3.Row
    db.execute("PRAGMA foreign_keys = ON")
    db.execute("PRAGMA synchronous = FULL")
    return db


def keep_reserve(folder: Path) -> None:
    """Keep a little room in a data folder, while there is plenty."""
    kept = folder / RESERVE
    if not kept.exists() and faults.free(folder) > faults.LOW:
        with suppress(OSError), kept.open("wb") as file:
            os.posix_fallocate(file.fileno(), 0, RESERVED)
            kept.chmod(0o600)


def _fill_holes(path: Path) -> None:
    """Where room is short, see to it that the index of the log beside a database lies on the disk
    in full: a full disk may leave holes in it, and whoever reads these as memory is ended. Only
    before this process has opened the database, as closing the file lets its locks go."""
    index = path.with_name(f"{path.name}-shm")
    if faults.free(path.parent) >= faults.LOW or not index.exists():
        return
    try:
        with index.open("r+b") as file:
            os.posix_fallocate(file.fileno(), 0, max(1, os.fstat(file.fileno()).st_size))
    except OSError as error:
        if faults.sentence(error) != faults.FULL:
            return  # a folder for reading only
        if not _given_back(path.parent):
            raise PlumError(f"{path}: {faults.FULL}") from error
        _fill_holes(path)


def _given_back(folder: Path) -> bool:
    try:
        (folder / RESERVE).unlink()
    except OSError:
        return False
    return True


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """One short change: what is read, checked and written in it is all of it or nothing, and nobody
    writes in between. One inside another is part of it."""
    if db.in_transaction:
        yield db
        return
    db.execute("BEGIN IMMEDIATE")
    try:
        yield db
    except BaseException:
        if db.in_transaction:  # of a full disk SQLite has rolled back already
            db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")


def revision(made: object) -> str:
    """A short digest of what a thing says: a form carries that of the thing which it was drawn
    from, so that what changed meanwhile is not written over."""
    return hashlib.blake2b(repr(made).encode("utf-8", "replace"), digest_size=8).hexdigest()


def hit(done: sqlite3.Cursor, gone: str) -> None:
    """A change that is acknowledged changed a row; where none was there any more, Gone tells so."""
    if done.rowcount < 1:
        raise Gone(gone)


def insert(db: sqlite3.Connection, table: str, row: Mapping[str, Any], anew: bool = False) -> int:
    """Put a row into a table, both named by our own schema, in place of the old one if `anew`; its
    id."""
    names, marks = ", ".join(row), ", ".join(f":{name}" for name in row)
    how = "INSERT OR REPLACE" if anew else "INSERT"
    made = db.execute(f"{how} INTO {table} ({names}) VALUES ({marks})", dict(row))
    return int(made.lastrowid or 0)


def migrations(folder: Path = SCHEMA) -> list[tuple[int, Path]]:
    """Numbered schema files in order."""
    return sorted((int(p.name.split("_")[0]), p) for p in folder.glob("*.sql"))


def prepare(path: Path, folder: Path = SCHEMA) -> None:
    """Bring the file to the newest schema; before a change of one that holds data a copy is kept
    beside it. A new one has its name only when it is whole."""
    steps = migrations(folder)
    if path.is_dir():
        raise PlumError(f"'{path}' is a folder and should be a file. Move it away, then start.")
    _fill_holes(path)
    try:
        if not path.exists():
            _begin(path, steps)
        elif not path.stat().st_size:
            raise PlumError(
                f"{path} is empty, so it is no library of Zesty Plum. Put a copy of yours in its "
                "place; or remove the empty file to start anew."
            )
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
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            shutil.copy2(path, path.with_suffix(f".before-{due[-1][0]}.db"))
            _advance(db, due)
    except sqlite3.DatabaseError as error:
        told = faults.sentence(error, path.parent)
        if told in (faults.LOCKED, faults.FULL, faults.READ_ONLY):
            raise PlumError(f"{path}: {told}") from error
        raise PlumError(
            f"{path} is not a Zesty Plum database, or is damaged ({error}). {_way_out(path)}"
        ) from error


def _begin(path: Path, steps: list[tuple[int, Path]]) -> None:
    """A new database; when another process was quicker, its one stays."""
    part = path.with_name(f".{path.name}.{secrets.token_hex(4)}")
    try:
        with closing(connect(part)) as db:
            _advance(db, steps)
        part.chmod(0o600)  # of a library; what SQLite puts beside it is made likewise
        with suppress(FileExistsError):
            os.link(part, path)
    finally:
        for leftover in path.parent.glob(f"{part.name}*"):
            leftover.unlink(missing_ok=True)


def _advance(db: sqlite3.Connection, due: list[tuple[int, Path]]) -> None:
    with transaction(db):
        # Another process may have been here first; only what is still due is done.
        now = db.execute("PRAGMA user_version").fetchone()[0]
        for number, script in due:
            if number > now:
                for statement in _statements(script.read_text(encoding="utf-8")):
                    db.execute(statement)
                db.execute(f"PRAGMA user_version = {number}")


def check(path: Path) -> None:
    """Look through every page and index; PlumError says that it is damaged, and the way out."""
    try:
        with closing(connect(path)) as db:
            said = db.execute("PRAGMA integrity_check(1)").fetchone()[0]
    except sqlite3.DatabaseError as error:
        told = faults.sentence(error, path.parent)
        if told == faults.FULL:
            raise PlumError(f"{path}: {told}") from error
        said = str(error)
    if said != "ok":
        raise PlumError(f"The database {path} is damaged ({said}). {_way_out(path)}")


def _way_out(path: Path) -> str:
    """What to do with a database that cannot be read: the newest copies that lie beside it."""
    kept = sorted(path.parent.glob("before-restore-*.zip"))
    copies = sorted(path.parent.glob(f"{path.stem}.before-*.db"))
    newest = [p.name for p in (*kept[-1:], *copies[-1:])]
    beside = f" Beside it lie {' and '.join(newest)}." if newest else ""
    return (
        "Move it away, start anew, and put your newest backup back on the page of slips; or "
        f"choose another data folder.{beside}"
    )


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
