"""Kit: what should stand in cameras, what is found in them, and settling the difference; through
pages, cards and the stand-in alone."""

import io
import json
import random
import re
import zipfile
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime

import cv2
import numpy as np
import pytest
from click.testing import CliRunner

from tests.builders import rendered
from zesty_plum.cli import main
from zesty_plum.core import scenes
from zesty_plum.core.kit.menu import BUTTONS
from zesty_plum.core.paper import case_card
from zesty_plum.store import backup, cases, database, notes, plans, readings, slips
from zesty_plum.store.notes import Trial
from zesty_plum.web import create_app

BARE = {"slots": {}, "beside": {}, "now": None}


@pytest.fixture
def camera(post):
    """A Heron M2 called A with a slip in its second slot."""
    post("/slips/save", {"body": "heron-m2", "name": "Tide", "style": "linen", "shadows": "1"})
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A", "carried": "pier crew"})
    post("/kit/cases/1/slots/2", {"slip": "1", "why": "under lamps", "scene": "workshop"})
    return "/kit/cases/1"


def card_of(client, path: str) -> bytes:
    return client.get(path).data


def loaded(data: bytes) -> dict:
    with zipfile.ZipFile(io.BytesIO(data)) as inside:
        return json.loads(inside.read("plum-card/card.json"))


def read(post, at: str, data: bytes | dict, name: str = "card.zip"):
    data = json.dumps(data).encode() if isinstance(data, dict) else data
    name = "card.json" if data[:1] == b"{" else name
    sent = {"file": (io.BytesIO(data), name)}
    return post(f"{at}/read", sent, content_type="multipart/form-data")


def token(client) -> str:
    return client.get("/slips").text.split('name="csrf-token" content="')[1].split('"')[0]


def words(page: str) -> str:
    return " ".join(re.sub(r"<[^>]+>", " ", page).split())


def test_from_an_empty_kit_to_a_settled_difference(client, post, camera):
    page = words(client.get(f"{camera}?slot=2").text)
    assert "Nobody knows what is in it yet" in page
    planned = card_of(client, f"{camera}/plum-card.zip")
    told = loaded(planned)
    assert told["slots"]["2"]["dials"]["shadows"] == 1
    assert "exposure" not in told["slots"]["2"]["dials"]  # no slot of this body holds it
    told["slots"]["2"]["dials"]["shadows"] = -1
    told["slots"]["2"]["dials"]["exposure"] = -1  # and one that says so is not minded
    answer = read(post, camera, told)
    assert answer.location.endswith("/kit/cases/1?slot=2")
    page = words(client.get(answer.location).text)
    assert "One slot is not what the slips say." in page
    assert "Shadows -1 on the body, +1 on the slip" in page
    assert "A small difference, seen side by side." in page
    assert "Tone, Shadows 0 → +1" in page  # from what is set now
    looks = client.get(f"{camera}/slots/2/words").json["words"]
    assert re.match(r"On [A-Z].*, the body is .*(darker|shadows)", looks), looks
    post(f"{camera}/settle/2", {"how": "keep"})
    assert "As planned" in words(client.get(f"{camera}?slot=2").text)
    assert "version 2" in words(client.get("/slips/1").text)
    assert "In A 2" in words(client.get("/slips/1").text)


def test_leaving_it_so_holds_until_it_changes_again(client, post, camera):
    told = loaded(card_of(client, f"{camera}/plum-card.zip"))
    told["slots"]["2"]["dials"]["shadows"] = 0
    read(post, camera, told)
    post(f"{camera}/settle/2", {"how": "leave"})
    assert "is not what the slips say" not in words(client.get(camera).text)
    read(post, camera, told)
    assert "is not what the slips say" not in words(client.get(camera).text)
    told["slots"]["2"]["dials"]["shadows"] = 2
    read(post, camera, told)
    assert "One slot is not what the slips say" in words(client.get(camera).text)


