"""Everything in one file, and back: the database through SQLite's own online backup, the person's
pictures, and digests of both.

A file that is damaged, foreign or newer is refused before anything changes.
"""

import hashlib
import json
import os
import re
import secrets
import shutil
import sqlite3
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from ..core.base import zips
from ..core.base.errors import PlumError
from . import bodies, earlier, faults, shelf
from .database import WAIT, check, connect, prepare, transaction
from .place import Place
from .tables import every

FORMAT, VERSION = "zesty-plum-backup", 1
DATABASE, MANIFEST, PICTURES = "plum.db", "manifest.json", "pictures/"
MOST_UNPACKED, MOST_FILES, MOST_MANIFEST = 20 * 2**30, 100_000, 16 * 10**6
TEXTS = "shelf_text"  # emptied by the shelf itself
_OWN = re.compile(r"own-([0-9a-f]{16})$")


@dataclass(frozen=True)
class Restored:
    """How many slips and pictures came back, and how many slips were there already."""

    slips: int
    pictures: int
    known: int


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


class _Packing:
    """A backup on its way into a zip. Pictures go first, for they are large and never change; then
    the database, as it stands at one moment, with the pictures that came meanwhile."""

    def __init__(self, packed: zipfile.ZipFile, place: Place) -> None:
        self._packed, self._place = packed, place
        self._digests: dict[str, str] = {}

    def pictures(self, db: sqlite3.Connection) -> None:
        """Pack the pictures that the database knows; one whose file is gone is left out, and so is
        a row whose id is none, for no file can be its own."""
        for row in db.execute("SELECT id FROM picture ORDER BY id").fetchall():
            if not _OWN.match(str(row[0])):
                continue
            name, path = PICTURES + row[0], self._place.pictures / row[0]
            if name in self._digests:
                continue
            with suppress(FileNotFoundError):
                digest = _digest(path)
                self._packed.write(path, name, zipfile.ZIP_STORED)
                self._digests[name] = digest

    def database(self, db: sqlite3.Connection, now: str) -> None:
        """Pack the database and, last of all, the list of what is in the backup."""
        with tempfile.TemporaryDirectory(dir=self._place.scratch) as folder:
            path = Path(folder) / DATABASE
            # Through a connection of its own: one that is changing something cannot be copied from.
            source = next(r[2] for r in db.execute("PRAGMA database_list") if r[1] == "main")
            with closing(connect(Path(source))) as own, closing(sqlite3.connect(path)) as copy:
                own.backup(copy, progress=_patient())
                for table in _staying():
                    copy.execute(f"DELETE FROM {table}")  # names are our own schema's
                copy.commit()
                copy.execute("VACUUM")  # nor what is left of them in free pages
                self.pictures(copy)
                slips = copy.execute("SELECT count(*) FROM slip").fetchone()[0]
            files = {DATABASE: _digest(path)} | self._digests
            self._packed.write(path, DATABASE, zipfile.ZIP_DEFLATED)
        head = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": now,
            "slips": slips,
            "files": files,
        }
        self._packed.writestr(MANIFEST, json.dumps(head, indent=2) + "\n")


def _staying() -> list[str]:
    return [table for tables in every() for table in tables.stays]


def _patient() -> Callable[[int, int, int], None]:
    """What ends copying a database that somebody else holds for too long; SQLite would wait for
    ever."""
    begun = time.monotonic()

    def look(status: int, _left: int, _pages: int) -> None:
        held = status in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED)
        if held and time.monotonic() - begun > WAIT:
            raise PlumError(faults.LOCKED)

    return look


def write(db: sqlite3.Connection, place: Place, out: IO[bytes], now: str) -> None:
    """Write the backup of an open database and the folder of pictures; PlumError where the
    database is damaged, for such a backup would be none."""
    check(place.database)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed:
        packing = _Packing(packed, place)
        packing.pictures(db)
        packing.database(db, now)


