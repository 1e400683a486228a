"""Outing: a day's light and what its shoots need, with the kit's slots; what clashes; the pocket
plan and the calendar."""

import io
import json
import re
import shutil
import subprocess
from contextlib import closing
from datetime import UTC, date, datetime

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from jsonschema import validate

from tests.web.test_cases import words
from zesty_plum.core.bodies import body
from zesty_plum.core.kit.menu import Camera
from zesty_plum.core.kit.presses import calling
from zesty_plum.core.kit.state import shipped
from zesty_plum.store import backup, database, outing_file, outings
from zesty_plum.web import create_app

DAY = {"name": "Saturday", "date": "2026-11-07", "place": "Quay", "zone": "Europe/Berlin"}
SHOOT = {"title": "Workshop", "from": "17:15", "to": "19:15", "light": "lamps", "focal": "45"}


def test_a_day_from_nothing_to_the_pocket(client, post):
    assert "Plan a day" in client.get("/outing/").text
    at = post("/outing/days", DAY).location
    page = words(client.get(at).text)
    assert "Sunrise 07:33, sunset 16:32." in page
    assert "No shoot yet." in page
    post("/slips/save", {"body": "heron-m2", "name": "Lantern", "white_balance": "keep_warm"})
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A", "cards": "64 GB"})
    post("/kit/cases/1/slots/2", {"slip": "1", "why": "under lamps", "scene": "workshop"})
    here = post(f"{at}/shoots", {**SHOOT, "frames": "100", "at": "1"}).location
    page = words(client.get(here).text)
    assert "Looking for a slot that fits" in page
    fits = client.get(f"{at}/shoots/1/fits.json").json
    assert fits["words"].startswith("Lantern: put there for “under lamps”")
    assert (fits["at"], fits["name"]) == ("1:2", "Lantern")
    assert fits["words"] in words(client.get(here).text)  # it is kept
    assert "45 mm on this camera: 1/6 s holds, 3 stops of it thanks to stabilisation." in page
    assert "Lamps flicker at 100 Hz: 1/100 or 1/50." in page
    assert "First: read its card, nobody knows what is in it" in page
    post(f"{at}/shoots/1/use", {"at": "1:2"})
    assert "A 2" in words(client.get(at).text)
    post(f"{at}/shoots/1/move", {"by": "30"})
    assert "17:45–19:45" in words(client.get(at).text)
    post(f"{at}/shoots/1/remove")
    assert "No shoot yet." in words(client.get(at).text)
    post(f"{at}/shoots/1/back")
    post(f"{at}/duplicate")
    assert "Saturday, again" in client.get("/outing/days").text


@pytest.fixture
def planned(post):
    """A day with a shoot for each of two people, Ann's with a slot."""
    at = post("/outing/days", DAY).location
    post("/slips/save", {"body": "heron-m2", "name": "Lantern", "white_balance": "keep_warm"})
    post("/kit/cases", {"body": "heron-m2", "name": "First", "letter": "A", "cards": "64 GB"})
    post("/kit/cases/1/slots/2", {"slip": "1", "why": "under lamps", "scene": "workshop"})
    post(f"{at}/shoots", {**SHOOT, "frames": "100", "at": "1:2", "who": "Ann", "must": "the kiss"})
    post(f"{at}/shoots", {**SHOOT, "title": "Quay, by night", "from": "20:00", "to": "00:30",
                          "light": "street", "who": "Bo"})  # fmt: skip
    return at


def test_the_pocket_page_stands_alone_and_tells_what_to_press(client, planned):
    page = client.get(f"{planned}/pocket.html").text
    assert page.count("data:image/jpeg") == 1
    assert not re.search(r"(?:src|href)=.(?!data:)", page.split("<body")[1])
    heron = body("heron-m2")
    step = calling(heron, "2")
    assert f"Call 2: {step.path}." in words(page)
    camera = Camera(heron, shipped(heron))
    for button in step.buttons:
        camera = camera.press(button)
    assert camera.state.now == {**camera.state.now, **camera.state.slots["2"].dials}
    assert camera.line.of == "2"
    begins = [int(n) for n in re.findall(r'data-begins="(\d+)"', page)]
    assert begins[0] == datetime(2026, 11, 7, 16, 15, tzinfo=UTC).timestamp()
    mine = client.get(f"{planned}/pocket.html?who=Bo").text
    assert "Quay, by night" in mine
    assert "Workshop" not in mine


