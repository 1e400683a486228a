"""Small renders kept on disk, so that a large library shows at once; the least used go when there
are too many."""

import os
import threading
from contextlib import suppress
from pathlib import Path

from .place import held_bytes

MOST_BYTES = 200 * 2**20
# Of the scenes as a body renders them as shipped, and of the demo (`tools/prepare.py`).
SHIPPED = Path(__file__).parent / "prints"
SWEPT_TO = 0.8  # of the bound, so that not every new one has to look for an old one


class Renders:
    """A folder of files by key; `shipped` is another, which nothing is put into.

    What is lost here is rendered again, so nothing is forced to the disk.
    """

    def __init__(
        self, folder: Path, scratch: Path, most: int = MOST_BYTES, shipped: Path = SHIPPED
    ) -> None:
        self.folder, self.scratch, self.most, self.shipped = folder, scratch, most, shipped
        self._lock = threading.Lock()
        self._bytes = held_bytes(folder)

    def get(self, key: str) -> bytes | None:
        """What is kept under a key; looking makes it the newest."""
        path = self.folder / key
        try:
            data = path.read_bytes()
            os.utime(path)
        except OSError:
            with suppress(OSError):
                return (self.shipped / key).read_bytes()
            return None
        return data

    def put(self, key: str, data: bytes) -> None:
        """Keep something; a full disk is no fault."""
        part = self.scratch / f"{key}.{threading.get_ident()}"
        with suppress(OSError):
            part.write_bytes(data)
            part.replace(self.folder / key)
            with self._lock:
                self._bytes += len(data)
                if self._bytes > self.most:
                    self._sweep()

    def _sweep(self) -> None:
        files = []
        for file in self.folder.iterdir():
            with suppress(OSError):  # one that vanished meanwhile
                files.append((file.stat().st_mtime, file.stat().st_size, file))
        files.sort(reverse=True)
        self._bytes = 0
        for _, size, file in files:
            if self._bytes + size <= self.most * SWEPT_TO:
                self._bytes += size
            else:
                file.unlink(missing_ok=True)
