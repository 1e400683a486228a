"""Everything in one file, and back: the database through SQLite's own online backup, the person's
pictures, and digests of both.

A file that is damaged, foreign or newer is refused before anything changes.
"""

import hashlib
import json
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


def write(db: sqlite3.Connection, pictures: Path, out: IO[bytes], now: str) -> None:
    """Write the backup of an open database and the folder of pictures."""
    with tempfile.TemporaryDirectory(prefix="zesty-plum-") as folder:
        copy = Path(folder) / DATABASE
        with closing(sqlite3.connect(copy)) as target:
            db.backup(target)
        files = {DATABASE: copy} | {
            PICTURES + p.name: p for p in sorted(pictures.iterdir()) if p.is_file()
        }
        slips = db.execute("SELECT count(*) FROM slip").fetchone()[0]
        head = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": now,
            "slips": slips,
            "files": {n: _digest(p) for n, p in files.items()},
        }
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, allowZip64=True) as packed:
            packed.writestr(MANIFEST, json.dumps(head, indent=2) + "\n")
            for name, path in files.items():
                packed.write(
                    path, name, zipfile.ZIP_DEFLATED if name == DATABASE else zipfile.ZIP_STORED
                )


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
) -> Restored:
    """Put a backup in the place of all that is there, which is kept as the backup `keep` first.

    Pictures that the backup does not know stay as files.
    """
    with opened(file) as (database, found):
        part = keep.with_name(f".{keep.name}.part")
        with part.open("wb") as out:
            write(db, pictures, out, now)
        part.replace(keep)
        kept = _keep_pictures(found, pictures)
        with closing(connect(database)) as source:
            many = source.execute("SELECT count(*) FROM slip").fetchone()[0]
            source.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            source.backup(db)
    return Restored(many, kept, 0)


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
