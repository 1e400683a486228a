"""Several people at once: what is acknowledged is there, and nobody writes over another."""

import io
import json
import re
import threading
from contextlib import closing
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from tests.web.forms import Forms
from zesty_plum.core.bodies import body
from zesty_plum.core.notes import singly
from zesty_plum.demo.seed import seed
from zesty_plum.store import notes, outings, slips
from zesty_plum.store.database import connect
from zesty_plum.web import create_app

JSON = {"Accept": "application/json"}


@pytest.fixture
def app(tmp_path):
    made = create_app(tmp_path / "data")
    made.config["WTF_CSRF_ENABLED"] = False
    with closing(connect(made.config["DATABASE"])) as db:
        seed(db, "2026-10-03T18:00:00Z")
    return made


@pytest.fixture
def db(app):
    with closing(connect(app.config["DATABASE"])) as opened:
        yield opened


def at_once(app, sendings):
    """Send all of them in the same moment, each from a browser of its own; the answers in order."""
    barrier, answers = threading.Barrier(len(sendings)), [None] * len(sendings)

    def send(k, url, data):
        client = app.test_client()
        barrier.wait()
        answers[k] = client.post(url, data=data, headers=JSON)

    people = [threading.Thread(target=send, args=(k, *s)) for k, s in enumerate(sendings)]
    for one in people:
        one.start()
    for one in people:
        one.join()
    return answers


def picture(shade):
    held = io.BytesIO()
    Image.fromarray(np.full((40, 60, 3), shade, np.uint8)).save(held, "JPEG")
    return held.getvalue()


def taken_in(app, shade):
    data = {"file": (io.BytesIO(picture(shade)), f"p{shade}.jpg"), "as": "picture"}
    return app.test_client().post("/take-in", data=data, headers=JSON).json["scene"]


def form_of(app, page, to, holds=()):
    """The form of a page that goes to an address and has these hidden values, as it stands."""
    every = [f for f in Forms(app.test_client().get(page).text).forms if f["at"] == to]
    return next(f for f in every if all(f["fields"].get(k) == [v] for k, v in holds))["fields"]


WORDS = ("Ada was here", "Bo was here")
FILES = body("heron-m2").beside_by_id["files"]
# Page, address, hidden values by which its form is known, field, and what can be put there.
EDITS = {
    "outing.put_shoot": ("/outing/1?shoot=2", "/outing/1/shoots", {"shoot": "2"}, "title", WORDS),
    "outing.change": ("/outing/1", "/outing/1", {}, "name", WORDS),
    "notes.change": ("/notes/1", "/notes/1", {}, "seen", WORDS),
    "cases.change": ("/kit/cases/1", "/kit/cases/1", {}, "name", WORDS),
    "slips.rename": ("/slips/2", "/slips/2/rename", {}, "name", WORDS),
    "dropped.name_picture": ("/bench?scene={own}", "/pictures/{own}/name", {}, "title", WORDS),
    "cases.put": ("/kit/cases/1?slot=2", "/kit/cases/1/slots/2", {}, "why", WORDS),
    "singly.mark": ("/notes/singly/1", "/notes/singly/1/mark", {}, "mark", singly.MARKS),
    "cases.set_beside": (
        "/kit/cases/1", "/kit/cases/1/beside", {}, FILES.id, tuple(map(str, FILES.values)),
    ),
}  # fmt: skip


@pytest.mark.parametrize("endpoint", EDITS)
def test_of_two_who_change_the_same_one_is_told_and_both_words_are_kept(app, endpoint):
    page, to, holds, field, choices = EDITS[endpoint]
    if "{own}" in page:
        own = taken_in(app, 90)
        page, to = page.format(own=own), to.format(own=own)
    form = form_of(app, page, to, holds.items())
    first, second, *_ = (c for c in choices if [c] != form[field])
    answers = at_once(app, [(to, {**form, field: v, "once": v}) for v in (first, second)])
    codes = [a.status_code for a in answers]
    assert max(codes) == 409, [a.text[:200] for a in answers]
    assert min(codes) in (200, 302)
    kept, lost = (first, second) if codes[1] == 409 else (second, first)
    assert form_of(app, page, to, holds.items())[field] == [kept]
    if choices is not WORDS:
        return  # a choice, with nothing typed
    # Who came second is told what stands there now, and finds what was typed as it was.
    told = app.test_client().post(
        to, data={**form, field: lost, "once": "x"}, headers={"Referer": f"http://localhost{page}"}
    )
    assert told.status_code == 409
    assert "changed since this page was opened" in told.text
    again = next(f for f in Forms(told.text).forms if f["at"].split("?")[0] == to)
    if endpoint not in ("slips.rename", "cases.put", "dropped.name_picture"):
        assert f"Says now: {kept}" in told.text
    # The page that tells it is drawn from what there is now: once more, and it counts.
    done = app.test_client().post(to, data={**again["fields"], field: lost})
    assert done.status_code == 302
    assert form_of(app, page, to, holds.items())[field] == [lost]


