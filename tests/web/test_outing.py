"""Outing: a day's light and what its shoots need, with the kit's slots; what clashes; the pocket
plan and the calendar."""

import io
import re
from contextlib import closing
from dataclasses import replace
from datetime import date

import pytest

from tests.web.test_cases import words
from zesty_plum.core.bodies import body
from zesty_plum.core.look import Balance, Look
from zesty_plum.core.outing import clash, suggest
from zesty_plum.core.outing.lights import FIXED, out_of_doors
from zesty_plum.core.outing.shoot import Gear, Shoot, needs
from zesty_plum.core.recipe import make
from zesty_plum.core.reckon.light import ev100
from zesty_plum.store import backup, database, outings
from zesty_plum.web import create_app

HERON = body("heron-m2")
DAY = {"name": "Saturday", "date": "2026-11-07", "place": "Quay", "zone": "Europe/Berlin"}
SHOOT = {"title": "Workshop", "from": "17:15", "to": "19:15", "light": "lamps", "focal": "45"}


def worked(shoot: Shoot, light, look=None):
    return needs(shoot, light, Gear(HERON, 1.5, look or Look()), 50)


@pytest.mark.parametrize("light", [*FIXED.values(), out_of_doors("day", "clear")])
@pytest.mark.parametrize("guard", [0, 2])
def test_an_exposure_is_right_for_its_light(light, guard):
    """What is set comes back to the light's own EV, but for what nothing is left for."""
    made = worked(Shoot(0, 60, "x", speed=0.5, near=4), light, replace(Look(), guard=guard))
    e = made.exposure
    assert ev100(e.aperture, e.time, e.iso) - e.filter == pytest.approx(
        light.ev100 - e.off, abs=0.01
    )
    assert e.iso >= HERON.sensor.base_iso * 2**guard - 1e-6


def test_the_slowest_time_is_what_hands_and_movement_leave():
    still = worked(Shoot(0, 60, "x", focal=50), FIXED["lamps"]).exposure
    runs = worked(Shoot(0, 60, "x", focal=50, speed=4, near=5, ev100=9), FIXED["lamps"])
    assert still.time == pytest.approx(2**3 / 75, rel=0.02)  # three stops of stabilisation
    across = 36 / 1.5 / 6000  # millimetres of a photosite
    smear = 4 * runs.exposure.time * 0.05 / (5 - 0.05) * 1000 / across
    assert smear <= 12.1
    assert dict(runs.rows)["Movement"].startswith("At 4 m/s and 5 m, 1/")


@pytest.mark.parametrize(
    ("shoot", "light", "look", "says"),
    [
        (Shoot(0, 60, "x", speed=2, near=2), FIXED["tubes"], Look(), "50 Hz lamps"),
        (Shoot(0, 60, "x"), FIXED["lanterns"], Look(exposure=-0.67), "Bias −2/3 here adds noise"),
        (
            Shoot(0, 60, "x"),
            FIXED["lamps"],
            Look(balance=Balance.FIXED, light_mired=150),
            "Its white balance is fixed: 2",
        ),
        (Shoot(0, 60, "x", ev100=14), FIXED["shade"], Look(guard=2), "Guard 2 needs ISO 500"),
    ],
)
def test_what_would_surprise_is_said(shoot, light, look, says):
    found = worked(shoot, light, look).warnings
    assert any(w.startswith(says) for w in found), found
    assert not worked(Shoot(0, 60, "x", ev100=15), FIXED["shade"]).warnings


def test_a_fixed_balance_is_told_by_its_colour():
    warm, cool = (
        worked(Shoot(0, 60, "x"), light, Look(balance=Balance.FIXED, light_mired=mired)).warnings[
            -1
        ]
        for light, mired in ((FIXED["lamps"], 180), (out_of_doors("day", "clear"), 350))
    )
    assert warm.endswith("too orange here")  # daylight's setting under lamps
    assert cool.endswith("too blue here")  # the lamps' setting by day


def recipe(**dials):
    return make("x", "heron-m2", dials)


@pytest.mark.parametrize(
    ("light", "best"),
    [(FIXED["lamps"], "2"), (out_of_doors("day", "clear"), "3"), (FIXED["shade"], "1")],
)
def test_the_slot_that_fits_a_light_is_suggested(light, best):
    choices = [
        suggest.Choice(1, "1", recipe(guard=1), "the family, overcast"),
        suggest.Choice(1, "2", recipe(white_balance="lamps"), "under lamps"),
        suggest.Choice(1, "3", recipe(exposure=-0.33, white_balance="daylight"), "hard sun"),
    ]
    found, why = suggest.best(choices, light)
    assert found.key == best
    assert found.why in why
    assert suggest.best([], light) is None


