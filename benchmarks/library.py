"""The Wall from cold and from memory, bringing a thousand recipes in, and finding among ten
thousand."""

import random
import re
import sqlite3
import statistics
import tempfile
import time
from contextlib import closing
from pathlib import Path

from flask import Flask

from benchmarks.timing import against, by_turns, row
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.exchange import Brought
from zesty_plum.core.pictures.write import preview
from zesty_plum.core.recipe import Recipe, dumps, make
from zesty_plum.core.search import parse
from zesty_plum.store import batches, database, shelf, slips
from zesty_plum.web import create_app

NOW, MANY, BROUGHT = "2026-10-03T18:00:00Z", 10_000, 1000
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
        f"R{k}~heron-m2~style=linen~shadows=1~shift_red={k - 2}~shift_blue={fresh % 13 - 6}"
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


def walls(app: Flask) -> None:
    """A Wall of four recipes by two scenes, new and from memory."""
    client = app.test_client()
    taken = [_wall(client, k) for k in range(9)][2:]
    look = make("L", "heron-m2", {"style": "linen", "shadows": 1}).look
    sensor = bodies()["heron-m2"].sensor
    two = [scenes.load(s) for s in ("workshop", "painters")]
    took = by_turns({"two": lambda: [preview(develop(s, look, sensor, 960).pixels) for s in two]})
    large = took["two"] / 2000
    cold, warm = (statistics.median(w[k] for w in taken) for k in (0, 1))
    goal = 8 * large + 0.2
    row(
        "Wall of four by two, cold",
        f"{cold:.2f} s, {cold / goal:.2f} x (8 large + 0.2 s)",
        "at most 1 x",
    )
    row(
        "Wall of four by two, from memory",
        f"{warm * 1000:.0f} ms, {warm / large:.2f} x one large",
        "at most 1 x",
    )


def searches(app: Flask, db: sqlite3.Connection) -> None:
    """Finding slips among many, against plain Python over all of them."""
    client = app.test_client()
    with database.transaction(db):
        for k, recipe in enumerate(recipes(MANY, 1)):
            slip_id = slips.add(db, recipe, f"2026-10-{k % 28 + 1:02d}T18:00:00Z")
            if k % 50 == 0:
                db.execute("INSERT INTO tag (slip, tag) VALUES (?, 'keep')", (slip_id,))
                shelf.put(db, slip_id)
    for text in QUERIES:
        took = by_turns(
            {
                "page": lambda t=text: (
                    client.get("/slips", query_string={"q": t, "part": "found"}).data
                ),
                "find": lambda t=text: shelf.find(db, parse(t), most=60),
                "plain": lambda t=text: _plain_search(db, t),
            },
            rounds=7,
        )
        row(
            f"search among {MANY:,}: {text or '(all)'}",
            against(took, "page", "plain", "plain Python"),
            "at most 100 ms",
        )
    first = by_turns({"page": lambda: client.get("/slips").data}, rounds=7)["page"]
    row(f"first page of {MANY:,} slips", f"{first:.0f} ms", "at most 100 ms")


def bringing(db: sqlite3.Connection, folder: Path) -> None:
    """Many recipes brought in at once, against bare INSERTs of the same."""
    brought = recipes(BROUGHT, 2)
    begun = time.perf_counter()
    batch = batches.stage(db, [Brought(r, "x.zip") for r in brought], NOW)
    batches.take(db, batch, [r.offered for r in batches.rows(db, batch)], NOW)
    ours = time.perf_counter() - begun
    with closing(sqlite3.connect(folder / "peer.db")) as peer:
        peer.execute("PRAGMA journal_mode = WAL")
        peer.execute("CREATE TABLE r (id INTEGER PRIMARY KEY, name TEXT, recipe TEXT)")
        begun = time.perf_counter()
        with peer:
            peer.executemany(
                "INSERT INTO r (name, recipe) VALUES (?, ?)",
                [(r.name, dumps(r)) for r in brought],
            )
        bare = time.perf_counter() - begun
    row(
        f"bringing in {BROUGHT:,} recipes",
        f"{ours:.2f} s, {ours / bare:.0f} x bare INSERTs",
        "at most 3 s",
    )


def run() -> None:
    """Print the ratios."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "data")
        walls(app)
        with closing(database.connect(app.config["DATABASE"])) as db:
            searches(app, db)
            bringing(db, Path(folder))
