"""Pages and addresses through Flask's client."""

import io
import json
import re

import cv2
import numpy as np
import pytest
from flask import url_for
from PIL import Image

from tests.builders import file_of, recipe
from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.pictures import metadata
from zesty_plum.web.frame.screens import screens
from zesty_plum.web.server.security import POLICY


def sent(data: bytes, name: str) -> dict:
    return {"file": (io.BytesIO(data), name)}


PAGES = (
    "/bench",
    "/bench?scene=workshop&style=ink&line=grain&clip=1",
    "/slips",
    "/slips/1",
    "/slips/1/card",
    "/slips/1/lut",
    "/bring/1",
    "/restore",
    "/wall",
    "/blind",
    "/no/such/page",
)


@pytest.mark.parametrize("url", PAGES)
def test_every_page_carries_the_policy_and_no_inline_script(client, post, url):
    post("/slips/save", {"name": "One", "style": "linen"})
    post("/bring", {"text": "Style Linen"})
    answer = client.get(url)
    assert answer.headers["Content-Security-Policy"] == POLICY
    assert "unsafe" not in POLICY
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert not re.search(r"<script(?![^>]*(src=|application/json))", answer.text)
    assert not re.search(r"\son\w+=|\sstyle=", answer.text)
    assert not re.search(r"(src|href|action)=[\"']?(https?:)?//", answer.text)


@pytest.mark.parametrize(
    "host",
    [
        "evil.example",
        "evil.example:8760",
        "192.168.1.4",
        "127.0.0.1.evil.example",
        "[::1]evil.example",
        "127.0.0.1:80@evil.example",
        "localhost:",
        "",
    ],
)
def test_other_hosts_are_not_answered(client, host):
    assert client.get("/slips", headers={"Host": host}).status_code == 400
    for ours in ("127.0.0.1:8760", "127.0.0.1", "LocalHost:80", "[::1]:8760", "[::1]"):
        assert client.get("/slips", headers={"Host": ours}).status_code == 200


@pytest.mark.parametrize(
    ("page", "back"),
    [
        ("http://localhost/slips?q=x", "/slips?q=x"),
        ("http://evil.example/slips", None),
        ("http://localhost.evil.example/", None),
        ("http://localhost//evil.example", None),
    ],
)
def test_a_fault_leads_back_to_a_page_of_ours_or_nowhere(client, page, back):
    answer = client.post("/slips/tag", data={}, headers={"Referer": page})
    assert (answer.status_code, answer.headers.get("Location")) == (
        (302, back) if back else (400, None)
    )


def test_every_change_needs_its_token(client, app):
    changes = [r for r in app.url_map.iter_rules() if "POST" in r.methods]
    assert len(changes) >= 15
    for rule in changes:
        if rule.endpoint == "devices.pair":
            continue  # it is not there at all without its secret (test_sharing)
        url = re.sub(r"<int:\w+>", "1", rule.rule).replace("<picture_id>", "own-1")
        answer = client.post(url, data={"name": "x"}, headers={"Accept": "application/json"})
        assert answer.status_code == 400
        assert "out of date" in answer.json["error"]


def test_a_picture_is_a_pure_function_of_its_address(client):
    url = "/render/workshop.jpg?style=linen&guard=2&grain=1&width=300"
    first = client.get(url)
    assert first.status_code == 200
    assert "immutable" in first.headers["Cache-Control"]
    assert not first.headers["ETag"].startswith("W/")
    assert client.get(url, headers={"If-None-Match": first.headers["ETag"]}).status_code == 304
    assert client.get(url + "&highlights=0").headers["ETag"] == first.headers["ETag"]
    assert client.get(url + "&highlights=1").headers["ETag"] != first.headers["ETag"]
    assert cv2.imdecode(np.frombuffer(first.data, np.uint8), 1).shape == (200, 300, 3)
    assert "ISO 3200" in first.headers["Plum-Exposure"]


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("guard=7", "0, 1, 2"),
        ("style=velvet", "plain"),
        ("width=9999999", "48 to 3000"),
        ("width=x", "whole number"),
        ("body=owl", "heron"),
        ("highlights=nan", "cannot"),
        ("exposure=1e999", "cannot"),
        ("seed=-1", "whole number"),
        ("intent=art", "finished"),
    ],
)
def test_faults_in_an_address_are_named(client, query, words):
    answer = client.get(f"/render/boatyard.jpg?{query}", headers={"Accept": "application/json"})
    assert answer.status_code in (400, 404)
    assert words in answer.json["error"]
    assert client.get("/render/nowhere.jpg").status_code == 404
    assert client.get("/render/own-..%2f..%2fplum.db.jpg").status_code == 404