def test_a_slip_that_goes_on_says_where_its_older_version_stands(client, post, camera):
    read(post, camera, card_of(client, f"{camera}/plum-card.zip"))
    sent = {"body": "heron-m2", "name": "Tide", "style": "linen", "shadows": "2", "slip": "1"}
    post("/slips/save", {**sent, "body_edition": "2"})
    assert "It stands in A 2 with an older version" in client.get("/slips").text
    page = words(client.get(f"{camera}?slot=2").text)
    assert "The slip is at version 2" in page
    assert "One slip has gone on to another version." in page
    post(f"{camera}/settle/2", {"how": "newest"})
    told = loaded(card_of(client, f"{camera}/plum-card.zip"))
    assert told["slots"]["2"]["dials"]["shadows"] == 2
    page = words(client.get(f"{camera}?slot=2").text)
    assert "On the body it is version 1" in page


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda t: '{"format": "zesty-plum-card", "ver', "was not written to its end"),
        (
            lambda t: {**t, "body": "wader-v1", **BARE},
            "This card is of a Wader V1; First is",
        ),
        (lambda t: {**t, "version": 2}, "of version 2; this program reads up to version 1"),
        (lambda t: {**t, "format": "x"}, "This is no settings card"),
        (
            lambda t: {**t, "slots": {"9": {"dials": {}}}},
            "has no slot &#39;9&#39;. Its slots are 1 to 7",
        ),
        (lambda t: {**t, "slots": {"1": {"dials": {"wobble": 1}}}}, "no dial &#39;wobble&#39;"),
        (lambda t: {**t, "slots": {"1": {"dials": {"shadows": 9}}}}, "cannot be set to 9"),
        (lambda t: {**t, "beside": {"wobble": "x"}}, "no setting &#39;wobble&#39; beside the look"),
        (lambda t: {**t, "body": "plover"}, "is not here. Bring in its file on Kit"),
    ],
)
def test_an_odd_card_is_told_of_and_nothing_is_lost(client, post, camera, change, says):
    before = loaded(card_of(client, f"{camera}/plum-card.zip"))
    made = change(json.loads(json.dumps(before)))
    data = made.encode() if isinstance(made, str) else json.dumps(made).encode()
    answer = read(post, camera, data, "card.json")
    assert answer.status_code == 400
    assert says in words(answer.text)
    assert "Nobody knows what is in it yet" in words(client.get(camera).text)


def test_a_card_finds_its_camera_or_asks(client, post, camera):
    card = card_of(client, f"{camera}/plum-card.zip")
    assert read(post, "/kit", card).location.startswith("/kit/cases/1")
    post("/kit/cases", {"body": "heron-m2", "name": "Second", "letter": "B"})
    assert read(post, "/kit", card).location.startswith("/kit/cases/1")  # by its name
    told = loaded(card)
    told["case"] = ""
    odd = read(post, "/kit", told)
    assert "2 of your cameras are a Heron M2: A and B" in odd.text
    none = read(post, "/kit", {**told, "body": "dunlin-4", **BARE})
    assert "of a Dunlin 4, and none is in your kit" in none.text
    empty = post(
        "/kit/read", {"file": (io.BytesIO(b"x"), "a.txt")}, content_type="multipart/form-data"
    )
    assert "No settings card is in it" in empty.text


@pytest.mark.parametrize(
    ("text", "key", "dial", "value"),
    [
        ("All as planned but 2: Shadows -1", "2", "shadows", -1),
        ("all as planned", "2", "shadows", 1),
        ("slot 2: Shadows +2; Sounds off", "2", "shadows", 2),
        ("2: as planned", "2", "shadows", 1),
    ],
)
def test_typing_what_it_shows_is_as_good_as_a_card(app, post, camera, text, key, dial, value):
    assert post(f"{camera}/read", {"typed": text}).status_code == 302
    with closing(database.connect(app.config["DATABASE"])) as db:
        found = readings.last(db, cases.get(db, 1))
        assert found.how == "typed"
        assert found.state.slots[key].dials[dial] == value
        assert ("sounds" in found.state.beside) == ("Sounds" in text)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("2: Wobble 7", "Slot 2: &#39;Wobble 7&#39; is no setting of Heron M2"),
        ("9: Shadows -1", "has no slot &#39;9&#39;"),
        ("Sounds loud", "Sounds can be on, off, not &#39;loud&#39;"),
        ("hello", "&#39;hello&#39; is not understood. Begin with a slot"),
    ],
)
def test_what_is_typed_and_not_understood_is_told(post, camera, text, says):
    answer = post(f"{camera}/read", {"typed": text})
    assert answer.status_code == 400
    assert says in answer.text


