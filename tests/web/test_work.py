"""Long work through the application: how far it is, what is superseded, and what runs out of
time."""

import io
import json
import threading
import time
from contextlib import ExitStack

import pytest

from tests.builders import recipe
from zesty_plum.core.recipe import dumps
from zesty_plum.web import bring
from zesty_plum.web.server import turns
from zesty_plum.web.server.turns import Rank

JSON = {"Accept": "application/json"}


@pytest.fixture
def held():
    """All hands busy until it is closed."""
    with ExitStack() as stack:
        ready, done = threading.Event(), threading.Event()

        def hold() -> None:
            with turns.turns.turn(Rank.PICTURE, "holder"):
                ready.set()
                done.wait(20)

        for _ in range(turns.HANDS):
            thread = threading.Thread(target=hold)
            thread.start()
            ready.wait(5)
            ready.clear()
            stack.callback(thread.join)
        stack.callback(done.set)
        yield done


def later(client, url, answers, **headers):
    thread = threading.Thread(
        target=lambda: answers.append(client.get(url, headers=headers)), daemon=True
    )
    thread.start()
    return thread


def until(check):
    for _ in range(400):
        if found := check():
            return found
        time.sleep(0.01)
    raise AssertionError("it did not come")


def test_a_picture_that_the_window_wants_no_more_is_not_made(app, held):
    answers: list = []
    url = "/render/corner.jpg?width=400&highlights={}&seed=77"
    waits = turns.turns._waiting
    old = later(app.test_client(), url.format(1), answers, **{"Plum-Ask": "w77.1"})
    until(lambda: len(waits) == 1)
    new = later(app.test_client(), url.format(2), answers, **{"Plum-Ask": "w77.2"})
    old.join(5)
    assert [(a.status_code, a.data) for a in answers] == [(204, b"")]
    held.set()
    new.join(10)
    assert answers[1].data.startswith(b"\xff\xd8")


def test_pages_and_what_is_in_memory_wait_for_nobody(app, client, held):
    held.set()
    url = "/render/corner.jpg?width=400&seed=78"
    client.get(url)
    held.clear()
    begun = time.monotonic()
    for each in (url, "/slips", "/bench", "/openapi.json"):
        assert client.get(each).status_code == 200
    assert time.monotonic() - begun < 10


def test_long_work_says_that_it_waits_and_how_far_it_is(app, client, held):
    answers: list = []
    url = "/wall/page.html?" + "&".join(
        ["r=A~heron-m2", "r=B~heron-m2~style=linen", "scene=corner", "scene=table"]
    )
    held.set()
    client.get(url.replace("page.html", ""))  # its figures are in memory
    assert client.get("/work/nothing12").json == {}
    steps: list = []
    thread = later(app.test_client(), url, answers, **{"Plum-Work": "abcdefgh12"})
    while thread.is_alive():
        said = client.get("/work/abcdefgh12").json
        if said and said not in steps:
            steps.append(said)
        time.sleep(0.002)
    assert answers[0].status_code == 200
    assert {s["words"] for s in steps} == {"Making the page"}
    far = [s["done"] for s in steps if not s["waits"]]
    assert far == sorted(far)
    assert {s["of"] for s in steps} == {4}
    assert len(set(far)) > 1
    assert client.get("/work/abcdefgh12").json == {}


def test_long_work_that_waits_says_so(app, client, held):
    answers: list = []
    thread = later(
        app.test_client(), "/take/look.cube?size=17", answers, **{"Plum-Work": "abcdefgh34"}
    )
    said = until(lambda: client.get("/work/abcdefgh34").json)
    assert said["waits"] is True
    held.set()
    thread.join(20)
    assert answers[0].status_code == 200


def test_what_there_was_no_time_for_is_told(client, post, monkeypatch):
    monkeypatch.setattr(bring, "MOST_SECONDS", 0.05)
    one = dumps(recipe("Tide")).encode()
    files = [(io.BytesIO(one), "first.plum.json")]
    files += [(io.BytesIO(b"Highlights -1\n" * 400), f"{k}.txt") for k in range(600)]
    answer = post("/bring", {"file": files}, headers=JSON)
    page = client.get(answer.json["to"]).text
    assert "of the files were not looked at. Bring those in by themselves." in page


def test_more_than_a_thousand_files_are_read(client, post):
    files = [(io.BytesIO(dumps(recipe(f"T{k}")).encode()), f"{k}.json") for k in range(1001)]
    answer = post("/bring", {"file": files}, headers=JSON)
    assert answer.status_code == 200, answer.text
    assert "1001 recipes found" in client.get(answer.json["to"]).text


def test_a_field_that_could_not_be_read_again_keeps_the_others_in(client, post):
    rows = [json.loads(dumps(recipe("Good"))), json.loads(dumps(recipe("Long")))]
    rows[1]["more"] = "é" * 200_000
    sent = {"file": (io.BytesIO(json.dumps(rows).encode()), "two.json")}
    answer = post("/bring", sent, headers=JSON)
    page = client.get(answer.json["to"])
    assert page.status_code == 200
    assert "over 256 KB" in page.text
    assert "Good" in page.text
