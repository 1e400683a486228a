"""The data folder: what lies where in it, its permissions, and what a process that was killed left
behind."""

import fcntl
import os
import secrets
import shutil
import sqlite3
import tempfile
import time
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path
from typing import IO

from ..core.base.errors import PlumError
from ..core.base.saving import save
from . import bodies, database, earlier, shelf
from .lessons import Lessons

DATABASE, SECRET, PICTURES, RENDERS, SCRATCH = (
    "plum.db",
    "secret.key",
    "pictures",
    "renders",
    "scratch",
)
SECRET_BYTES, LOCK = 32, ".lock"
DAY = 24 * 3600
_PARTS = (".zesty-plum-*", ".before-restore-*.part", ".plum.db.*")  # names of files half written


class Place:
    """The data folder of a running program. What is being written lies in `scratch`, which is this
    process's own, until it is whole."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.database, self.pictures = folder / DATABASE, folder / PICTURES
        self.renders = folder / RENDERS
        self.scratch, self._held = _own_scratch(folder)
        self.lessons = Lessons(folder, self.scratch)

    @property
    def writable(self) -> bool:
        """Whether anything can be kept in it."""
        return self._held is not None

    def secret(self) -> bytes:
        """The key that signs forms, made once for each data folder; for this run only where it
        cannot be kept."""
        path = self.folder / SECRET
        if path.is_dir():
            raise PlumError(f"'{path}' is a folder and should be a file. Remove it, then start.")
        with suppress(OSError):
            key = path.read_bytes()
            if len(key) >= SECRET_BYTES:
                return key
        key = secrets.token_bytes(SECRET_BYTES)
        with suppress(PlumError):  # forms that are open now are asked to be loaded anew next time
            save(path, key, self.scratch)
        return key


def _folder(path: Path) -> None:
    """Make a folder that is its owner's alone."""
    if path.exists() and not path.is_dir():
        raise PlumError(f"'{path}' is a file and should be a folder. Move it away, then start.")
    try:
        path.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        raise PlumError(
            f"The folder '{path}' cannot be made: {error.strerror}. Choose another with --data."
        ) from error


def _own_scratch(folder: Path) -> tuple[Path, IO[bytes] | None]:
    """This process's folder for what is half written, and the lock that says that it lives; the
    system's own place where the data folder cannot be written to."""
    whole = folder / SCRATCH
    try:
        whole.mkdir(mode=0o700, exist_ok=True)
        while True:
            own = whole / secrets.token_hex(8)
            lock = own.with_suffix(LOCK)
            held = os.fdopen(os.open(lock, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb")
            fcntl.flock(held, fcntl.LOCK_EX)
            if lock.exists():  # else another process swept it in the moment before it was held
                own.mkdir(mode=0o700)
                return own, held
            held.close()
    except OSError:
        return Path(tempfile.gettempdir()), None


def prepared(folder: Path, say: Callable[[str], None] = lambda _: None) -> Place:
    """A data folder made, swept, checked and brought up to date; PlumError says what is wrong with
    it and what to do, `say` hears what takes a while."""
    _folder(folder)
    place = Place(folder)
    for part in (place.pictures, place.renders):
        if place.writable or part.exists():
            _folder(part)
    if place.writable:
        _made_private(folder)
    database.prepare(place.database)
    database.check(place.database)
    with closing(database.connect(place.database)) as db:
        if place.writable:
            database.keep_reserve(folder)
            earlier.carry_over(db, say)
            shelf.refresh(db)
            _sweep(place, db)
        bodies.refresh(db)
    return place


def _made_private(folder: Path) -> None:
    """Folders 700, files 600: what is in them is one person's."""
    for path in (folder, folder / PICTURES, folder / RENDERS, folder / SCRATCH):
        with suppress(OSError):
            path.chmod(0o700)
    for path in folder.iterdir():
        with suppress(OSError):
            if path.is_file():
                path.chmod(0o600)


def _sweep(place: Place, db: sqlite3.Connection) -> None:
    """Remove what processes that were killed left behind: scratch folders that nobody holds, and of
    a day ago or more, files half written and pictures that the database does not know."""
    whole = place.folder / SCRATCH
    for lock in whole.glob(f"*{LOCK}"):
        if lock.stem != place.scratch.name and not _held(lock):
            shutil.rmtree(lock.with_suffix(""), ignore_errors=True)
            lock.unlink(missing_ok=True)
    for own in whole.iterdir():
        if own.suffix != LOCK and not own.with_suffix(LOCK).exists():
            shutil.rmtree(own, ignore_errors=True)
    for folder in (place.folder, place.pictures, place.renders):
        for pattern in _PARTS:
            for path in folder.glob(pattern):
                _remove_old(path)
    place.lessons.sweep()
    known = {row[0] for row in db.execute("SELECT id FROM picture")}
    for path in place.pictures.iterdir():
        if path.name not in known:
            _remove_old(path)


def _held(lock: Path) -> bool:
    """Whether a living process holds a lock."""
    try:
        with lock.open("rb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return False
    except OSError:
        return True
    return False


def _remove_old(path: Path) -> None:
    with suppress(OSError):
        if path.is_file() and time.time() - path.stat().st_mtime > DAY:
            path.unlink()


def held_bytes(folder: Path) -> int:
    """Bytes of all files in a folder; those that vanish meanwhile are nothing, nor is a folder that
    is not there."""
    total = 0
    for name in os.listdir(folder) if folder.is_dir() else []:
        with suppress(OSError):
            total += (folder / name).stat().st_size
    return total