@pytest.mark.skipif(not shutil.which("pdftotext"), reason="poppler is not installed")
@pytest.mark.parametrize("kind", ["fold", "page"])
def test_the_day_on_paper_has_all_of_it(client, post, planned, tmp_path, kind):
    for k in range(12):
        post(f"{planned}/shoots", {**SHOOT, "title": f"More {k}", "must": "a long sentence " * 12})
    path = tmp_path / "day.pdf"
    path.write_bytes(client.get(f"{planned}/pocket.pdf?kind={kind}").data)
    told = ["pdftotext", "-raw", str(path), "-"]
    text = subprocess.run(told, capture_output=True, check=True, text=True).stdout
    flat = " ".join(text.split())
    for part in ("Saturday", "Workshop", "A 2", "Call 2: menu, right", "Not to miss: the kiss",
                 "Before you leave", "copy first", *(f"More {k}" for k in range(12))):  # fmt: skip
        assert part in flat, part
    if kind == "fold":  # read unfolded, the inner quarters are upside down
        box = subprocess.run(["pdftotext", "-bbox", str(path), "-"], capture_output=True,
                             check=True, text=True).stdout  # fmt: skip
        high = float(re.search(r'height="([\d.]+)"', box)[1])
        title = re.search(r'yMin="([\d.]+)"[^>]*>Saturday', box)
        assert float(title[1]) > high / 2  # the title is on the lower half, in front


def test_the_calendar_is_by_utc_and_folded(client, planned):
    ics = client.get(f"{planned}/plan.ics").text
    assert "DTSTART:20261107T161500Z" in ics  # an hour before local time
    assert "DTEND:20261107T233000Z" in ics  # over midnight
    assert "SUMMARY:Workshop\\, A 2" in ics
    assert all(len(line.encode()) <= 75 for line in ics.split("\r\n"))
    assert "Workshop" not in client.get(f"{planned}/plan.ics?who=Bo").text


def test_a_form_says_what_it_would_need_while_it_is_filled_in(client, post, planned):
    said = {**SHOOT, "shoot": "1", "at": "1:2", "ev": "f/4 1/60 ISO 800"}
    found = post(f"{planned}/shoots/try", said).json
    assert found["printed"].startswith("f/5 · 1/6 · ISO 125")
    assert not found["apart"]
    post("/slips/save", {"body": "heron-m2", "name": "Blue", "style": "ink"})
    post("/kit/cases/1/slots/3", {"slip": "2", "why": "x", "scene": "workshop"})
    other = post(f"{planned}/shoots/try", {**said, "at": "1:3"}).json
    assert re.fullmatch(r"Blue beside Lantern: CIEDE2000 \d+\.\d on patches\.", other["apart"])
    assert "A 2" in words(client.get(planned).text)  # nothing was kept


def test_a_night_over_midnight_a_day_without_sun_and_clocks_that_change(client, post):
    at = post("/outing/days", {**DAY, "place": "Skerry Light", "date": "2026-12-20", "zone": ""})
    post(f"{at.location}/shoots", {**SHOOT, "from": "22:30", "to": "01:15", "light": "out"})
    page = words(client.get(at.location).text)
    assert "The sun does not rise." in page
    assert "22:30–01:15" in page
    change = post("/outing/days", {**DAY, "date": "2026-10-25"}).location
    assert "The clocks go back that night: plan by the new time." in words(client.get(change).text)
    up = post("/outing/days", {**DAY, "latitude": "78", "date": "2026-06-21"}).location
    assert "The sun does not set." in words(client.get(up).text)


