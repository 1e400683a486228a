"""What goes wrong with a disk or a database, as a sentence that says what to do."""

import errno
import shutil
import sqlite3
from contextlib import suppress
from pathlib import Path

from ..core.base.errors import PlumError

FULL = (
    "The disk is full, so nothing was changed. Make room on the disk of the data folder, then try "
    "again."
)
READ_ONLY = (
    "The data folder cannot be written to, so nothing was changed. Give yourself the right to "
    "write to it, then try again."
)
LOCKED = (
    "Another program holds the data folder, so nothing was changed. Wait a moment, then try again."
)
MISSING = (
    "The data folder is not there any more, so nothing was changed. Put it back where it was, or "
    "stop Zesty Plum and start it on another one."
)
DAMAGED = (
    "The database in the data folder is damaged, so this could not be done. Stop Zesty Plum, keep "
    "a copy of the data folder, and start it again: it says what can be done."
)
_BY_NUMBER = {
    errno.ENOSPC: FULL,
    errno.EDQUOT: FULL,
    errno.EROFS: READ_ONLY,
    errno.EACCES: READ_ONLY,
    errno.EPERM: READ_ONLY,
}
_BY_CODE = {
    sqlite3.SQLITE_FULL: FULL,
    sqlite3.SQLITE_READONLY: READ_ONLY,
    sqlite3.SQLITE_CANTOPEN: READ_ONLY,
    sqlite3.SQLITE_BUSY: LOCKED,
    sqlite3.SQLITE_LOCKED: LOCKED,
    sqlite3.SQLITE_CORRUPT: DAMAGED,
    sqlite3.SQLITE_NOTADB: DAMAGED,
    sqlite3.SQLITE_IOERR: DAMAGED,
}


# The files that SQLite makes beside the database find no room.
_NO_ROOM = (sqlite3.SQLITE_IOERR_SHMSIZE, sqlite3.SQLITE_IOERR_SHMMAP)
SHORT = 512 * 1024  # bytes; with less free, what goes wrong goes wrong for want of room
LOW = 64 * 2**20  # bytes; with less free, every page says so


class Missing(PlumError):
    """The data folder was taken away while the program runs."""


def free(folder: Path) -> int:
    """Bytes that are free on a folder's disk; as many as one likes where nobody knows."""
    with suppress(OSError):
        return shutil.disk_usage(folder).free
    return 2**63


def sentence(error: BaseException, folder: Path | None = None) -> str | None:
    """What to tell of an error of the disk or the database; None where it is another kind. `folder`
    is where it happened, if that is known: without room there it is never called damaged."""
    if isinstance(error, sqlite3.Error):
        whole = getattr(error, "sqlite_errorcode", 0)
        told = _BY_CODE.get(whole & 0xFF)
        if whole in _NO_ROOM or (told and folder is not None and free(folder) < SHORT):
            return LOCKED if told == LOCKED else FULL
        return told
    if isinstance(error, OSError):
        return _BY_NUMBER.get(error.errno or 0)
    return None
