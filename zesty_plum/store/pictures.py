"""A person's own pictures: files in the data folder, known by a digest of what they hold."""

import hashlib
import re
import sqlite3
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from ..core.base.cache import BoundedCache
from ..core.base.errors import NotFound, PlumError
from ..core.base.saving import save
from ..core.pictures.read import LOOKED_AT, read
from ..core.scenes.scene import Scene
from . import checks
from .database import transaction
from .tables import Counts, Tables

MOST_BYTES = 128 * 2**20  # of decoded pictures, 36 MB a large one
MOST_FILE_NAME = 1000
MOST_TITLE = 60
LIGHTS = ("", "sun", "shade", "dusk", "lamps", "night")
_ID = re.compile(r"own-[0-9a-f]{16}")


@dataclass(frozen=True)
class Own:
    """One picture in the list."""

    id: str
    title: str
    file_name: str
    finished: bool
    light: str = ""  # a group of scenes, or empty when not told


class Pictures:
    """The pictures of one data folder; decoded ones are kept in memory within a bound."""

    def __init__(self, folder: Path, scratch: Path) -> None:
        self.folder, self.scratch = folder, scratch
        self._decoded: BoundedCache[Scene] = BoundedCache(MOST_BYTES, lambda scene: scene.nbytes)
        self._wholes: BoundedCache[Scene] = BoundedCache(1)

    @staticmethod
    def id_of(data: bytes) -> str:
        """Id of a picture by what it holds."""
        return f"own-{hashlib.sha256(data).hexdigest()[:16]}"

    def add(self, db: sqlite3.Connection, data: bytes, file_name: str, now: str) -> Own:
        """Take in a picture; one that is there already comes back out of the trash if it was in
        it."""
        file_name = file_name[-MOST_FILE_NAME:]
        scene = read(data, file_name, self.id_of(data), LOOKED_AT, self.scratch)
        own = Own(scene.id, scene.title, file_name, scene.finished)
        self.keep(db, own, data, now)
        self._decoded.put(own.id, self._for_looking(scene, own))
        return self.get(db, own.id)

    def keep(self, db: sqlite3.Connection, own: Own, data: bytes, now: str) -> None:
        """The file of a picture into the folder, and then its row."""
        with suppress(OSError):  # told of by what writes into it
            self.folder.mkdir(mode=0o700, exist_ok=True)
        save(self.folder / own.id, data, self.scratch)
        with transaction(db):
            db.execute(
                "INSERT INTO picture (id, file_name, title, finished, light, added_at) "
                "VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET deleted_at = NULL",
                (own.id, own.file_name, own.title, own.finished, own.light, now),
            )

    def listed(self, db: sqlite3.Connection) -> list[Own]:
        """All pictures that are not in the trash and whose rows can be read, oldest first."""
        rows = db.execute("SELECT * FROM picture WHERE deleted_at IS NULL ORDER BY added_at, id")
        found = []
        for row in rows.fetchall():
            with suppress(PlumError):
                found.append(_own(row))
        return found

    def get(self, db: sqlite3.Connection, picture_id: str) -> Own:
        """One picture, in the trash or not."""
        row = db.execute("SELECT * FROM picture WHERE id = ?", (picture_id,)).fetchone()
        if row is None:
            raise NotFound(
                "This picture is not in your data folder any more. Drop it on the Bench again."
            )
        return _own(row)

    def scene(self, db: sqlite3.Connection, picture_id: str) -> Scene:
        """The picture as a scene, decoded when it is not in memory."""
        return self._decoded.make(picture_id, lambda: self._read(db, picture_id, LOOKED_AT))

    def _for_looking(self, scene: Scene, own: Own) -> Scene:
        """The same, knowing where its own size comes from if it is a smaller copy. Those samples
        stay in a file; the last picture's are kept."""
        path = self.folder / own.id

        def whole() -> Scene:
            return read(path.read_bytes(), own.file_name, own.id, None, self.scratch)

        if (scene.photosites or 0) > scene.size[0]:
            scene.whole = lambda: self._wholes.make(own.id, whole)
        return scene

    def full(self, db: sqlite3.Connection, picture_id: str) -> Scene:
        """The picture at its own size, not kept in memory."""
        return self._read(db, picture_id, None)

    def _read(self, db: sqlite3.Connection, picture_id: str, longest: int | None) -> Scene:
        own = self.get(db, picture_id)
        path = self.folder / picture_id
        if not path.is_file():
            raise NotFound(
                f"The file of '{own.title}' is missing from the data folder. Drop the picture "
                "on the Bench again."
            )
        scene = read(path.read_bytes(), own.file_name, picture_id, longest, self.scratch)
        return scene if longest is None else self._for_looking(scene, own)

    def name(self, db: sqlite3.Connection, picture_id: str, title: str, light: str) -> Own:
        """Give a picture a name of its own and the light it was taken in."""
        title = " ".join(title.split())
        if not 1 <= len(title) <= MOST_TITLE:
            raise PlumError(f"A picture's name has 1 to {MOST_TITLE} letters. Write a shorter one.")
        if light not in LIGHTS:
            raise PlumError(f"'{light[:20]}' is no light. Choose {', '.join(LIGHTS[1:])}.")
        self.get(db, picture_id)
        with transaction(db):
            db.execute(
                "UPDATE picture SET title = ?, light = ? WHERE id = ?", (title, light, picture_id)
            )
        return self.get(db, picture_id)

    def delete(self, db: sqlite3.Connection, picture_id: str, now: str) -> None:
        """Put a picture into the trash; its file stays, so that it can come back."""
        with transaction(db):
            changed = db.execute(
                "UPDATE picture SET deleted_at = ? WHERE id = ? AND deleted_at IS NULL",
                (now, picture_id),
            ).rowcount
        if not changed:
            raise NotFound("This picture is not in your list any more.")

    def restore(self, db: sqlite3.Connection, picture_id: str) -> Own:
        """Take a picture back out of the trash."""
        with transaction(db):
            db.execute("UPDATE picture SET deleted_at = NULL WHERE id = ?", (picture_id,))
        return self.get(db, picture_id)


def _copy(db: sqlite3.Connection, source: sqlite3.Connection) -> Counts:
    for row in source.execute("SELECT * FROM picture").fetchall():
        db.execute(
            "INSERT OR IGNORE INTO picture (id, file_name, title, finished, light, added_at, "
            "deleted_at) VALUES (:id, :file_name, :title, :finished, :light, :added_at, "
            ":deleted_at)",
            dict(row),
        )
    return 0, 0


def _own(row: sqlite3.Row) -> Own:
    try:
        _check_row(row)
    except PlumError as error:
        raise NotFound(
            f"What is known of this picture cannot be read: {error}. Drop it on the Bench again."
        ) from error
    return Own(row["id"], row["title"], row["file_name"], bool(row["finished"]), row["light"])


def _check_row(row: sqlite3.Row) -> None:
    if not _ID.fullmatch(checks.text(row, "id", 40)):
        raise PlumError("its id is not one of ours")
    checks.text(row, "file_name", MOST_FILE_NAME)
    checks.text(row, "title", MOST_FILE_NAME)
    checks.whole(row, "finished", 0, 1)
    if row["light"] not in LIGHTS:
        raise PlumError("its light is none of ours")
    checks.moment(row, "added_at")
    checks.moment(row, "deleted_at", may_lack=True)


def _checked(db: sqlite3.Connection) -> None:
    checks.every(db, "picture", "Picture", _check_row)


TABLES = Tables({"picture": _copy}, checked=_checked)