def test_marks_are_where_the_picture_is_clipped(client):
    query = "?exposure=1&white_balance=grey_card&width=400"
    marks = np.array(
        Image.open(io.BytesIO(client.get(f"/render/workshop.marks.png{query}").data)).convert(
            "RGBA"
        )
    )
    shown = cv2.imdecode(
        np.frombuffer(client.get(f"/render/workshop.jpg{query}").data, np.uint8), 1
    )
    on = marks[..., 3] > 0
    assert 0.005 < on.mean() < 0.5
    assert np.percentile(shown[on].min(-1), 5) > 245


def test_guard_says_what_it_costs(client):
    assert re.search(r"data-cost[^>]*>at least ISO 500<", client.get("/bench?guard=2").text)


def test_saving_keeps_versions_and_deleting_can_be_undone(post, client):
    made = {"name": "Tide", "style": "linen", "guard": "1"}
    answer = post("/slips/save", made, headers={"Accept": "application/json"})
    slip = answer.json["slip"]
    again = post(
        "/slips/save",
        made | {"slip": slip, "version": 1, "guard": "2"},
        headers={"Accept": "application/json"},
    )
    assert again.json == {"slip": slip, "version": 2, "to": again.json["to"]}
    page = client.get(f"/slips/{slip}").text
    assert "Guard 1 stop → 2 stops" in page
    post("/slips/delete", {"id": slip})
    undo = re.search(r'action="(/slips/restore\?at=[^"]+)"', client.get("/slips").text)[1]
    assert "Put Tide back" in client.get("/slips").text
    post(undo)
    post(f"/slips/{slip}/rename", {"name": 'Neap <tide> & "so"'})
    post(f"/slips/{slip}/duplicate")
    names = re.findall(r"<h2><a[^>]*>([^<]*)</a></h2>", client.get("/slips").text)
    assert names == [
        "Neap &lt;tide&gt; &amp; &#34;so&#34;, variant",
        "Neap &lt;tide&gt; &amp; &#34;so&#34;",
    ]
    assert (
        "name"
        in post("/slips/save", {"name": " "}, headers={"Accept": "application/json"}).json["error"]
    )


@pytest.mark.parametrize("kind", ["recipe.plum.json", "picture.jpg", "picture.png"])
def test_what_is_taken_away_can_be_brought_in(client, post, kind):
    query = {
        "name": "Slack tide",
        "style": "linen",
        "guard": "2",
        "shift_amber": "10",
        "body_edition": "2",
        "exposure": "-0.33",
        "note": "Overcast.",
        "scene": "corner",
    }
    away = client.get(f"/take/{kind}", query_string=query)
    assert f'filename="slack-tide.{kind.split(".", 1)[1]}"' in away.headers["Content-Disposition"]
    here = post(
        "/take-in",
        sent(away.data, f"x.{kind.rsplit('.', 1)[1]}"),
        headers={"Accept": "application/json"},
    ).json
    assert here["scene"] is None
    data = json.loads(re.search(r'id="bench-data">(.*?)</script>', client.get(here["to"]).text)[1])
    at = {d["id"]: d["values"][p] for d, p in zip(data["dials"], data["state"]["positions"])}
    assert (at["style"], at["guard"], at["shift_amber"], at["exposure"]) == (
        "linen",
        "2",
        "10",
        "-0.33",
    )
    assert (data["name"], data["note"]) == ("Slack tide", "Overcast.")