def _unpacked(file: IO[bytes], folder: Path) -> dict[str, Path]:
    """What a backup holds, unpacked into a folder and checked by its digests: paths by name."""
    with zips.opened(file, MOST_FILES, MOST_UNPACKED) as packed:
        head = json.loads(zips.bounded(packed, MANIFEST, MOST_MANIFEST))
        if head.get("format") != FORMAT or DATABASE not in head["files"]:
            raise KeyError(FORMAT)
        if head["version"] > VERSION:
            raise PlumError(
                "This backup was made by a newer Zesty Plum. Update the program to put it back."
            )
        files = {}
        for at, (name, digest) in enumerate(sorted(head["files"].items())):
            part = files[name] = folder / f"part-{at}"
            with packed.open(name) as source, part.open("wb") as target:
                shutil.copyfileobj(source, target, 1 << 20)
            if _digest(part) != digest or (
                (named := _OWN.search(name)) and named[1] != digest[:16]
            ):
                raise zipfile.BadZipFile(name)
    return files


def _brought_up(database: Path, scratch: Path) -> None:
    """Check a backup's database to the last row, bring it up to date, and leave out of it what
    stays behind; PlumError says the first thing that is wrong."""
    try:
        with closing(sqlite3.connect(database)) as looked_at:
            looked_at.execute("PRAGMA trusted_schema = OFF")
            if looked_at.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
                raise PlumError("its database is damaged")
            if not looked_at.execute("PRAGMA user_version").fetchone()[0]:
                raise PlumError("its database is not one of Zesty Plum")
        prepare(database)
        with closing(connect(database)) as fresh:
            if _schema(fresh) != _own_schema(scratch):
                raise PlumError("its database has other tables than ours")
            bodies.lend(fresh)
            earlier.carry_over(fresh)
            for tables in every():
                tables.checked(fresh)
            for table in (t for tables in every() for t in tables.left_out if t != TEXTS):
                fresh.execute(f"DELETE FROM {table}")  # names are our own
            shelf.empty(fresh)
            shelf.refresh(fresh)
            if lost := fresh.execute("PRAGMA foreign_key_check").fetchone():
                raise PlumError(f"something in it belongs to what is not there ({lost[0]})")
    except (PlumError, sqlite3.Error) as error:
        why = str(error).rstrip(".")
        raise PlumError(
            f"This backup cannot be put back, so nothing was changed: {why}. Take an older one."
        ) from error


def _schema(db: sqlite3.Connection) -> set[tuple[str, str, str]]:
    rows = db.execute("SELECT type, name, coalesce(sql, '') FROM sqlite_master")
    return {(row[0], row[1], row[2]) for row in rows}


def _own_schema(scratch: Path) -> set[tuple[str, str, str]]:
    with tempfile.TemporaryDirectory(dir=scratch) as folder:
        path = Path(folder) / DATABASE
        prepare(path)
        with closing(connect(path)) as db:
            return _schema(db)


@contextmanager
def opened(
    db: sqlite3.Connection, file: IO[bytes], place: Place
) -> Iterator[tuple[Path, dict[str, Path]]]:
    """A backup unpacked and checked from end to end: its database, brought up to date, and its
    pictures by name. Its bodies count meanwhile; afterwards, those that `db` then keeps."""
    try:
        with _opened(file, place) as found:
            yield found
    finally:
        bodies.refresh(db)


@contextmanager
def _opened(file: IO[bytes], place: Place) -> Iterator[tuple[Path, dict[str, Path]]]:
    with tempfile.TemporaryDirectory(dir=place.scratch) as name:
        try:
            files = _unpacked(file, Path(name))
        except (KeyError, TypeError, AttributeError, json.JSONDecodeError) as error:
            raise PlumError(
                "This is not a backup of Zesty Plum, so nothing was changed. A backup is a "
                "zip that 'Make a backup' gave."
            ) from error
        except zips.DAMAGED as error:
            if faults.sentence(error):
                raise  # of our own disk
            raise PlumError(
                "This backup is damaged, so nothing was changed. Take an older one, or make "
                "it anew."
            ) from error
        database = files.pop(DATABASE)
        _brought_up(database, place.scratch)
        pictures = {n.removeprefix(PICTURES): path for n, path in files.items()}
        yield database, {n: path for n, path in pictures.items() if "/" not in n}