def test_slots_take_what_fits_and_every_change_can_be_undone(client, post, camera):
    assert post("/kit/cases/9/slots/1/clear").status_code == 404
    assert post(f"{camera}/slots/99/clear").status_code == 400
    post("/slips/save", {"body": "dunlin-4", "name": "Old glass"})
    post("/slips/save", {"body": "heron-m2", "name": "Clip", "output": "clip_8"})
    wrong = post(f"{camera}/slots/1", {"slip": "2"})
    assert "&#39;Old glass&#39; is for Dunlin 4, not for Heron M2" in wrong.text
    wrong = post(f"{camera}/slots/1", {"slip": "3"})
    assert "Slot 1 is for stills" in wrong.text
    assert post(f"{camera}/slots/c1", {"slip": "3"}).status_code == 302
    assert "has no slot" in post(f"{camera}/slots/8", {"slip": "1"}).text
    assert "Clip" in client.get("/slips?q=slot:Ac1").text
    post("/kit/put", {"slip": "1", "at": "1:3"})
    for query, finds in (("slot:A3", True), ("in:kit", True), ("slot:B3", False), ("in:B", False)):
        cards = client.get("/slips", query_string={"q": query, "part": "cards"}).text
        assert ("Tide" in cards) == finds, query
    page = words(client.get(camera).text)
    assert "Nobody could tell slots 2 and 3 apart." in page
    before = client.get(camera).text.count("Nothing planned")
    client.post(f"{camera}/slots/3/clear", data={"csrf_token": token(client)})
    cleared = client.get(camera).text
    assert cleared.count("Nothing planned") == before + 1
    post(re.findall(r'action="(/kit/undo/\d+)"', cleared)[-1])
    assert client.get(camera).text.count("Nothing planned") == before


def test_sets_show_what_they_change_before_they_count(client, post, camera):
    page = words(client.get(f"{camera}?set=quiet").text)
    assert "Wedding, quiet. Nobody hears it" in page
    assert "Sounds: on → off" in page
    post(f"{camera}/beside", {"set": "quiet"})
    assert "All of it is planned already." in client.get(f"{camera}?set=quiet").text
    told = loaded(card_of(client, f"{camera}/plum-card.zip"))
    assert told["beside"]["two_cards"] == "same"
    told["beside"]["without_card"] = "allowed"
    read(post, camera, told)
    page = words(client.get(camera).text)
    assert "One setting beside the look differs." in page
    assert "allowed on the body. Allowed, a whole job can go nowhere." in page
    odd = post(f"{camera}/beside", {"sounds": "loud"})
    assert "cannot be set to" in odd.text
    assert "No button leads to white balance" in page
    post(f"{camera}/beside", {"front_button": "white_balance"})
    assert "Front button, then White balance auto" in words(client.get(camera).text)


@pytest.mark.parametrize("seed", range(4))
def test_whatever_is_changed_on_the_stand_in_is_found_and_put_right(client, post, camera, seed):
    """Through its own buttons and cards alone: any presses; then the list carried out on it."""
    hand, at = random.Random(seed), "/stand-in/heron-m2"
    sent = {"file": (io.BytesIO(card_of(client, f"{camera}/plum-card.zip")), "c.zip")}
    post(f"{at}/card", sent, content_type="multipart/form-data")
    saves = "menu " + "right " * 20 + "down " * (3 + 14 + hand.randint(0, 6)) + "ok "
    calls = "menu " + "right " * 20 + "down " * (3 + hand.randint(0, 13)) + "ok menu "
    wander = " ".join(hand.choice([*BUTTONS[1:], "right", "down", "ok", "up"]) for _ in range(120))
    for presses in (f"{calls} menu {wander}", "menu menu", f"ok menu menu {saves}"):
        post(f"{at}/press", {"button": presses})
    found = card_of(client, f"{at}/plum-card.zip?case=First")
    planned = loaded(card_of(client, f"{camera}/plum-card.zip"))["slots"]["2"]["dials"]
    differing = loaded(found)["slots"]["2"]["dials"] != planned
    read(post, camera, found)
    page = words(client.get(camera).text)
    assert ("is not what the slips say" in page) == differing
    paths = re.findall(r"<small>([^<]+)</small>", client.get(f"{camera}/presses").text)
    for path in paths:
        buttons = []
        for part in path.split(", "):
            name, _, many = part.partition(" ")
            buttons += [name.lower()] * int(many or 1)
        post(f"{at}/press", {"button": " ".join(buttons)})
    read(post, camera, card_of(client, f"{at}/plum-card.zip?case=First"))
    assert "As planned, read" in words(client.get(camera).text)


def test_a_borrowed_camera_is_brought_to_ones_own_state_and_given_back(app, client, post, camera):
    post("/kit/cases", {"body": "dunlin-4", "name": "Lent", "letter": "L"})
    lent = "/kit/cases/2"
    came = loaded(card_of(client, f"{lent}/plum-card.zip"))
    came["slots"]["2"]["dials"]["contrast"] = 3
    read(post, lent, came)
    post(f"{lent}/borrowed", {"like": "1"})
    page = words(client.get(lent).text)
    assert "Tide" in page
    assert "borrowed" in page
    post(f"{lent}/presses")
    assert "As planned" in words(client.get(lent).text)
    post(f"{lent}/given-back")
    told = loaded(card_of(client, f"{lent}/plum-card.zip"))
    assert told["slots"]["2"]["dials"] == came["slots"]["2"]["dials"]
    assert "presses" in words(client.get(f"{lent}/presses").text)
    odd = post(f"{lent}/borrowed", {"like": "2"})
    assert "cannot be brought to its own state" in odd.text


