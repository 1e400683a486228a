"""Every address of the application with odd values of every kind: a page, a file or a sentence,
never a fault of ours."""

import re
import sys
from contextlib import closing
from functools import cache
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.builders import HERON
from zesty_plum.core import scenes
from zesty_plum.demo.seed import seed
from zesty_plum.store.database import connect
from zesty_plum.web import create_app
from zesty_plum.web.frame.values import choice, identity, place, whole, within

ODD = (
    "",
    "0",
    "-1",
    "--5",
    "²",
    "３",
    "9" * 25,
    "9" * 5000,
    "1e400",
    "nan",
    "-inf",
    "zz",
    "/slips/\r\nSet-Cookie: a=b",
    "//evil.example",
    "slip-1",
    "slip-²",
    "slip-1.1.1",
    "A~heron-m2~guard=9",
    "A~heron-m2~style=linen",
    "corner",
    "own-0",
    "../../etc/passwd",
    "\x00",
    "é\u202e🏮",
    "1,2,3,²",
    "0.5,0.5",
    "9.9,0",
    "kelvin<x grain>>",
    "1",
    "200",
    "1:2",
    "heron-m2",
    "2026-02-30",
    "25:61",
    "17:15",
    "[]",
    "{}",
)
NAMES = (
    *[
        "scene",
        "body",
        "slip",
        "version",
        "line",
        "intent",
        "name",
        "note",
        "author",
        "width",
        "seed",
        "detail",
        "view",
        "written",
        "spot",
    ],
    *[
        "level",
        "than",
        "code",
        "r",
        "standard",
        "bracket",
        "turned",
        "graded",
        "apart",
        "q",
        "sort",
        "after",
        "part",
        "id",
        "all",
        "tag",
        "off",
    ],
    *[
        "places",
        "ask",
        "schools",
        "with",
        "shape",
        "n",
        "input",
        "size",
        "offset",
        "kind",
        "paper",
        "to",
        "from",
        "a",
        "b",
        "bits",
        "as",
        "at",
    ],
    *(d.id for d in HERON.dials),
)
ASKED = re.compile(r'name="([a-z_]+)"|(?:form|args|values)(?:\.get|\.getlist)?[\[(]"([a-z_]+)"')
SLOW = {"onto.find", "wall.match", "papers.everything", "static"}  # seconds each, tried elsewhere


@cache
def asked_in(module: str) -> tuple[str, ...]:
    """Names of what the forms and functions of a room ask for."""
    home = Path(sys.modules[module].__file__)
    files = [home]
    if home.name == "__init__.py" or home.parent.name != "web":
        files = [f for kind in ("*.py", "*.html") for f in home.parent.rglob(kind)]
    found = {a or b for f in files for a, b in ASKED.findall(f.read_text("utf-8"))}
    return tuple(sorted(found)) or NAMES


def world_in(folder):
    """The client of an application with a library in all rooms, and its addresses."""
    app = create_app(folder)
    app.config["WTF_CSRF_ENABLED"] = False
    with closing(connect(app.config["DATABASE"])) as db:
        seed(db, "2026-10-03T18:00:00Z")
    rules = [r for r in app.url_map.iter_rules() if r.endpoint not in SLOW]
    return app.test_client(), sorted(rules, key=str)


def ask(client, rules, data):
    """Odd values at one of the addresses: what was asked, and the answer."""
    rule = data.draw(st.sampled_from(rules), label="address")
    method = "POST" if "POST" in rule.methods else "GET"
    module = client.application.view_functions[rule.endpoint].__module__
    names = st.sampled_from(asked_in(module)) | st.sampled_from(NAMES)
    given_ = data.draw(st.dictionaries(names, st.sampled_from(ODD), max_size=8))
    values = {"scene_id": ("corner", *ODD), "kind": ("cube", "jpg", "png"), "side": ("left",)}

    def filled(match: re.Match[str]) -> str:
        name = match[1].split(":")[-1]
        among = values.get(name, ("1", "0", "²", "9" * 25, "x"))
        return data.draw(st.sampled_from([v for v in among if "/" not in v]), label=name)

    url = re.sub(r"<([^>]+)>", filled, rule.rule)
    given_.setdefault("width", "64")
    url = url.replace("\x00", "%00").replace("\r\n", "%0d%0a")
    asked = {"query_string": given_} if method == "GET" else {"data": given_}
    return f"{method} {url} {given_}", client.open(url, method=method, **asked)


@pytest.fixture(scope="module")
def world(tmp_path_factory):
    return world_in(tmp_path_factory.mktemp("odd") / "data")


@settings(
    max_examples=150,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(data=st.data())
def test_odd_values_get_an_answer_from_every_address(world, data):
    what, answer = ask(*world, data)
    assert answer.status_code < 500, (what, answer.text[:300])
    if answer.status_code >= 400 and answer.mimetype == "text/html":
        assert "went wrong on our side" not in answer.text


def test_every_scene_is_still_there_afterwards(world):
    client, _ = world
    assert client.get("/slips").status_code == 200
    assert client.get("/bench").status_code == 200
    assert len(scenes.index()) >= 12


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("7", 7),
        ("-7", -7),
        ("007", 7),
        *((t, None) for t in ("", "²", "３", "--5", "1e3", "9" * 25)),
    ],
)
def test_whole_numbers(text, number):
    assert whole(text) == number
    assert identity(text) == (number if number and number > 0 else None)


def test_limits_and_choices_are_told():
    assert within("size", "33", 2, 65) == 33
    for odd in ("1", "66", "²"):
        with pytest.raises(Exception, match="'size' has to be a whole number from 2 to 65"):
            within("size", odd, 2, 65)
    assert choice("shape", "square", ("portrait", "square")) == "square"
    with pytest.raises(Exception, match=r"There is no shape 'zz'\. It can be portrait, square\."):
        choice("shape", "zz", ("portrait", "square"))


@pytest.mark.parametrize(
    ("to", "kept"),
    [
        ("/slips/3", True),
        ("/slips?q=a%20b#x", True),
        ("//evil.example", False),
        ("/\\evil.example", False),
        ("https://evil.example", False),
        ("/slips/\r\nSet-Cookie: a=b", False),
        ("slips", False),
        ("", False),
    ],
)
def test_places_to_go_back_to_are_ours(to, kept):
    assert place(to, "/slips") == (to if kept else "/slips")