def test_what_several_add_at_once_is_all_there(app, db):
    own = [taken_in(app, 20 * k) for k in range(1, 5)]
    said = form_of(app, "/notes/1", "/notes/1")
    shoot = form_of(app, "/outing/1?shoot=2", "/outing/1/shoots", {"shoot": "2"}.items())
    shoot = {k: v for k, v in shoot.items() if k not in ("shoot", "revision", "once")}
    added = {k: v for k, v in said.items() if k not in ("revision", "once")}
    marks = {"light": "loft", "mark": "best"}
    places = notes.single(db, 1).plan.places
    light = notes.single(db, 1).plan.lights[0]
    acts = [
        *[("/notes/2/hang", {"picture": p}) for p in own],
        *[("/outing/1/shoots", {**shoot, "title": f"Shoot {k}"}) for k in range(3)],
        *[("/notes/", {**added, "seen": f"Note {k}"}) for k in range(3)],
        *[("/slips/tag", {"id": "2", "tag": f"tag {k}"}) for k in range(3)],
        *[
            ("/slips/save", {"name": "Soot", "slip": "2", "body": "heron-m2", "grain": str(k)})
            for k in range(1, 4)
        ],
        *[("/notes/singly/1/mark", {**marks, "light": light, "place": str(p)}) for p in places[:3]],
        *[("/kit/cases/1/read", {"typed": f"{k}: Style Linen"}) for k in range(1, 4)],
    ]
    answers = at_once(app, acts)
    assert {a.status_code for a in answers} <= {200, 302}, [a.text[:200] for a in answers]
    assert set(notes.get(db, 2).pictures) == set(own)
    assert {f"Shoot {k}" for k in range(3)} <= {r.shoot.title for r in outings.get(db, 1).rows}
    assert {f"Note {k}" for k in range(3)} <= {t.seen for t in notes.listed(db)}
    assert {s.recipe.dials["grain"] for s in slips.history(db, 2)} >= {"flour", "salt", "sand"}
    assert {(light, p) for p in places[:3]} <= set(notes.single(db, 1).marks)
    tags = {r["tag"] for r in db.execute("SELECT tag FROM tag WHERE slip = 2")}
    assert {f"tag {k}" for k in range(3)} <= tags
    assert db.execute("SELECT count(*) FROM kit_reading WHERE case_id = 1").fetchone()[0] == 4
    card = db.execute("SELECT card FROM kit_reading ORDER BY id DESC").fetchone()[0]
    held = json.loads(card)["slots"]  # each reading kept what those before it found
    assert [held[k]["dials"]["style"] for k in "123"] == ["linen"] * 3


# What was removed meanwhile: how, what is sent all the same, and a word of what is told.
GONE = {
    "outing.put_shoot": (None, "/outing/1/shoots", {"shoot": "99999"}, "not on this day"),
    "outing.remove_shoot": (None, "/outing/1/shoots/99999/remove", {}, "not on this day"),
    "outing.move": ("/outing/1/shoots/2/remove", "/outing/1/shoots/2/move", {"by": "30"}, "not on"),
    "outing.change": ("/outing/1/delete", "/outing/1", {}, "deleted meanwhile"),
    "notes.change": ("/notes/1/remove", "/notes/1", {}, "removed meanwhile"),
    "singly.mark": ("/notes/singly/1/remove", "/notes/singly/1/mark", {"mark": "best"}, "removed"),
    "cases.put": ("/kit/cases/1/retire", "/kit/cases/1/slots/2", {"slip": "2"}, "put away"),
    "cases.clear": ("/kit/cases/1/retire", "/kit/cases/1/slots/2/clear", {}, "put away"),
    "cases.read": ("/kit/cases/1/retire", "/kit/cases/1/read", {"typed": "1: Linen"}, "put away"),
    "drill.remove": (None, "/drill/99999/remove", {}, ""),
    "blind.delete": (None, "/blind/99999/delete", {}, ""),
}


