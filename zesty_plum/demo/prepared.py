"""The demo's library as `seed` makes it, prepared (`tools/prepare.py`), so that nobody waits for
what it is worked out from."""

import lzma
import os
import re
import sqlite3
import tempfile
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

from ..core.base.errors import PlumError
from ..store.place import DATABASE

LIBRARY = Path(__file__).parent / "library.db.xz"
MADE_AT = "2026-11-07T20:00:00Z"  # what the prepared library takes for the present
_FORM = "%Y-%m-%dT%H:%M:%SZ"
_MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ")
# Tables of ours that hold moments, and not those that a full-text index keeps for itself.
_TABLES = "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'shelf_text%'"


def lay_out(folder: Path, now: str) -> bool:
    """Put the library into a data folder that has none, as if it were made `now`; whether it was
    put there."""
    path = folder / DATABASE
    if path.exists():
        return False
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        handle, part = tempfile.mkstemp(dir=folder, prefix=f".{DATABASE}.")
    except OSError as error:
        raise PlumError(
            f"The folder '{folder}' cannot be made: {error.strerror}. Choose another with --data."
        ) from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(lzma.decompress(LIBRARY.read_bytes()))
        with closing(sqlite3.connect(part)) as db, db:
            move(db, datetime.strptime(now, _FORM) - datetime.strptime(MADE_AT, _FORM))
        os.link(part, path)
        return True
    except FileExistsError:  # another process was quicker
        return False
    finally:
        for leftover in folder.glob(f"{Path(part).name}*"):
            leftover.unlink(missing_ok=True)


def move(db: sqlite3.Connection, by: timedelta) -> None:
    """Move every moment that a library holds, inside the caller's transaction."""

    def moved(text: str) -> str:
        return _MOMENT.sub(
            lambda found: (datetime.strptime(found[0], _FORM) + by).strftime(_FORM), text
        )

    db.create_function("moved", 1, moved, deterministic=True)
    # Some forbid that what is kept is changed, which is not what this does.
    triggers = db.execute("SELECT name, sql FROM sqlite_schema WHERE type = 'trigger'").fetchall()
    for name, _ in triggers:
        db.execute(f"DROP TRIGGER {name}")
    for (table,) in db.execute(_TABLES).fetchall():
        for column in db.execute(f"SELECT * FROM pragma_table_info('{table}')").fetchall():
            if column[2].upper() == "TEXT":
                name = column[1]
                db.execute(
                    f'UPDATE {table} SET "{name}" = moved("{name}") '
                    f"WHERE \"{name}\" LIKE '%T__:__:__Z%'"
                )
    for _, text in triggers:
        db.execute(text)
