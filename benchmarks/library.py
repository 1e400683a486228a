"""The Wall from cold and from memory, bringing a thousand recipes in, and finding among ten
thousand."""

import random
import re
import sqlite3
import statistics
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from pathlib import Path

from flask import Flask

from benchmarks.timing import Row, beside, by_turns
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.exchange import Brought
from zesty_plum.core.pictures.write import preview
from zesty_plum.core.recipe import Recipe, make
from zesty_plum.store import batches, database, shelf, slips
from zesty_plum.web import create_app

NOW = "2026-10-03T18:00:00Z"
WORDS = (  # noqa: SIM905
    "slack tide kite weather soot lantern reed gannet rope fog wet slate harbour night "
    "pier loft dawn salt brine"
).split()
QUERIES = (
    "",
    "tide",
    "grain>0 body:heron",
    "style:linen -ink",
    'tag:"keep" lantern',
    "kelvin<4000",
    "zzz",
    "pier crew fog",
)


def recipes(count: int, seed: int) -> list[Recipe]:
    """Recipes of all bodies with random dials and notes."""
    dice, made = random.Random(seed), []
    cameras = list(bodies().values())
    for k in range(count):
        camera = dice.choice(cameras)
        dials = {d.id: dice.choice(d.values) for d in camera.dials if dice.random() < 0.4}
        note = " ".join(dice.choices(WORDS, k=8))
        made.append(
            make(
                f"{dice.choice(WORDS).title()} {dice.choice(WORDS)} {k}",
                camera.id,
                dials,
                note=note,
                author="pier crew",
            )
        )
    return made


def _wall(client, fresh: int) -> tuple[float, float]:
    """Seconds for a Wall of four by two and its eight pictures, all new, and again from memory."""
    codes = [
        f"R{k}~heron-m2~body_edition=2~style=linen~shift_amber={5 * k}~shift_green={fresh % 13}"
        for k in range(4)
    ]

    def hang() -> float:
        begun = time.perf_counter()
        page = client.get(
            "/wall", query_string={"r": codes, "scene": ["workshop", "painters"]}
        ).text
        assert page.count('src="/render/') == 8
        for url in re.findall(r'src="(/render/[^"]+)"', page):
            assert client.get(url.replace("&amp;", "&")).status_code == 200
        return time.perf_counter() - begun

    return hang(), hang()


def _plain_search(db: sqlite3.Connection, text: str) -> list[int]:
    """The peer: read every slip out and look with Python."""
    words = text.split()
    rows = db.execute("SELECT slip.id, recipe FROM slip JOIN version ON version.slip = slip.id")
    return [k for k, recipe in rows if all(w in recipe.lower() for w in words)]


def walls(app: Flask, rounds: int) -> Iterator[Row]:
    """A Wall of four recipes by two scenes, new and from memory."""
    client = app.test_client()
    taken = [_wall(client, k) for k in range(rounds + 2)][2:]
    look = make("L", "heron-m2", {"style": "linen", "shadows": 1}).look
    sensor = bodies()["heron-m2"].sensor
    two = [scenes.load(s) for s in ("workshop", "painters")]
    more = (k * 1e-6 for k in range(1, 10**6))

    def anew():
        new = replace(look, noise_filter=look.noise_filter + next(more))
        return [preview(develop(s, new, sensor, 960).pixels) for s in two]

    large = by_turns({"two": anew}, rounds)["two"] / 2000
    cold, warm = (statistics.median(w[k] for w in taken) for k in (0, 1))
    goal = 8 * large + 0.2
    yield Row("Wall of four by two, cold", f"{cold:.2f} s", cold / goal, "8 large and 0.2 s", 1.0)
    yield Row("Wall, from memory", f"{warm * 1000:.0f} ms", warm / large, "one large, anew", 1.0)


def searches(app: Flask, db: sqlite3.Connection, quick: bool) -> Iterator[Row]:
    """Finding slips among many, against plain Python over all of them."""
    client, many = app.test_client(), 2000 if quick else 10_000
    with database.transaction(db):
        for k, recipe in enumerate(recipes(many, 1)):
            slip_id = slips.add(db, recipe, f"2026-10-{k % 28 + 1:02d}T18:00:00Z")
            if k % 50 == 0:
                db.execute("INSERT INTO tag (slip, tag) VALUES (?, 'keep')", (slip_id,))
                shelf.put(db, slip_id)
    plain = "plain Python"
    for text in QUERIES[: 3 if quick else None]:
        took = by_turns(
            {
                "page": lambda t=text: (
                    client.get("/slips", query_string={"q": t, "part": "found"}).data
                ),
                "plain": lambda t=text: _plain_search(db, t),
            },
            rounds=3 if quick else 7,
        )
        name = f"search among {many:,}: {text or '(all)'}"
        # A page shows sixty, however few there are to look through.
        yield beside(name, took, "page", "plain", plain, 10.0 if quick else 2.0)


WRITTEN = ("slip", "version", "shelf", "shelf_dial", "shelf_text")


def bringing(db: sqlite3.Connection, folder: Path, quick: bool) -> Iterator[Row]:
    """Many recipes brought in at once, against bare INSERTs of the same rows into the same
    tables."""
    many = 200 if quick else 1000
    brought = recipes(many, 2)
    last = db.execute("SELECT max(id) FROM slip").fetchone()[0]
    begun = time.perf_counter()
    batch = batches.stage(db, [Brought(r, "x.zip") for r in brought], NOW)
    batches.take(db, batch, [r.offered for r in batches.rows(db, batch)], NOW)
    ours = time.perf_counter() - begun
    ids = {t: {"slip": "id", "shelf_text": "rowid"}.get(t, "slip") for t in WRITTEN}
    rows = {t: db.execute(f"SELECT * FROM {t} WHERE {ids[t]} > ?", (last,)).fetchall() for t in ids}
    database.prepare(folder / "peer.db")
    with closing(database.connect(folder / "peer.db")) as peer:
        begun = time.perf_counter()
        with database.transaction(peer):
            for table, all_of_it in rows.items():
                marks = ", ".join("?" * len(all_of_it[0]))
                peer.executemany(f"INSERT INTO {table} VALUES ({marks})", map(tuple, all_of_it))
        bare = time.perf_counter() - begun
    yield Row(f"bringing in {many:,} recipes", f"{ours:.2f} s", ours / bare, "bare INSERTs", 8.0)


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "data")
        yield from walls(app, 3 if quick else 7)
        with closing(database.connect(app.config["DATABASE"])) as db:
            yield from searches(app, db, quick)
            yield from bringing(db, Path(folder), quick)
