"""Open files of ours that are whole, but of which parts are missing, doubled or odd: brought in and
looked at where they came in. Never a fault of ours."""

import copy
import io
import json
import random
import tempfile
import zipfile
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

from flask.testing import FlaskClient

from tests.attack.report import Result
from zesty_plum.demo.seed import seed as fill
from zesty_plum.store.database import connect
from zesty_plum.web import create_app

ODD: tuple[Any, ...] = (
    *(None, True, "", "x", "x" * 5000, "\ud800", "\u202e🏮", "-1", "1e999", "2026-02-30"),
    *(-1, 0, 1, 3, 10**30, -(10**30), 1e308, 5e-324, 0.1, [], [[]], {}, {"": ""}, [1, 2, 3]),
)
Path_ = tuple[str | int, ...]


def seeds(client: FlaskClient) -> dict[str, tuple[str, str, Any]]:
    """Files by kind: where they are brought in, their name, and what they hold."""
    at = client.post("/drill/", data={"name": "Ann", "kind": "sums", "many": "12", "fixed": "1"})
    for place in (1, 2):
        client.post(f"{at.location}/{place}", data={"said": "3", "seconds": "2"})

    def told(url: str) -> Any:
        return json.loads(client.get(url).data)

    return {
        "kit": ("/kit/kit.json", "kit.json", told("/kit/kit.json")),
        "settings card": ("/kit/cases/1/read", "card.json", card(client)),
        "day": ("/outing/bring", "day.outing.json", told("/outing/1/day.outing.json")),
        "drill": ("/drill/bring", "a.drill.json", told(f"{at.location}/drill.json")),
        "body": ("/kit/bring", "a.body.json", told("/kit/bodies/turnstone.body.json")),
    }


def card(client: FlaskClient) -> Any:
    """The settings card of the first camera."""
    data = client.get("/kit/cases/1/plum-card.zip").data
    with zipfile.ZipFile(io.BytesIO(data)) as inside:
        return json.loads(inside.read("plum-card/card.json"))


def paths(data: Any, at: Path_ = ()) -> list[Path_]:
    """Every place in what a file holds; of long lists the first ones."""
    pairs = list(data.items()) if isinstance(data, dict) else []
    pairs = list(enumerate(data[:4])) if isinstance(data, list) else pairs
    return [p for k, v in pairs for p in ((*at, k), *paths(v, (*at, k)))]


def reshaped(data: Any, dice: random.Random) -> Any:
    """With one to three parts taken out, doubled, or put in the place of others."""
    made = copy.deepcopy(data)
    for _ in range(dice.randint(1, 3)):
        every = paths(made)
        if not every:
            break
        # Rows of the same kind are many, so a depth is chosen first.
        deep = dice.choice(sorted({len(p) for p in every}))
        *home, last = dice.choice([p for p in every if len(p) == deep])
        part = made
        for key in home:
            part = part[key]
        way = dice.randrange(4)
        if way == 0:
            del part[last]
        elif way == 1 and isinstance(part, list):
            part.insert(int(last), copy.deepcopy(part[int(last)]))
        else:
            part[last] = copy.deepcopy(dice.choice(ODD))
    return made


def run(many: int, seed: int = 1, say: Callable[[str], None] = lambda text: None) -> list[Result]:
    """Bring in so many of them in all."""
    dice = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        app = create_app(Path(name) / "data")
        app.config["WTF_CSRF_ENABLED"] = False
        with closing(connect(app.config["DATABASE"])) as db:
            fill(db, "2026-10-03T18:00:00Z")
        client = app.test_client()
        whole = seeds(client)
        results = {kind: Result(f"misshapen files, {kind}", 0) for kind in whole}
        for k in range(many):
            kind = list(whole)[k % len(whole)]
            url, file_name, data = whole[kind]
            sent = json.dumps(reshaped(data, dice)).encode()
            results[kind].tried += 1
            for what, status in bring(client, url, file_name, sent):
                if status >= 500:
                    results[kind].faults.append(f"{status} at {what}: {sent[:3000]!r}")
            if k % 500 == 499:
                say(f"{k + 1} files")
                for page in ("/kit/", "/kit/bodies", "/outing/days", "/drill/", "/bench"):
                    if client.get(page, follow_redirects=True).status_code != 200:
                        results[kind].faults.append(f"{page} is not shown any more")
    return list(results.values())


def bring(client: FlaskClient, url: str, name: str, sent: bytes) -> list[tuple[str, int]]:
    """Bring a file in, look at it where it came in, and keep it where that is asked; each address
    with its answer's status."""
    answer = client.post(url, data={"file": (io.BytesIO(sent), name)})
    out = [(url, answer.status_code)]
    if not answer.location:
        return out
    out.append((answer.location, client.get(answer.location, follow_redirects=True).status_code))
    if "looked-at" in answer.location:
        kept = client.post(answer.location)
        out.append((f"{answer.location}, kept", kept.status_code))
        if kept.location:
            out.append((kept.location, client.get(kept.location).status_code))
    return out