@pytest.mark.parametrize("endpoint", GONE)
def test_what_was_removed_is_not_acknowledged(app, db, endpoint):
    remove, to, data, told = GONE[endpoint]
    page = "/outing/1?shoot=2" if "outing" in to else "/notes/1"
    form = {}
    if endpoint in ("outing.put_shoot", "outing.change", "notes.change"):
        holds = {"shoot": "2"}.items() if endpoint == "outing.put_shoot" else ()
        form = form_of(app, page, to, holds)
    if endpoint == "singly.mark":
        form = form_of(app, "/notes/singly/1", to)
    if remove:
        assert app.test_client().post(remove).status_code == 302
    before = list(db.iterdump())
    answer = app.test_client().post(to, data={**form, **data}, headers=JSON)
    assert answer.status_code in (404, 409)
    assert told in answer.json["error"]
    assert list(db.iterdump()) == before


def test_a_form_that_is_sent_twice_makes_one_thing(app, db):
    said = {**form_of(app, "/outing/1", "/outing/1"), "revision": "", "once": "o"}
    twice = [("/outing/days", {**said, "name": "A double click"})] * 2
    answers = at_once(app, twice)
    assert [a.status_code for a in answers] == [302, 302]
    assert answers[0].headers["Location"] == answers[1].headers["Location"]
    assert [o.name for o in outings.listed(db)].count("A double click") == 1
    # One that was refused, or says something else, counts anew.
    for name in ("", "Third", "Fourth"):
        app.test_client().post("/outing/days", data={**said, "name": name})
    assert {"Third", "Fourth"} <= {o.name for o in outings.listed(db)}


def test_undo_takes_back_its_own_change_only(app, db):
    def slot(key):
        return form_of(app, f"/kit/cases/1?slot={key}", f"/kit/cases/1/slots/{key}")

    def change(key, why):
        answer = app.test_client().post(f"/kit/cases/1/slots/{key}", data={**slot(key), "why": why})
        assert answer.status_code == 302

    def undo():
        """Take back the change of slot 2 that was made before the last one."""
        client, newest = app.test_client(), "SELECT max(id) FROM kit_before"
        client.post(f"/kit/undo/{db.execute(newest).fetchone()[0] - 1}")
        return client.get("/kit/cases/1").text

    was = slot("2")["why"]
    change("2", "first")
    change("3", "somebody else's")
    assert "It is as it was." in undo()
    assert slot("2")["why"] == was
    assert slot("3")["why"] == ["somebody else's"]
    change("2", "second")
    change("2", "third, by somebody else")
    assert "changed again since" in undo()
    assert slot("2")["why"] == ["third, by somebody else"]


# Acts without a word typed: the page that offers it, its address, and hidden values by which it is
# known. Somebody else changes slot 2 of the first camera, or the shoot, or the question, meanwhile.
SLOT = "/kit/cases/1/slots/2"
ACTS = {
    "cases.clear": ("/kit/cases/1?slot=2", f"{SLOT}/clear", {}),
    "cases.shelf": ("/kit/cases/1?slot=2", f"{SLOT}/shelf", {}),
    "settling.borrowed": ("/kit/cases/1?slot=2", "/kit/cases/1/borrowed", {"like": "2"}),
    "settling.given_back": ("/kit/cases/1?slot=2", "/kit/cases/1/given-back", {}),
    "settling.ticked": ("/kit/cases/1/presses", "/kit/cases/1/presses", {}),
    "settling.settle": ("/kit/cases/1?slot=2", "/kit/cases/1/settle/2", {"how": "leave"}),
    "cases.put_from_slip": ("/slips/4", "/kit/put", {}),
    "outing.use": ("/outing/1?shoot=2", "/outing/1/shoots/2/use", {"at": "1:3"}),
    "notes.answered": ("/notes/", "/notes/{open}/answered", {}),
}


