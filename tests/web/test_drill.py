"""Drills through their own pages: questions, answers, what is kept and shown ahead, what is passed
on, the screen, words that follow an eye."""

import html
import io
import json
import re
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from tests.builders import file_of, raw_of, rendered
from tests.web.test_cases import words
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.drill.begun import Begun, Person
from zesty_plum.core.drill.dimensions import BY_ID
from zesty_plum.core.drill.quest import octaves
from zesty_plum.store import backup, database, drills
from zesty_plum.store.drills import Answer
from zesty_plum.web import create_app
from zesty_plum.web.drill import asking


def begin(post, kind="which", **more):
    return post("/drill/", {"name": "Ann", "kind": kind, "many": "12", **more}).location


@pytest.fixture
def db(app):
    with closing(database.connect(app.config["DATABASE"])) as made:
        yield made


def answer(client, post, at, place):
    """Something that the page offers, right or not."""
    page = client.get(f"{at}/{place}").text
    offered = re.search(r'name="said" value="([^"]+)"', page)
    kind = re.search(r'data-kind="(\w+)"', page)[1]
    said = {"where": "0.5,0.5", "match": "0", "sums": "3"}.get(kind) or offered[1]
    return post(f"{at}/{place}", {"said": said, "seconds": "2.5"})


@pytest.mark.parametrize("kind", drills.KINDS)
def test_every_drill_asks_answers_and_explains(client, post, kind):
    at = begin(post, kind)
    asked = client.get(f"{at}/1").text
    assert drills.KINDS[kind].title in asked
    assert "data-told" not in asked
    for side in re.findall(r'data-side="\w+" src="(/drill/[^"]+)"', asked):
        assert client.get(side).data[:2] == b"\xff\xd8"
    answer(client, post, at, 1)
    told = client.get(f"{at}/1").text
    assert re.search(r"<b>(Right|No|Not quite)</b>", told)
    assert len(words(told.split("data-told")[1])) > 60
    for side in re.findall(r'data-side="\w+" src="(/drill/[^"]+)"', told):
        assert client.get(side).status_code == 200
    assert words(client.get(f"{at}/1").text) == words(told)  # it stays as it is
    assert 'name="said"' not in told


@pytest.mark.parametrize("kind", ["which", "far", "where", "match"])
def test_ones_own_pictures_are_asked_about_too(client, post, db, monkeypatch, tmp_path, kind):
    """A finished one and a raw; of a drill that is passed on they are no part."""
    seen = rendered(scenes.load("boatyard"), 900, exposure=-0.67).pixels
    mosaic = seen[..., 1] ** 2.2
    raw = raw_of(mosaic / mosaic.max() * 60000, tmp_path)
    for data, name in ((file_of(seen), "pier.png"), (raw, "mole.dng")):
        post("/take-in", {"file": (io.BytesIO(data), name)}, content_type="multipart/form-data")
    begin(post, kind, fixed="1")
    monkeypatch.setattr(asking.scenes, "index", lambda: ["boatyard"])
    passed_on = [asking.question(drills.get(db, 1), n, ()).data for n in range(5)]
    assert "own-" not in json.dumps(passed_on)
    monkeypatch.setattr(asking.scenes, "index", dict)  # none of ours
    asked = set()
    for seed in range(6):
        at = begin(post, kind, seed=str(seed))
        answer(client, post, at, 1)
        page = client.get(f"{at}/1").text
        for side in re.findall(r'data-side="\w+" src="(/drill/[^"]+)"', page):
            assert client.get(side).status_code == 200
        question = drills.get(db, int(at.split("/")[-1])).answers[0].question
        asked.add({**question, **question.get("pair", {})}["scene"])
    assert len(asked) == 2
    assert all(one.startswith("own-") for one in asked)


def test_an_answer_stays_and_later_questions_wait(client, post, db):
    at = begin(post)
    assert client.get(f"{at}/3").location.endswith(at)
    assert client.get(f"{at}/99").status_code == 404
    assert post(f"{at}/1", {"said": ""}).status_code == 400
    assert post(f"{at}/1", {"said": "wobble"}).status_code == 400
    data = drills.get(db, 1)
    assert not data.answers
    page = client.get(f"{at}/1").text
    values = re.findall(r'name="said" value="([^"]+)"', page)
    post(f"{at}/1", {"said": values[0]})
    post(f"{at}/1", {"said": values[1]})
    assert drills.get(db, 1).answers[0].said == values[0]


def test_the_next_question_is_the_one_that_was_rendered_ahead(client, post, db):
    """Whichever way the answer goes, the pictures that were asked for before it are the same."""
    at = begin(post)
    for place in range(1, 5):
        page = client.get(f"{at}/{place}").text
        ahead = json.loads(html.unescape(re.search(r"question\((.+?)\)\"", page)[1]))
        assert len(ahead) == 4
        before = {url: client.get(url).data for url in ahead}
        answer(client, post, at, place)
        right = drills.get(db, 1).answers[-1].right
        now = client.get(f"{at}/{place + 1}/b.jpg").data
        assert now == before[f"{at}/{place + 1}/b.jpg?if={'r' if right else 'w'}"]


