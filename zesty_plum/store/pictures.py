"""A person's own pictures: files in the data folder, known by a digest of what they hold."""

import hashlib
import sqlite3
from dataclasses import dataclass
from pathlib import Path

from ..core.cache import BoundedCache
from ..core.errors import NotFound
from ..core.pictures.read import LOOKED_AT, read
from ..core.pictures.write import save
from ..core.scenes.scene import Scene
from .database import transaction
from .tables import Counts, Tables

MOST_BYTES = 128 * 2**20


@dataclass(frozen=True)
class Own:
    """One picture in the list."""

    id: str
    title: str
    file_name: str
    finished: bool


class Pictures:
    """The pictures of one data folder; decoded ones are kept in memory within a bound."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        self._decoded: BoundedCache[Scene] = BoundedCache(MOST_BYTES, lambda scene: scene.nbytes)

    @staticmethod
    def id_of(data: bytes) -> str:
        """Id of a picture by what it holds."""
        return f"own-{hashlib.sha256(data).hexdigest()[:16]}"

    def add(self, db: sqlite3.Connection, data: bytes, file_name: str, now: str) -> Own:
        """Take in a picture; one that is there already comes back out of the trash if it was in
        it."""
        picture_id = self.id_of(data)
        scene = read(data, file_name, picture_id, LOOKED_AT)
        save(self.folder / picture_id, data)
        with transaction(db):
            db.execute(
                "INSERT INTO picture (id, file_name, title, finished, added_at) VALUES (?, "
                "?, ?, ?, ?) "
                "ON CONFLICT (id) DO UPDATE SET deleted_at = NULL",
                (picture_id, file_name, scene.title, scene.finished, now),
            )
        self._decoded.put(scene.id, scene)
        return self.get(db, picture_id)

    def listed(self, db: sqlite3.Connection) -> list[Own]:
        """All pictures that are not in the trash, oldest first."""
        rows = db.execute("SELECT * FROM picture WHERE deleted_at IS NULL ORDER BY added_at, id")
        return [Own(r["id"], r["title"], r["file_name"], bool(r["finished"])) for r in rows]

    def get(self, db: sqlite3.Connection, picture_id: str) -> Own:
        """One picture, in the trash or not."""
        row = db.execute("SELECT * FROM picture WHERE id = ?", (picture_id,)).fetchone()
        if row is None:
            raise NotFound(
                "This picture is not in your data folder any more. Drop it on the Bench again."
            )
        return Own(row["id"], row["title"], row["file_name"], bool(row["finished"]))

    def scene(self, db: sqlite3.Connection, picture_id: str) -> Scene:
        """The picture as a scene, decoded when it is not in memory."""
        return self._decoded.make(picture_id, lambda: self._read(db, picture_id, LOOKED_AT))

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
        return read(path.read_bytes(), own.file_name, picture_id, longest)

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
            "INSERT OR IGNORE INTO picture (id, file_name, title, finished, added_at, deleted_at) "
            "VALUES (:id, :file_name, :title, :finished, :added_at, :deleted_at)",
            dict(row),
        )
    return 0, 0


TABLES = Tables({"picture": _copy})