def _keep_pictures(found: dict[str, Path], place: Place) -> int:
    missing = {
        n: p for n, p in found.items() if _OWN.search(n) and not (place.pictures / n).exists()
    }
    for name, path in missing.items():
        path.chmod(0o600)
        path.replace(place.pictures / name)  # on the same disk, so whole or not at all
    return len(missing)


def replace(
    db: sqlite3.Connection, place: Place, file: IO[bytes], now: str
) -> tuple[Restored, Path]:
    """Put a backup in the place of all that is there, which is kept as a backup first; returns
    where.

    Who saves meanwhile waits: what was acknowledged before stands in the kept backup, what comes
    after in the new library.
    """
    keep = place.folder / f"before-restore-{now.replace(':', '')}.zip"
    with opened(db, file, place) as (database, found):
        kept = _keep_pictures(found, place)
        part = place.scratch / f"{keep.name}.{secrets.token_hex(4)}"
        try:
            with (
                _attached(db, database),
                part.open("wb") as out,
                zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed,
            ):
                packing = _Packing(packed, place)
                packing.pictures(db)
                with transaction(db):
                    packing.database(db, now)
                    packed.close()
                    out.flush()
                    os.fsync(out.fileno())
                    put = _free(keep)
                    part.replace(put)
                    many = _swap(db)
        finally:
            part.unlink(missing_ok=True)
    return Restored(many, kept, 0), put


def _free(path: Path) -> Path:
    """The path, or with a number where something is there already."""
    number = 1
    free = path
    while free.exists():
        number += 1
        free = path.with_name(f"{path.stem}-{number}{path.suffix}")
    return free


@contextmanager
def _attached(db: sqlite3.Connection, database: Path) -> Iterator[None]:
    """Another database beside the open one, as `incoming`."""
    db.execute("ATTACH DATABASE ? AS incoming", (str(database),))
    try:
        yield
    finally:
        db.execute("DETACH DATABASE incoming")


def _swap(db: sqlite3.Connection) -> int:
    """Empty every table and fill it from `incoming`, inside the caller's transaction; returns how
    many slips there are now. The triggers that keep versions rest meanwhile."""
    listed = "SELECT name, sql FROM main.sqlite_master WHERE type = ? AND name NOT LIKE 'sqlite_%'"
    triggers = db.execute(listed, ("trigger",)).fetchall()
    tables = db.execute(listed, ("table",)).fetchall()
    virtual = [r["name"] for r in tables if r["sql"].upper().startswith("CREATE VIRTUAL")]
    inner = tuple(f"{name}_" for name in virtual)
    db.execute("PRAGMA defer_foreign_keys = ON")
    for trigger in triggers:
        db.execute(f"DROP TRIGGER main.{trigger['name']}")
    staying = {*_staying()}
    for name in (r["name"] for r in tables if not r["name"].startswith(inner)):
        if name in staying:
            continue
        columns = [r["name"] for r in db.execute(f"PRAGMA main.table_info({name})")]
        listed = ", ".join(["rowid", *columns] if name in virtual else columns)
        db.execute(f"DELETE FROM main.{name}")  # names are our own schema's
        db.execute(f"INSERT INTO main.{name} ({listed}) SELECT {listed} FROM incoming.{name}")
    for trigger in triggers:
        db.execute(trigger["sql"])
    many: int = db.execute("SELECT count(*) FROM main.slip").fetchone()[0]
    return many


def add(db: sqlite3.Connection, place: Place, file: IO[bytes]) -> Restored:
    """Put the slips and pictures of a backup beside what is there; slips with the same history are
    not doubled."""
    with opened(db, file, place) as (database, found), closing(connect(database)) as source:
        kept = _keep_pictures(found, place)
        with transaction(db):
            copiers = [copy for tables in every() for copy in tables.copied.values()]
            counts = [copy(db, source) for copy in copiers]
    many, known = (sum(c[k] for c in counts) for k in (0, 1))
    return Restored(many, kept, known)
