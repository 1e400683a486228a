"""Kills at every moment of everything that writes: nothing acknowledged is lost, nothing is half
written, nothing lies about."""

import io
import os
import random
import signal
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from tests.attack.report import Result
from tests.builders import recipe
from zesty_plum.core.exchange import Brought
from zesty_plum.store import backup, batches, database, shelf, slips
from zesty_plum.store.pictures import Own, Pictures
from zesty_plum.store.place import Place, prepared

NOW = "2026-10-03T18:00:00Z"
LONGEST = 0.25  # seconds until a writer is killed


def _write(folder: Path, pipe: int, number: int, saved: bytes) -> None:
    """Write for ever, telling through the pipe what is done."""
    place = prepared(folder)
    pictures, dice = Pictures(place.pictures, place.scratch), random.Random(number)
    with closing(database.connect(place.database)) as db:
        k = 0
        while True:
            k += 1
            name = f"Slip {number}-{k}"
            _one(db, place, pictures, name, dice, saved)
            os.write(pipe, f"{name}\n".encode())


def _one(
    db, place: Place, pictures: Pictures, name: str, dice: random.Random, saved: bytes
) -> None:
    way = dice.randrange(10)
    if way == 0:
        found = [Brought(recipe(f"{name}"), "x"), Brought(recipe(f"{name} b", exposure=1), "x")]
        batches.take(db, batches.stage(db, found, NOW), ["new", "new"], NOW)
        return
    if way == 1:
        data = dice.randbytes(40_000)
        own = Own(pictures.id_of(data), name, f"{name}.jpg", finished=True)
        pictures.keep(db, own, data, NOW)
    elif way == 2:
        backup.add(db, place, io.BytesIO(saved))
    elif way == 3:
        backup.write(db, place, io.BytesIO(), NOW)
    slips.create(db, recipe(name, exposure=dice.randrange(3)), NOW)


def _looked_at(folder: Path, done: set[str], result: Result) -> None:
    database.check(folder / "plum.db")
    place = prepared(folder)
    with closing(database.connect(place.database)) as db:
        here = {name for _, name in shelf.names(db, most=10**6)}
        result.faults += [f"{name} was acknowledged and is lost" for name in done - here]
        if db.execute("PRAGMA foreign_key_check").fetchall():
            result.faults.append("a row belongs to nothing")
        for row in db.execute("SELECT id FROM picture").fetchall():
            if not (place.pictures / row["id"]).is_file():
                result.faults.append(f"{row['id']} has no file")
    left = [p for p in (folder / "scratch").iterdir() if p.stem != place.scratch.name]
    left += [p for p in folder.iterdir() if p.name.startswith(".")]
    result.faults += [f"{p.name} lies about" for p in left]


def run(many: int, seed: int = 1, say: Callable[[str], None] = lambda text: None) -> list[Result]:
    """So many kills of a process that writes; looked at after every tenth."""
    dice, result, done = random.Random(seed), Result("kills while writing", 0), set[str]()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "data"
        with closing(database.connect(prepared(folder).database)) as db:
            slips.create(db, recipe("Old"), NOW)
            out = io.BytesIO()
            backup.write(db, prepared(folder), out, NOW)
        for k in range(many):
            reading, writing = os.pipe()
            child = os.fork()
            if child == 0:
                os.close(reading)
                try:
                    _write(folder, writing, k, out.getvalue())
                finally:
                    os._exit(1)
            os.close(writing)
            time.sleep(dice.random() * LONGEST)
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            with os.fdopen(reading, "rb") as pipe:
                done |= {line.decode() for line in pipe.read().split(b"\n")[:-1] if line}
            result.tried += 1
            if k % 10 == 9 or k == many - 1:
                _looked_at(folder, done, result)
            if k % 100 == 99:
                say(f"{k + 1} kills")
    result.note = f"{len(done):,} saves were acknowledged"
    return [result]
