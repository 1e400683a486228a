"""Everything in one file, and back: the database through SQLite's own online backup, the person's
pictures, and digests of both.

A file that is damaged, foreign or newer is refused before anything changes.
"""

import hashlib
import json
import os
import secrets
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from ..core.errors import PlumError
from ..core.pictures.write import save
from . import shelf
from .database import connect, prepare, transaction
from .tables import every

FORMAT, VERSION = "zesty-plum-backup", 1
DATABASE, MANIFEST, PICTURES = "plum.db", "manifest.json", "pictures/"
MOST_UNPACKED = 20 * 2**30


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

    def __init__(self, packed: zipfile.ZipFile, pictures: Path) -> None:
        self._packed, self._pictures = packed, pictures
        self._digests: dict[str, str] = {}

    def pictures(self, db: sqlite3.Connection) -> None:
        """Pack the pictures that the database knows; one whose file is gone is left out."""
        for row in db.execute("SELECT id FROM picture ORDER BY id").fetchall():
            name, path = PICTURES + row[0], self._pictures / row[0]
            if name not in self._digests and path.is_file():
                self._digests[name] = _digest(path)
                self._packed.write(path, name, zipfile.ZIP_STORED)

    def database(self, db: sqlite3.Connection, now: str) -> None:
        """Pack the database and, last of all, the list of what is in the backup."""
        with tempfile.TemporaryDirectory(prefix="zesty-plum-") as folder:
            path = Path(folder) / DATABASE
            # Through a connection of its own: one that is changing something cannot be copied from.
            source = next(r[2] for r in db.execute("PRAGMA database_list") if r[1] == "main")
            with closing(connect(Path(source))) as own, closing(sqlite3.connect(path)) as copy:
                own.backup(copy)
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


def write(db: sqlite3.Connection, pictures: Path, out: IO[bytes], now: str) -> None:
    """Write the backup of an open database and the folder of pictures."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed:
        packing = _Packing(packed, pictures)
        packing.pictures(db)
        packing.database(db, now)


DAMAGED = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    RuntimeError,
    NotImplementedError,
    OSError,
)


def _unpacked(file: IO[bytes], folder: Path) -> dict[str, Path]:
    """What a backup holds, unpacked into a folder and checked by its digests: paths by name."""
    with zipfile.ZipFile(file) as packed:
        if sum(i.file_size for i in packed.infolist()) > MOST_UNPACKED:
            raise PlumError("This backup unpacks to more than 20 GB. It is not one of ours.")
        head = json.loads(packed.read(MANIFEST))
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
            if _digest(part) != digest:
                raise zipfile.BadZipFile(name)
    return files


def _check(database: Path) -> None:
    with closing(sqlite3.connect(database)) as check:
        if check.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
            raise PlumError(
                "The database in this backup is damaged, so nothing was changed. Take an older one."
            )


@contextmanager
def opened(file: IO[bytes]) -> Iterator[tuple[Path, dict[str, Path]]]:
    """A backup unpacked and checked from end to end: its database, brought up to date, and its
    pictures by name."""
    with tempfile.TemporaryDirectory(prefix="zesty-plum-") as name:
        try:
            files = _unpacked(file, Path(name))
        except DAMAGED as error:
            raise PlumError(
                "This backup is damaged, so nothing was changed. Take an older one, or make "
                "it anew."
            ) from error
        except (KeyError, TypeError, ValueError, AttributeError) as error:
            raise PlumError(
                "This is not a backup of Zesty Plum, so nothing was changed. A backup is a "
                "zip that 'Make a backup' gave."
            ) from error
        database = files.pop(DATABASE)
        _check(database)
        prepare(database)
        with closing(connect(database)) as fresh:
            shelf.refresh(fresh)
        pictures = {n.removeprefix(PICTURES): path for n, path in files.items()}
        yield database, {n: path for n, path in pictures.items() if "/" not in n}


def _keep_pictures(found: dict[str, Path], pictures: Path) -> int:
    missing = {
        n: p for n, p in found.items() if n.startswith("own-") and not (pictures / n).exists()
    }
    for name, path in missing.items():
        save(pictures / name, path.read_bytes())
    return len(missing)


def replace(
    db: sqlite3.Connection, pictures: Path, file: IO[bytes], keep: Path, now: str
) -> tuple[Restored, Path]:
    """Put a backup in the place of all that is there, which is kept as a backup first; returns
    where.

    Who saves meanwhile waits: what was acknowledged before stands in the kept backup, what comes
    after in the new library. Pictures that the backup does not know stay as files. `keep` is the
    name of the kept backup; a number is added to it where it is taken.
    """
    with opened(file) as (database, found):
        kept = _keep_pictures(found, pictures)
        part = keep.with_name(f".{keep.name}.{secrets.token_hex(4)}.part")
        try:
            with (
                _attached(db, database),
                part.open("wb") as out,
                zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed,
            ):
                packing = _Packing(packed, pictures)
                packing.pictures(db)
                with transaction(db):
                    packing.database(db, now)
                    packed.close()
                    out.flush()
                    os.fsync(out.fileno())
                    place = _free(keep)
                    part.replace(place)
                    many = _swap(db)
        finally:
            part.unlink(missing_ok=True)
    return Restored(many, kept, 0), place


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
    for name in (r["name"] for r in tables if not r["name"].startswith(inner)):
        columns = [r["name"] for r in db.execute(f"PRAGMA main.table_info({name})")]
        listed = ", ".join(["rowid", *columns] if name in virtual else columns)
        db.execute(f"DELETE FROM main.{name}")  # names are our own schema's
        db.execute(f"INSERT INTO main.{name} ({listed}) SELECT {listed} FROM incoming.{name}")
    for trigger in triggers:
        db.execute(trigger["sql"])
    many: int = db.execute("SELECT count(*) FROM main.slip").fetchone()[0]
    return many


def add(db: sqlite3.Connection, pictures: Path, file: IO[bytes]) -> Restored:
    """Put the slips and pictures of a backup beside what is there; slips with the same history are
    not doubled."""
    with opened(file) as (database, found), closing(connect(database)) as source:
        kept = _keep_pictures(found, pictures)
        with transaction(db):
            copiers = [copy for tables in every() for copy in tables.copied.values()]
            counts = [copy(db, source) for copy in copiers]
    many, known = (sum(c[k] for c in counts) for k in (0, 1))
    return Restored(many, kept, known)