ODD = {
    "kelvin": st.sampled_from(["", "0", "1000", "20000"]), "ev": st.sampled_from(["", "-12", "24"]),
    "speed": st.sampled_from(["0", "0.0001", "400"]), "near": st.sampled_from(["0.05", "10000"]),
    "focal": st.sampled_from(["1", "50", "2000"]), "bracket": st.sampled_from(["1", "3", "15"]),
    "step": st.sampled_from(["0.3", "5", "200"]), "lapse": st.sampled_from(["", "0.5", "3600"]),
    "kind": st.sampled_from(["exposure", "iso", "guard", "balance", "style"]),
    "far": st.sampled_from(["", "0.05", "10000"]), "timeline": st.sampled_from(["", "1", "1000"]),
    "index": st.sampled_from(["", "12", "1000000"]), "grey": st.sampled_from(["", "0.3", "20"]),
    "light": st.sampled_from(["out", "lamps", "candles"]),
    "around": st.sampled_from(["", "snow", "a lit stage"]), "at": st.sampled_from(["", "1:2"]),
}  # fmt: skip


@given(odd=st.fixed_dictionaries(ODD))
@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_no_shoot_that_a_form_takes_breaks_its_day(client, post, planned, odd):
    """Whatever is taken is worked out and printed; whatever is not is told in a sentence."""
    answer = post(f"{planned}/shoots", {**SHOOT, "shoot": "1", **odd})
    if answer.status_code == 400:
        assert re.search(r"goes from|is a number", answer.text)
        return
    for part in ("", "/pocket.pdf", "/plan.ics"):
        assert client.get(planned + part).status_code == 200
    tried = post(f"{planned}/shoots/try", {**SHOOT, "shoot": "1", **odd}).json
    assert all(len(words_) < 400 for _, words_ in tried["rows"])


def test_two_cameras_at_one_thing_and_a_slot_that_was_planned_anew_are_warned_of(
    client, post, planned
):
    post("/kit/cases", {"body": "heron-m2", "name": "Second", "letter": "B"})
    post("/slips/save", {"body": "heron-m2", "name": "Ink", "style": "ink"})
    post("/kit/cases/2/slots/1", {"slip": "2", "why": "x", "scene": "workshop"})
    post(f"{planned}/shoots", {**SHOOT, "title": "Second view", "at": "2:1", "who": "Cy"})
    assert re.search(r"A 2 and B 1 differ: CIEDE2000 \d", words(client.get(planned).text))


def test_what_is_rated_at_an_index_has_a_lut_with_the_offset(client, post):
    at = post("/outing/days", DAY).location
    post("/slips/save", {"body": "wader-v1", "name": "Log", "style": "sounding"})
    post("/kit/cases", {"body": "wader-v1", "name": "Film", "letter": "W"})
    post("/kit/cases/1/slots/1", {"slip": "1", "why": "x", "scene": "quayside"})
    shoot = {**SHOOT, "at": "1:1", "index": "200", "ev": "12"}
    page = client.get(post(f"{at}/shoots", shoot).location).text
    url = re.search(r'href="([^"]*look\.cube[^"]*)"', page)[1].replace("&amp;", "&")
    assert "offset=-3" in url
    assert "input=sounding" in url
    cube = client.get(url).text
    assert "-3" in cube[: cube.index("LUT_3D_SIZE")]


def test_another_date_brings_another_light(client, post):
    at = post("/outing/days", DAY).location
    post(f"{at}/shoots", {**SHOOT, "light": "out", "from": "17:00", "to": "18:00"})
    dark = words(client.get(at).text)
    post(at, {**DAY, "date": "2026-06-21"})
    light = words(client.get(at).text)
    assert "Sunrise 04:4" in light
    assert re.search(r"night|dusk", dark)
    assert "Day, clear" in light
    post(f"{at}/delete")
    assert "Plan a day" in client.get("/outing/").text
    post(f"{at}/back")
    assert client.get("/outing/").status_code == 302