def test_own_pictures_join_the_row_and_can_be_removed_and_taken_back(client, post):
    photo = np.random.default_rng(1).integers(0, 255, (64, 96, 3), np.uint8)
    own = post(
        "/take-in", sent(file_of(photo), "pier.png"), headers={"Accept": "application/json"}
    ).json["scene"]
    assert "pier, approximate" in client.get(f"/bench?scene={own}").text
    got = cv2.imdecode(
        np.frombuffer(client.get(f"/take/picture.png?scene={own}").data, np.uint8), 1
    )[..., ::-1]
    assert np.abs(got.astype(int) - photo).max() <= 1
    post(f"/pictures/{own}/delete")
    assert f'data-scene="{own}"' not in client.get("/bench").text
    post(f"/pictures/{own}/restore")
    assert f'data-scene="{own}"' in client.get("/bench").text


@pytest.mark.parametrize(
    ("data", "name"),
    [(b"", "a.jpg"), (b"{", "a.json"), (b"\xff\xd8\xff\xe0junk", "a.jpg"), (b"hello", "a.txt")],
)
def test_what_cannot_be_taken_in_is_refused_and_nothing_is_kept(app, post, data, name, tmp_path):
    answer = post("/take-in", sent(data, name), headers={"Accept": "application/json"})
    assert answer.status_code == 400
    assert answer.json["error"].endswith(".")
    assert list((tmp_path / "data" / "pictures").iterdir()) == []


def test_no_row_of_a_list_is_lost_where_one_recipe_is_expected(post, app):
    """A good row beside a faulty one, and a faulty row alone: the person is told, and nothing is
    taken in by halves."""
    good, faulty = (
        {
            "format": "zesty-plum-recipe",
            "version": v,
            "name": "Row",
            "body": "heron-m2",
            "dials": {},
        }
        for v in (1, 99)
    )
    for rows, words in (([good, faulty], "a list of recipes"), ([faulty], "version")):
        answer = post(
            "/take-in",
            sent(json.dumps(rows).encode(), "x.json"),
            headers={"Accept": "application/json"},
        )
        assert answer.status_code == 400
        assert words in answer.json["error"]
    assert (
        post(
            "/take-in",
            sent(json.dumps([good]).encode(), "x.json"),
            headers={"Accept": "application/json"},
        ).status_code
        == 200
    )


def test_the_wall_measures_against_the_standard(client, post):
    ids = [
        post("/slips/save", {"name": n, **d}, headers={"Accept": "application/json"}).json["slip"]
        for n, d in (("A", {}), ("B", {"style": "ink"}), ("C", {}))
    ]
    page = client.get(
        "/wall", query_string={"r": [f"slip-{i}" for i in ids], "scene": "corner", "standard": "0"}
    ).text
    figures = [float(x) for x in re.findall(r"data-difference>CIEDE2000 ([\d.]+) mean", page)]
    assert len(figures) == 2
    assert figures[0] > 5
    assert figures[1] == 0
    assert "every dial is the same" in page
    told = client.get(
        f"/take/difference.json?scene=corner&a=slip-{ids[0]}&b=x~heron-m2~style=ink"
    ).json
    assert told["ciede2000"]["mean"] == pytest.approx(figures[0], abs=0.5)
    assert told["dials"] == [{"dial": "Style", "a": "Plain", "b": "Ink"}]


def test_the_description_names_addresses_that_answer(client, post):
    post("/slips/save", {"name": "One"})
    paths = client.get("/openapi.json").json["paths"]
    for path in paths:
        needed = {
            "a": "a~heron-m2",
            "b": "b~heron-m2",
            "than": "c~heron-m2~colour=2",
            "line": "shadows",
            "all": "1",
        }
        assert (
            client.get(path.replace("{scene}", "corner"), query_string=needed).status_code == 200
        ), path