@pytest.mark.parametrize("endpoint", ACTS)
def test_an_act_on_what_was_changed_meanwhile_is_not_done(app, db, endpoint):
    page, to, data = ACTS[endpoint]
    client = app.test_client()
    trial = next(t.id for t in notes.listed(db) if t.next and t.answered_at is None)
    to = to.format(open=trial)
    if endpoint in ("settling.given_back", "settling.settle", "settling.ticked"):
        # A camera that was read with something else in it, and is borrowed.
        client.post("/kit/cases/1/read", data={"typed": "2: Style Ink"})
    if endpoint == "settling.given_back":
        client.post("/kit/cases/1/borrowed", data={"like": "2"})
    if endpoint == "outing.use":
        row = next(r for r in outings.get(db, 1).rows if r.id == 2)
        outings.put_shoot(db, 1, replace(row, case=None, slot=""))
    form = form_of(app, page, to)
    if endpoint == "cases.put_from_slip":
        at = re.search(r'value="(1:2:[0-9a-f]{16})"', client.get(page).text)[1]
        data = {"at": at}
    if endpoint == "notes.answered":
        client.post(to)
    elif endpoint == "outing.use":
        outings.put_shoot(db, 1, outings.moved(outings.shoot(outings.get(db, 1), 2), 5))
    else:
        client.post(SLOT, data={"slip": "3", "why": "by somebody else"})
    before = list(db.iterdump())
    answer = client.post(to, data={**form, **data}, headers=JSON)
    assert answer.status_code == 409, answer.text[:200]
    assert "changed since this page was opened" in answer.json["error"]
    assert list(db.iterdump()) == before
    if endpoint == "notes.answered":
        return  # and is asked no more
    # Drawn anew, it is done.
    again = form_of(app, page, to)
    if endpoint == "cases.put_from_slip":
        data = {"at": re.search(r'value="(1:2:[0-9a-f]{16})"', client.get(page).text)[1]}
    assert client.post(to, data={**again, **data}, headers=JSON).status_code in (200, 302)


@pytest.mark.parametrize("one", [99999, 0])
def test_of_what_is_not_there_nothing_is_acknowledged(app, db, one):
    """Every writing address, about numbers that nothing has."""
    client = app.test_client()
    said = {
        **dict.fromkeys(("id", "slip", "shoot", "like"), one), "at": f"{one}:1", "tag": "x",
        "by": 30, "how": "newest", "picture": "own-0123456789abcdef", "title": "G", "said": "left",
        "mark": "best", "light": "loft", "place": 1, "typed": "1: Linen",
    }  # fmt: skip
    named = {
        "picture_id": "own-0123456789abcdef", "key": "1", "body_id": "gull-9", "kind": "note",
        "token": "0" * 16, "secret": "x",
    }  # fmt: skip
    for rule in app.url_map.iter_rules():
        if "POST" not in (rule.methods or ()) or (not rule.arguments and rule.endpoint not in ACKS):
            continue
        url = re.sub(r"<(?:\w+:)?(\w+)>", lambda m: str(named.get(m[1], one)), rule.rule)
        before = list(db.iterdump())
        answer = client.post(url, data=said, headers=JSON)
        assert 400 <= answer.status_code < 500, (rule.endpoint, answer.status_code)
        assert list(db.iterdump()) == before, rule.endpoint


ACKS = ("slips.tag", "slips.restore", "slips.delete", "cases.put_from_slip")  # that name it inside


# Writing addresses that need no such test, and why.
ELSEWHERE = {
    "one act, whoever does it first: a row comes, goes or comes back": {
        "outing.add", "outing.bring", "outing.back", "outing.delete", "outing.duplicate",
        "outing.shoot_back", "outing.draft_notes", "notes.add", "notes.remove", "notes.back",
        "singly.add", "singly.remove", "singly.back", "cases.add", "cases.back", "cases.bring",
        "cases.retire", "slips.delete", "slips.restore", "slips.duplicate", "dropped.take_in",
        "dropped.delete_picture", "dropped.restore_picture", "blind.begin", "blind.bring",
        "blind.restore", "drill.begin", "drill.bring", "drill.back", "kit.keep", "kit.put_away",
        "kit.take_back", "kit.write_list", "devices.invite", "devices.forget", "devices.pair",
        "unreadable.remove", "unreadable.restore", "bring.take", "bring.take_back", "bring.restore",
    },
    "each adds beside the other": {
        "notes.hang", "slips.save", "slips.tag", "blind.choose", "drill.answered",
    },
    "in a test of its own": {"cases.undo"},
    "nothing of the library is written": {
        "begin.read_pasted", "bring.look", "kit.bring", "kit.near", "kit.teach", "charts.teach",
        "charts.pointed", "lessons.add", "lessons.back", "lessons.remove", "lessons.teach",
        "outing.try_shoot", "papers.csv_table", "papers.parcel", "papers.sheets", "slips.compare",
        "standin.load_card", "standin.press", "which.look",
    },
    "a setting of one person": {"drill.looked", "drill.use"},
}  # fmt: skip


def test_every_writing_address_is_looked_at(app):
    writing = {r.endpoint for r in app.url_map.iter_rules() if "POST" in (r.methods or ())}
    looked_at = {*EDITS, *GONE, *ACTS, *(e for group in ELSEWHERE.values() for e in group)}
    assert writing == looked_at