def test_pictures_do_not_tell_the_answer_before_it_is_given(client, post):
    at = begin(post, "where")
    assert client.get(f"{at}/1/marked.jpg").status_code == 404
    other = begin(post, "set")
    assert client.get(f"{other}/1/a.jpg").status_code == 404
    assert client.get(f"{other}/1/p.jpg").status_code == 200
    pair = begin(post)
    page = client.get(f"{pair}/1").text
    assert not re.search(r"shift_|saturation|highlights=", page.split("<main")[1])
    assert client.get(f"{pair}/5/a.jpg").status_code == 404


def test_a_fixed_drill_is_the_same_for_everybody_and_is_passed_on(client, post, db):
    one = begin(post, fixed="1", seed="77")
    for place in (1, 2):
        answer(client, post, one, place)
    file = client.get(f"{one}/drill.json")
    told = json.loads(file.data)
    assert (told["seed"], told["kind"], told["many"]) == (77, "which", 12)
    assert len(told["answers"][0]["right"]) == 2
    sent = {"file": (io.BytesIO(file.data), "x.drill.json"), "name": "Bo"}
    two = post("/drill/bring", sent, content_type="multipart/form-data").location
    sides = [[client.get(f"{at}/3/{s}.jpg").data for s in "ab"] for at in (one,)]
    answer(client, post, two, 1)
    answer(client, post, two, 2)
    assert [client.get(f"{two}/3/{s}.jpg").data for s in "ab"] == sides[0]
    page = words(client.get(f"{two}/result").text)
    assert "Ann" in page
    assert "Bo" in page
    free = begin(post)
    assert "follows its person" in client.get(f"{free}/drill.json").text
    for odd, says in (
        (b"{", "not valid JSON"),
        (b"[]", "its &#39;format&#39; is not"),
        ({"kind": "smell"}, "“Which drill” can be which, far,"),
        ({"many": 10**9}, "“Questions” goes from 1 to 200, not 1000000000."),
        ({"seed": None}, "“Seed” is missing"),
        ({"version": 2}, "is not of version 1"),
        ({"answers": 3}, "are no list of up to 60"),
        (
            {"answers": [{"name": "x" * 41, "right": []}]},
            "In answers 1 of this drill&#39;s file “Who”",
        ),
        ({"answers": [{"name": "Cy", "right": [1]}]}, "&#39;right&#39; is no list of true"),
    ):
        odd = odd if isinstance(odd, bytes) else json.dumps({**told, **odd}).encode()
        sent = {"file": (io.BytesIO(odd), "x.drill.json"), "name": "Bo"}
        answer_ = post("/drill/bring", sent, content_type="multipart/form-data")
        assert answer_.status_code == 400
        assert says in answer_.text


def seed_answers(db, who, dim, right, many, day="2026-10-01"):
    made = drills.begin(db, who, Begun("which", many, 5), f"{day}T10:00:00Z")
    for k in range(many):
        size = octaves(BY_ID[dim].least * 2 ** (k % 5))
        drills.answer(db, made.id, Answer(k, {"k": k}, "x", right, f"which:{dim}", size, 2.0,
                                          f"{day}T10:00:{k % 60:02d}Z"))  # fmt: skip
    return made


def test_progress_is_told_in_units_with_its_interval(client, db):
    who = drills.person(db, Person("Ann"), "2026-10-01T09:00:00Z")
    seed_answers(db, who, "warm", True, 20)
    page = words(client.get("/drill/").text)
    found = re.search(r"Warm, cool (\d+) mired \(([\d.]+) to ([\d.]+)\)", page)
    assert found
    assert float(found[2]) <= int(found[1]) + 1 <= float(found[3]) + 2
    assert int(found[1]) < 6  # somebody who saw all of it sees little


def test_missed_questions_come_again_after_a_day(app, client, post, db):
    at = begin(post)
    app.config["CLOCK"].now = datetime(2026, 10, 3, 18, tzinfo=UTC)
    for place in range(1, 4):
        page = client.get(f"{at}/{place}").text
        post(f"{at}/{place}", {"said": re.findall(r'name="said" value="([^"]+)"', page)[0]})
    missed = [a.question for a in drills.get(db, 1).answers if not a.right]
    app.config["CLOCK"].now = datetime(2026, 10, 5, 9, tzinfo=UTC)
    other = begin(post)
    answer(client, post, other, 1)
    answer(client, post, other, 2)
    answer(client, post, other, 3)
    asked = drills.get(db, 2).answers[2].question
    assert (asked in missed) == bool(missed)


