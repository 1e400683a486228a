"""Several people who change one library in the same moments, with a ledger of what was
acknowledged: all of it is there afterwards."""

import random
import tempfile
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from flask import Flask

from tests.attack.report import Result
from tests.attack.rows import library
from zesty_plum.store import notes, outings, slips
from zesty_plum.store.database import connect

PEOPLE = 6
JSON = {"Accept": "application/json"}
LIGHT = "loft"


def run(tried: int, seed: int = 1, say: Callable[[str], None] = lambda _: None) -> list[Result]:
    """So many changes."""
    result, ledger = Result("changes by six people at once", 0), list[tuple[str, str]]()
    with tempfile.TemporaryDirectory() as folder:
        app = library(Path(folder) / "a")
        lock, barrier = threading.Lock(), threading.Barrier(PEOPLE)

        def works(person: int) -> None:
            dice, client = random.Random(f"{seed} {person}"), app.test_client()
            for k in range(tried // PEOPLE):
                barrier.wait()
                kind = dice.choice(list(ACTS))
                url, data, words = ACTS[kind](person, k)
                answer = client.post(url, data=data, headers=JSON)
                with lock:
                    result.tried += 1
                    if answer.status_code in (200, 302):
                        ledger.append((kind, words))
                    elif answer.status_code not in (400, 404, 409, 503):
                        result.faults.append(f"{url} is a {answer.status_code}")

        people = [threading.Thread(target=works, args=(n,)) for n in range(PEOPLE)]
        for one in people:
            one.start()
        for one in people:
            one.join()
        say(f"  {result.tried} changes")
        there = _there(app)
        result.faults += [f"{k} '{w}' is gone" for k, w in ledger if w not in there[k]]
    result.note = f"{len(ledger)} were acknowledged"
    return [result]


def _named(person: int, k: int) -> str:
    return f"n{person}-{k}"


ACTS: dict[str, Callable[[int, int], tuple[str, dict[str, str], str]]] = {
    "tag": lambda p, k: ("/slips/tag", {"id": "2", "tag": _named(p, k)}, _named(p, k)),
    "version": lambda p, k: (
        "/slips/save",
        {"name": "Soot", "slip": "2", "body": "heron-m2", "note": _named(p, k)},
        _named(p, k),
    ),
    "shoot": lambda p, k: (
        "/outing/1/shoots",
        {"title": _named(p, k), "starts": "9:00", "ends": "9:30", "light": "out"},
        _named(p, k),
    ),
    "reading": lambda p, k: (
        "/kit/cases/1/read",
        {"typed": f"{1 + p % 6}: Style Linen"},
        str(1 + p % 6),
    ),
    "mark": lambda p, k: (
        "/notes/singly/1/mark",
        {"light": LIGHT, "place": str(p), "mark": "good"},
        f"{LIGHT} {p}",
    ),
    "shift": lambda p, k: ("/outing/1/shoots/2/move", {"by": "5" if k % 2 else "-5"}, "moved"),
}


def _there(app: Flask) -> dict[str, set[str]]:
    with closing(connect(app.config["DATABASE"])) as db:
        tags = {r["tag"] for r in db.execute("SELECT tag FROM tag WHERE slip = 2")}
        single = notes.single(db, 1)
        return {
            "tag": tags,
            "version": {s.recipe.note for s in slips.history(db, 2)},
            "shoot": {r.shoot.title for r in outings.get(db, 1).rows},
            "reading": {str(k) for k in range(1, 7)},
            "mark": {f"{light} {place}" for light, place in single.marks},
            "shift": {"moved"},
        }