def test_two_slots_are_matched_scene_by_scene_with_the_same_view(client, post, camera):
    post("/slips/save", {"body": "wader-v1", "name": "Clip", "saturation": "-6"})
    post("/kit/cases", {"body": "wader-v1", "name": "Film", "letter": "W", "crop": "1"})
    post("/kit/cases/2/slots/1", {"slip": "2"})
    post(camera, {"name": "First", "letter": "A", "crop": "1.5"})
    html = client.get("/kit/match?a=1:2&b=2:1").text
    page = words(html)
    offs = [float(v) for v in re.findall(r"</span><span>([\d.]+)<", html)]
    assert offs == sorted(offs, reverse=True)
    assert len(offs) == len(scenes.index())
    assert "23 mm here is 34 mm there" in page
    assert "For the same blur behind, 1.2 stops wider here." in page
    assert "Open it on the Bench" in page
    assert "Open it on the Bench" not in client.get("/kit/match?a=1:9&b=x").text
    sent = client.get(f"{camera}/page.html").text
    assert "A 2 Tide" in words(sent)
    assert sent.count("data:image/jpeg") == 1


def test_a_reading_that_is_broken_off_leaves_the_old_state(client, post, camera, monkeypatch):
    read(post, camera, card_of(client, f"{camera}/plum-card.zip"))
    client.get(camera)  # what is told of once was told
    before = words(client.get(camera).text)

    def killed(*_):
        raise KeyboardInterrupt

    monkeypatch.setattr(readings.card, "files", killed)
    with pytest.raises(KeyboardInterrupt):
        post(f"{camera}/read", {"typed": "2: Shadows -3"})
    monkeypatch.undo()
    assert words(client.get(camera).text) == before


def test_the_card_of_a_camera_shows_each_slot_on_its_scene(client, post, camera):
    post("/kit/cases", {"body": "heron-m2", "name": "Bare"})
    assert "Nothing is planned for Bare" in client.get("/kit/cases/2/card.jpg").text
    drawn = cv2.imdecode(np.frombuffer(client.get(f"{camera}/card.jpg").data, np.uint8), 1)
    drawn = drawn[..., ::-1].astype(float)
    wide, high = case_card.PRINT[1]
    left, top = case_card.MARGIN, case_card.HEAD + 16
    there = drawn[top : top + high, left : left + wide]
    seen = rendered(scenes.load("workshop"), 480, style="linen", shadows=1).pixels
    small = cv2.resize(seen, (wide, high), interpolation=cv2.INTER_AREA)
    assert np.abs(there - small).mean() < 4
    plain = cv2.resize(rendered(scenes.load("workshop")).pixels, (wide, high))
    assert np.abs(there - plain).mean() > 6
    for key in ("1", "3", "4", "5", "6", "7", "c1"):
        post(f"{camera}/slots/{key}", {"slip": "1", "why": "x" * 60, "scene": "own-gone"})
    tall = cv2.imdecode(np.frombuffer(client.get(f"{camera}/card.jpg").data, np.uint8), 1)
    assert tall.shape[1] == drawn.shape[1]
    assert tall.shape[0] == case_card.HEAD + 4 * case_card.ROW[2] + case_card.FOOT


def test_kit_json_and_a_backup_bring_the_cameras_back(tmp_path, client, post, camera):
    post(f"{camera}/beside", {"set": "quiet"})
    about = {"name": "First", "letter": "A", "ahead": "60", "hot": "35"}
    assert post(camera, {**about, "hot": "-3"}).status_code == 400
    post(camera, about)
    told = client.get("/kit/kit.json").data
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")
    with closing(database.connect(other.config["DATABASE"])) as db:
        backup.add(db, other.extensions["place"], io.BytesIO(whole))
        case = cases.named(db, "A")
        assert plans.slots_of(db, case.id)["2"].slip == 1
        assert plans.beside_of(db, case)["sounds"] == "off"
        backup.add(db, other.extensions["place"], io.BytesIO(whole))
        assert len(cases.listed(db)) == 1
    third = create_app(tmp_path / "third")
    there = third.test_client()
    third.config["WTF_CSRF_ENABLED"] = False
    sent = {"file": (io.BytesIO(told), "kit.json")}
    there.post("/kit/kit.json", data=sent, content_type="multipart/form-data")
    assert "Tide" in there.get("/kit/cases/1").text
    with closing(database.connect(third.config["DATABASE"])) as db:
        case = cases.named(db, "A")
        assert (case.ahead, case.hot) == (60, 35)
    for odd in (b"{", b'{"format": "zesty-plum-kit", "version": 9}', b'{"format": "x"}'):
        sent = {"file": (io.BytesIO(odd), "kit.json")}
        answer = there.post("/kit/kit.json", data=sent, content_type="multipart/form-data")
        assert answer.status_code == 400