@pytest.mark.parametrize(
    ("path", "sent", "says"),
    [
        (
            "/outing/days",
            {**DAY, "date": "soon"},
            "“Date” takes a date, as 2026-11-07, not &#39;soon&#39;.",
        ),
        (
            "/outing/days",
            {**DAY, "zone": "Mars"},
            "“Time zone” takes a zone by its name, as Europe/Berlin.",
        ),
        ("/outing/days", {**DAY, "latitude": "95"}, "“Degrees north” goes from −90 to 90, not 95."),
        (
            "/outing/1/shoots",
            {**SHOOT, "from": "late"},
            "“From” takes a time of day, as 06:15, not &#39;late&#39;.",
        ),
        (
            "/outing/1/shoots",
            {**SHOOT, "to": "16:00"},
            "“To” comes after the beginning, and within 16 hours;",
        ),
        (
            "/outing/1/shoots",
            {**SHOOT, "light": "neon"},
            "“Light” can be out of doors, ",
        ),
        (
            "/outing/1/shoots",
            {**SHOOT, "speed": "fast"},
            "“Moves at, m/s” takes a number, as 2, not &#39;fast&#39;.",
        ),
        ("/outing/9/shoots", SHOOT, "There is no such day."),
    ],
)
def test_what_cannot_be_planned_is_told(post, path, sent, says):
    post("/outing/days", DAY)
    answer = post(path, sent)
    assert answer.status_code in (400, 404)
    assert says in answer.text


def test_the_finder_finds_days_and_shoots(client, planned):
    (day,) = client.get("/find.json?q=saturday").json
    (shoot,) = client.get("/find.json?q=Y,%20by").json
    assert (day["name"], shoot["name"]) == ("Saturday", "Quay, by night")
    assert 'aria-labelledby="shoot-title"' in client.get(shoot["url"]).text
    assert client.get("/find.json?q=zzz").json == []


def test_the_finder_does_things_where_they_can_be_done(client):
    """Dials and commands on the Bench alone; scenes lead there from elsewhere."""

    def kinds(query):
        return [(e["name"], e["kind"], "url" in e) for e in client.get(f"/find.json?{query}").json]

    assert kinds("q=zebra") == []
    assert kinds("q=zebra&body=heron-m2") == [("Zebra", "command, Z", False)]
    assert kinds("q=net+lo") == [("Net loft", "scene", True)]
    assert kinds("q=net+lo&body=heron-m2") == [("Net loft", "scene", False)]
    assert kinds("q=grain&body=heron-m2")[0][1] == "dial"
    assert kinds("q=WALL") == [("Wall", "place", True)]


def test_a_days_file_fits_its_schema_and_comes_back_the_same(client, post):
    at = post("/outing/days", DAY).location
    post(f"{at}/shoots", {**SHOOT, "ev": "5.5", "speed": "0.4", "must": "the youngest"})
    told = client.get(f"{at}/day.outing.json").data
    validate(json.loads(told), outing_file.schema())
    sent = {"file": (io.BytesIO(told), "x.outing.json")}
    other = post("/outing/bring", sent, content_type="multipart/form-data").location
    assert json.loads(client.get(f"{other}/day.outing.json").data) == json.loads(told)
    for odd, says in (
        (b"{", "not valid JSON"),
        (b'{"format": "zesty-plum-outing", "version": 2}', "of version 2"),
        (told.replace(b"17:15", b"27:15"), "In shoot 1 of this file “From” takes a time of day"),
        (
            told.replace(b"19:15", b"16:15"),
            "In shoot 1 of this file “To” comes after the beginning",
        ),
    ):
        sent = {"file": (io.BytesIO(odd), "x.outing.json")}
        answer = post("/outing/bring", sent, content_type="multipart/form-data")
        assert answer.status_code == 400
        assert says in answer.text
    assert client.get("/outing/days").text.count("Saturday</a>") == 2


def test_a_backup_brings_days_back(tmp_path, client, post):
    at = post("/outing/days", DAY).location
    post(f"{at}/shoots", SHOOT)
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")
    with closing(database.connect(other.config["DATABASE"])) as db:
        backup.add(db, other.extensions["place"], io.BytesIO(whole))
        made = outings.listed(db)
        assert [(o.name, o.on, len(o.rows)) for o in made] == [("Saturday", date(2026, 11, 7), 1)]
