"""Lessons: the pairs that a person gave to teach a camera, what was set for each, and what came of
it. A lesson is a folder of the data folder, so that it can be stopped, gone on with, and added to;
backups leave lessons out, for their pictures are large and the person's own files."""

import json
import re
import secrets
import shutil
import time
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path

from ..core.base.errors import NotFound, PlumError
from ..core.base.saving import save
from ..core.bodies import Body, file

FOLDER, ABOUT, FILES, READ, SHOWN, TAUGHT = (
    "lessons",
    "lesson.json",
    "files",
    "read",
    "shown",
    "taught.body.json",
)
MOST = 40  # lessons
DAYS = 7  # that a removed one can be taken back
_TOKEN = re.compile(r"[0-9a-f]{16}")


@dataclass(frozen=True)
class Print:
    """A pair as the lesson left it: its number among the shown pictures, name, style, and CIEDE2000
    between the camera's picture and what was predicted for it."""

    number: int
    name: str
    style: str
    mean: float


@dataclass(frozen=True)
class Lesson:
    """What is known of one: who it teaches, which body that is like, what was set for each pair
    (style, dials in words), and once it was taught the body's mark and its prints."""

    token: str
    name: str
    like: str
    made_at: str
    told: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    mark: str = ""
    prints: tuple[Print, ...] = ()
    removed_at: float = 0.0


class Lessons:
    """The lessons of a data folder."""

    def __init__(self, data: Path, scratch: Path) -> None:
        self._whole, self._scratch = data / FOLDER, scratch

    def begin(self, name: str, like: str, now: str) -> Lesson:
        """A new one, without pairs."""
        if len(self.listed()) >= MOST:
            raise PlumError(f"{MOST} lessons are kept already. Remove one that you need no more.")
        made = Lesson(secrets.token_hex(8), name, like, now)
        self._whole.mkdir(mode=0o700, exist_ok=True)  # not what it lies in, if that was removed
        self.files(made.token).mkdir(mode=0o700, parents=True)
        return self.put(made)

    def put(self, lesson: Lesson) -> Lesson:
        """Keep what is known of one."""
        said = json.dumps(asdict(lesson), ensure_ascii=False, indent=1).encode()
        save(self._at(lesson.token) / ABOUT, said, self._scratch)
        return lesson

    def get(self, token: str) -> Lesson:
        """One that was not removed."""
        found = self._read(token)
        if found is None or found.removed_at:
            raise NotFound("This lesson is not here any more. Begin another one on Kit.")
        return found

    def listed(self) -> list[Lesson]:
        """All, the newest first."""
        names = [p.name for p in self._whole.iterdir()] if self._whole.is_dir() else []
        found = [one for one in map(self._read, names) if one and not one.removed_at]
        return sorted(found, key=lambda one: one.made_at, reverse=True)

    def of(self, mark: str) -> Lesson | None:
        """The one that taught a body, by its mark."""
        return next((one for one in self.listed() if mark and one.mark == mark), None)

    def files(self, token: str) -> Path:
        """Where its pairs lie."""
        return self._at(token) / FILES

    def kept(self, token: str) -> Path:
        """Where what was read of them lies."""
        return self._at(token) / READ

    def megabytes(self, token: str) -> float:
        """How much it takes."""
        every = (p.stat().st_size for p in self._at(token).rglob("*") if p.is_file())
        return sum(every) / 2**20

    def taught(
        self, lesson: Lesson, body: Body, prints: list[tuple[Print, bytes, bytes]]
    ) -> Lesson:
        """Keep what came of it: the body, and JPEGs of the camera's and the predicted pictures."""
        shown = self._at(lesson.token) / SHOWN
        shown.mkdir(exist_ok=True)
        for one, camera, predicted in prints:
            save(shown / f"{one.number}-camera.jpg", camera, self._scratch)
            save(shown / f"{one.number}-predicted.jpg", predicted, self._scratch)
        save(self._at(lesson.token) / TAUGHT, file.dumps(body).encode(), self._scratch)
        every = tuple(one for one, _, _ in prints)
        return self.put(replace(lesson, mark=file.mark(body), prints=every))

    def shown(self, token: str, number: int, which: str) -> bytes:
        """The JPEG of a print, `which` is camera or predicted."""
        path = self._at(self.get(token).token) / SHOWN / f"{number}-{which}.jpg"
        if which not in ("camera", "predicted") or not path.is_file():
            raise NotFound("This picture is not here. Teach the lesson again.")
        return path.read_bytes()

    def body(self, token: str) -> bytes:
        """The file of the body that came of it."""
        path = self._at(token) / TAUGHT
        if not path.is_file():
            raise NotFound("Nothing came of this lesson yet. Teach it first.")
        return path.read_bytes()

    def remove(self, token: str) -> Lesson:
        """Remove one; it can be taken back for some days."""
        return self.put(replace(self.get(token), removed_at=time.time()))

    def take_back(self, token: str) -> Lesson:
        """Undo."""
        found = self._read(token)
        if found is None:
            raise NotFound("This lesson was removed too long ago.")
        return self.put(replace(found, removed_at=0.0))

    def drop(self, token: str) -> None:
        """Remove one for good: of which nothing could come."""
        shutil.rmtree(self._at(token), ignore_errors=True)

    def sweep(self) -> None:
        """Remove for good what was removed some days ago."""
        for path in self._whole.iterdir() if self._whole.is_dir() else ():
            found = self._read(path.name)
            if found and found.removed_at and time.time() - found.removed_at > DAYS * 24 * 3600:
                self.drop(found.token)

    def _at(self, token: str) -> Path:
        if not _TOKEN.fullmatch(token):
            raise NotFound("There is no such lesson. Kit lists those that there are.")
        return self._whole / token

    def _read(self, token: str) -> Lesson | None:
        if not _TOKEN.fullmatch(token):
            return None
        with suppress(OSError, ValueError, TypeError, KeyError):
            said = json.loads((self._whole / token / ABOUT).read_text(encoding="utf-8"))
            told = {str(k): (str(a), str(b)) for k, (a, b) in said.pop("told").items()}
            prints = tuple(Print(**one) for one in said.pop("prints"))
            return Lesson(**said, told=told, prints=prints)
        return None