def test_the_kit_from_a_shell(app, tmp_path, camera):
    data, run = str(app.extensions["place"].folder), CliRunner()

    def asked(*args):
        done = run.invoke(main, ["kit", *args, "--data", data, "--json"])
        return done.exit_code, json.loads(done.stdout) if not done.exit_code else done.stderr

    assert asked("list")[1][0]["slots"][0]["name"] == "Tide"
    assert "Nobody knows what is in First" in asked("plan", "A")[1]
    card = tmp_path / "card"
    assert asked("write", "A", str(card))[0] == 0
    at = card / "plum-card" / "card.json"
    told = json.loads(at.read_text())
    told["slots"]["2"]["dials"]["shadows"] = -1
    at.write_text(json.dumps(told))
    code, found = asked("read", str(card))
    assert code == 0
    assert found["slots"][0]["dials"] == [{"label": "Shadows", "planned": "+1", "found": "-1"}]
    code, way = asked("plan", "A")
    assert way["presses"] == sum(s["presses"] for s in way["steps"]) > 0
    at.write_text("{")
    assert "was not written to its end" in asked("read", str(card))[1]
    assert "There is no settings card" in asked("read", str(tmp_path / "none"))[1]
    assert "There is no camera 'Z'" in asked("write", "Z", str(card))[1]


def test_a_slot_that_nobody_used_for_long_is_said_while_its_camera_was_out(
    app, client, post, camera
):
    post("/slips/save", {"body": "heron-m2", "name": "Ebb", "style": "ink"})
    post(f"{camera}/slots/1", {"slip": "2", "why": "fog", "scene": "kite-beach"})
    said = {"name": "Out", "date": "2026-11-07", "place": "Quay", "zone": "Europe/Berlin"}
    day = post("/outing/days", said).location
    shoot = {"title": "Pier", "from": "10:00", "to": "11:00", "light": "lamps", "at": "1:2"}
    post(f"{day}/shoots", shoot)
    post(f"{day}/shoots", {**shoot, "at": "1:1"})
    post(f"{day}/shoots/2/remove")
    idle = "Slot 1 was in no outing and no note for 60 days."

    def on(month, day_, year=2026):
        app.config["CLOCK"].now = datetime(year, month, day_, 9, tzinfo=UTC)
        return idle in words(client.get(camera).text)

    assert not on(11, 20)  # both were put there seven weeks ago
    assert on(12, 20)
    assert not on(3, 1, 2027)  # the camera itself was not out since
    with closing(database.connect(app.config["DATABASE"])) as db:
        ebb = slips.some(db, [2])[0].recipe
        trial = Trial(id=0, made_at="2026-11-30T09:00:00Z", before=ebb, after=ebb, slip=2)
        notes.add(db, [replace(trial, case=2)])
        assert on(12, 20)  # that was another camera
        notes.add(db, [replace(trial, case=1)])
    assert not on(12, 20)


def test_cameras_of_one_name_are_told_apart(client, post):
    """By id in addresses and rules, and where people read them."""
    for _ in range(3):
        post("/kit/cases", {"body": "heron-m2", "name": "Heron M2", "letter": "A"})
    names = re.findall(r"<b>(Heron M2[^<]*)</b>", client.get("/kit/cases/2").text)
    assert names == ["Heron M2", "Heron M2, second", "Heron M2, third"]
    assert "<h2>Heron M2, second</h2>" in client.get("/kit/cases/2").text
    # A card is of the camera that it was written for.
    told = client.get("/kit/cases/3/plum-card.zip").data
    sent = {"file": (io.BytesIO(told), "card.zip")}
    answer = post("/kit/read", sent, content_type="multipart/form-data")
    assert answer.location.startswith("/kit/cases/3")
    # Away, one is not counted.
    post("/kit/cases/1/retire", {})
    names = re.findall(r"<b>(Heron M2[^<]*)</b>", client.get("/kit/cases/2").text)
    assert names == ["Heron M2", "Heron M2, second"]
