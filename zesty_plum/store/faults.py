"""What goes wrong with a disk or a database, as a sentence that says what to do."""

import errno
import sqlite3

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


def sentence(error: BaseException) -> str | None:
    """What to tell of an error of the disk or the database; None where it is another kind."""
    if isinstance(error, sqlite3.Error):
        code = getattr(error, "sqlite_errorcode", 0) & 0xFF
        return _BY_CODE.get(code)
    if isinstance(error, OSError):
        return _BY_NUMBER.get(error.errno or 0)
    return None