@pytest.mark.parametrize("kind", [k for k in drills.KINDS if k != "sums"])
def test_what_was_missed_is_shown_with_what_it_was(client, post, db, kind):
    at = begin(post, kind)
    answer(client, post, at, 1)
    asked = drills.get(db, 1).answers[0]
    other = replace(asked, number=1, right=not asked.right)
    drills.answer(db, 1, other)
    page = client.get(f"{at}/result").text
    missed = words(page.split("Missed</h2>")[1].split("</ul>")[0])
    place = 2 if asked.right else 1
    assert missed.endswith(f"Question {place}")
    assert missed.count("Question") == 1
    told = words(client.get(f"{at}/{place}").text.split("data-told")[1])
    if kind in ("which", "far") and not missed.startswith("Nothing"):
        dial, size = re.match(r"(.*), ([\d.]+ .*?) [A-Z]", missed).groups()
        assert f"{dial}{',' if kind == 'which' else ':'} {size}" in told
    side = re.search(r'src="(/drill/1/\d/\w+\.jpg)"', page)[1]
    assert client.get(side).status_code == 200


def test_of_a_question_that_was_not_passed_on_there_are_no_pictures(client, post, db):
    begin(post)
    drills.answer(
        db, 1, Answer(0, {}, "none", False, "which:warm", 2.0, 2.0, "2026-10-01T10:00:00Z")
    )
    for path in ("1", "1/a.jpg"):
        answered = client.get(f"/drill/1/{path}")
        assert answered.status_code == 404
        assert "Only the answer" in answered.text


def test_what_was_missed_on_a_picture_that_is_gone_does_not_come_again(app, client, post, db):
    answer(client, post, begin(post), 1)
    asked = {**drills.get(db, 1).answers[0].question, "scene": "own-gone"}
    gone = Answer(1, asked, "none", False, "which:warm", 2.0, 2.0, "2026-10-01T10:00:00Z")
    drills.answer(db, 1, gone)
    app.config["CLOCK"].now = datetime(2026, 10, 9, 9, tzinfo=UTC)
    other = begin(post)
    for place in (1, 2, 3):
        assert client.get(f"{other}/{place}").status_code == 200
        answer(client, post, other, place)
    assert asked not in [a.question for a in drills.get(db, 2).answers]


def test_the_screen_is_looked_at_and_results_stay_marked(client, post, db):
    begin(post)
    assert drills.get(db, 1).screen == "uncalibrated screen"
    page = client.get("/drill/screen").text
    assert page.count("rgb(2 2 2)") == 1
    assert "does not calibrate" in words(page)
    post("/drill/screen", {"name": "Ann", "darks": "3", "lights": "8"})
    assert "swallows steps" in words(client.get("/drill/").text)
    begin(post)
    assert re.fullmatch(
        r"screen looked at [\d-]+, uncalibrated, swallows steps", drills.get(db, 2).screen
    )
    post("/drill/screen", {"name": "Ann", "darks": "5", "lights": "8"})
    begin(post)
    assert re.fullmatch(r"screen looked at [\d-]+, uncalibrated", drills.get(db, 3).screen)


def test_words_follow_somebody_only_when_that_is_wished(client, post, db):
    who = drills.person(db, Person("Ann"), "2026-10-01T09:00:00Z")
    seed_answers(db, who, "grain", False, 40)
    recipes = ["~".join(["One", "heron-m2"]), "~".join(["Two", "heron-m2", "grain=2"])]
    wall = f"/wall?r={recipes[0]}&r={recipes[1]}&scene=painters"
    usual = words(client.get(wall).text)
    post("/drill/use", {"eye": str(who.id)})
    dull = words(client.get(wall).text)
    post("/drill/use", {"eye": ""})
    assert words(client.get(wall).text).split("Two")[1] == usual.split("Two")[1]
    assert re.search(r"grain", usual.split("The standard.")[1], re.IGNORECASE)
    assert "Nobody would see a difference here." in dull


def test_a_drill_is_removed_taken_back_and_backed_up(tmp_path, client, post, db):
    at = begin(post)
    answer(client, post, at, 1)
    post(f"{at}/remove")
    assert "is open at" not in words(client.get("/drill/").text)
    post(f"{at}/back")
    assert "Which dial moved? is open at 1 of 12." in words(client.get("/drill/").text)
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")
    with closing(database.connect(other.config["DATABASE"])) as there:
        for _ in range(2):
            backup.add(there, other.extensions["place"], io.BytesIO(whole))
        who = drills.eyes(there)[0]
        found = drills.of(there, who.id)
        assert [(d.kind, len(d.answers)) for d in found] == [("which", 1)]


@pytest.mark.parametrize("kind", drills.KINDS)
def test_a_question_that_was_kept_is_the_question(client, post, db, kind):
    """Through JSON and back it is the same thing; what cannot be read any more says so."""
    begin(post, kind)
    with client.application.test_request_context():
        for number in range(4):
            asked = asking.question(drills.get(db, 1), number, ())
            kept = json.loads(json.dumps(asked.data))
            assert asked.kind.question(kept) == asked.question
            for key in kept.keys() - {"fine"}:  # which came later
                with pytest.raises(PlumError, match="cannot be read any more"):
                    asked.kind.question({k: v for k, v in kept.items() if k != key})