def test_clashes_and_cards_are_counted():
    shoots = [
        Shoot(60, 120, "One", who="Ann", frames=1000),
        Shoot(100, 160, "Two", who="Ann", frames=1000),
        Shoot(200, 260, "Three", who="Ann", minutes=30),
    ]
    planned = [clash.Planned(s, "A", 30, 100) for s in shoots]
    assert clash.clashes(planned) == [
        "Ann is at 'One' and 'Two' at once.",
        "A is wanted for 'One' and 'Two' at once.",
    ]
    use = clash.cards(planned, {"A": 64})[0]
    assert use.taken == 2 * 30_000 + 30 * 60 * 100 / 8
    assert use.holds == pytest.approx(60_800)
    assert use.words == "The card of A is full during 'Three'."
    assert clash.cards(planned[:1], {"A": 64})[0].words == ""


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
    assert "Fits: Lantern: put there for “under lamps”" in page
    assert "45 mm on this camera: 1/6 s holds, 3 stops of it thanks to stabilisation." in page
    assert "Lamps flicker at 100 Hz: 1/100 or 1/50." in page
    assert "First: read its card, nobody knows what is in it" in page
    post(f"{at}/shoots/1/use", {"at": "1:2"})
    assert "A 2" in words(client.get(at).text)
    post(f"{at}/shoots/1/move", {"by": "30"})
    assert "17:45–19:45" in words(client.get(at).text)
    pocket = client.get(f"{at}/pocket.html").text
    assert pocket.count("data:image/jpeg") == 1
    assert "<script" not in pocket
    ics = client.get(f"{at}/plan.ics").text
    assert "DTSTART:20261107T164500Z" in ics  # an hour before local time
    assert "SUMMARY:Workshop\\, A 2" in ics
    assert all(len(line.encode()) <= 75 for line in ics.split("\r\n"))
    post(f"{at}/shoots/1/remove")
    assert "No shoot yet." in words(client.get(at).text)
    post(f"{at}/shoots/1/back")
    post(f"{at}/duplicate")
    assert "Saturday, again" in client.get("/outing/days").text


def test_another_date_brings_another_light(client, post):
    at = post("/outing/days", DAY).location
    post(f"{at}/shoots", {**SHOOT, "light": "out", "from": "17:00", "to": "18:00"})
    dark = words(client.get(at).text)
    post(at, {**DAY, "date": "2026-06-21"})
    light = words(client.get(at).text)
    assert "Sunrise 04:4" in light
    assert re.search(r"night|dusk", dark)
    assert "day, clear" in light
    post(f"{at}/delete")
    assert "Plan a day" in client.get("/outing/").text
    post(f"{at}/back")
    assert client.get("/outing/").status_code == 302


@pytest.mark.parametrize(
    ("path", "sent", "says"),
    [
        ("/outing/days", {**DAY, "date": "soon"}, "A day needs its date, as 2026-11-07."),
        ("/outing/days", {**DAY, "zone": "Mars"}, "There is no time zone &#39;Mars&#39;"),
        ("/outing/days", {**DAY, "latitude": "95"}, "The latitude goes from -90 to 90."),
        ("/outing/1/shoots", {**SHOOT, "from": "late"}, "From is a time of day, as 06:15"),
        ("/outing/1/shoots", {**SHOOT, "to": "16:00"}, "A shoot ends after it begins."),
        ("/outing/1/shoots", {**SHOOT, "light": "neon"}, "There is no light &#39;neon&#39;"),
        ("/outing/1/shoots", {**SHOOT, "speed": "fast"}, "The speed is a number"),
        ("/outing/9/shoots", SHOOT, "There is no such day."),
    ],
)
def test_what_cannot_be_planned_is_told(post, path, sent, says):
    post("/outing/days", DAY)
    answer = post(path, sent)
    assert answer.status_code in (400, 404)
    assert says in answer.text


def test_a_backup_brings_days_back(tmp_path, client, post):
    at = post("/outing/days", DAY).location
    post(f"{at}/shoots", SHOOT)
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")
    with closing(database.connect(other.config["DATABASE"])) as db:
        backup.add(db, other.extensions["place"], io.BytesIO(whole))
        made = outings.listed(db)
        assert [(o.name, o.on, len(o.rows)) for o in made] == [("Saturday", date(2026, 11, 7), 1)]