def test_a_picture_file_keeps_the_whole_recipe(client):
    made = recipe("Tide", style="linen", grain="grit")
    query = {k: str(v) for k, v in made.camera.changed(made.dials).items()}
    query |= {"name": "Tide", "body_edition": "2"}
    assert metadata.find(client.get("/take/picture.jpg", query_string=query).data) == made
    assert recipes.loads(client.get("/take/recipe.plum.json", query_string=query).data) == made


@pytest.mark.parametrize("camera", bodies().values(), ids=bodies())
def test_every_body_can_be_chosen_and_has_its_own_bench(client, camera):
    """A new slip offers all bodies; each opens with its own dials, and a render of its last dial's
    end comes back."""
    offered = client.get("/bench").text
    assert f"body={camera.id}" in offered
    page = client.get(f"/bench?body={camera.id}").text
    assert all(f'data-dial="{dial.id}"' in page for dial in camera.dials)
    last = camera.dials[-1]
    answer = client.get(
        f"/render/corner.jpg?body={camera.id}&{last.id}={last.values[-1]}&width=120"
    )
    assert answer.status_code == 200
    assert answer.mimetype == "image/jpeg"


def test_a_bracket_hangs_a_dial_around_where_it_stands(client):
    page = client.get(
        "/wall?r=x~heron-m2~shadows=1&bracket=shadows&scene=corner&scene=boatyard"
    ).text
    named = re.findall(r"<h2>Shadows ([^<]+)</h2>", page)
    assert "+1" in named
    assert page.count("data-print") == 2 * len(named)
    assert "deeper shadows" in page.lower()
    assert "Each step changes the picture by about 2 of CIEDE2000." in page
    wider = re.search(r'href="(/wall\?[^"]*wide=wider[^"]*)"', page)[1].replace("&amp;", "&")
    assert len(re.findall(r"<h2>Shadows", client.get(wider).text)) < len(named)
    idle = client.get("/wall?r=x~heron-m2&bracket=mono_filter").text
    assert "A filter works on Ink only." in idle
    assert client.get("/wall?r=x~heron-m2&bracket=nothing").status_code == 400
    maps = client.get("/wall?r=x~heron-m2&r=y~heron-m2~colour=2&apart=1").text
    assert maps.count(".apart.png?") == 1


def test_a_clip_is_shown_in_the_code_values_that_it_has(client):
    """Eight bits of limited range: 220 levels from black to white, and no other grey, in a picture
    of greys."""
    asked = "/render/corner.jpg?body=heron-m2&style=ink&output=clip_8&range=limited&width=720"
    plain, written = (client.get(asked + more).data for more in ("", "&written=1"))
    assert plain != written
    dials = {"style": "ink", "output": "clip_8", "range": "limited"}
    camera = bodies()["heron-m2"]
    picture = develop(
        scenes.load("corner"), camera.interpret(dials), camera.sensor, 300, as_written=True
    )
    levels = np.unique(np.rint(picture.encoded[..., 0] * 219).astype(int))
    assert (
        np.abs(picture.encoded[..., 0] * 219 - np.rint(picture.encoded[..., 0] * 219)).max() < 1e-3
    )
    assert len(levels) > 150


def test_every_screen_is_in_the_navigation_and_marked_where_one_is(client):
    every = "Bench Wall Slips Kit Outing Notes Drill"
    assert [s.name for s in screens()] == every.split()
    for screen in screens():
        with client.application.test_request_context():
            url = url_for(screen.endpoint)
        page = client.get(url)
        assert page.status_code == 200
        nav = re.search(r'<nav aria-label="Places".*?</nav>', page.text)[0]
        assert re.findall(r">(\w+)</a>", nav) == [s.name for s in screens()]
        assert re.findall(r'aria-current="page">(\w+)<', nav) == [screen.name]
    # What is part of a screen is marked as that screen.
    for url, name in (("/restore", "Slips"), ("/blind", "Wall")):
        assert f'aria-current="page">{name}<' in client.get(url).text
