"""Whatever is asked of any page: an answer or a sentence, never a fault of ours."""

import re
import string
from io import BytesIO

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from zesty_plum.core.bodies import bodies
from zesty_plum.core.scenes import index

SLOW = ("/bench/match", "/papers", "/take/picture", "/take/card", "/backup")
KEYS = [
    "scene",
    "body",
    "line",
    "style",
    "slip",
    "than",
    "code",
    "width",
    "seed",
    "view",
    "written",
    "detail",
    "spot",
    "level",
    "r",
    "q",
    "sort",
    "after",
    "part",
    "standard",
    "bracket",
    "match",
    "graded",
    "turned",
    "zoom",
    "kind",
    "size",
    "input",
    "offset",
    "n",
    "shape",
    "with",
    "name",
    "note",
    "intent",
    "from",
    "to",
    "kelvin",
    "shift_red",
    "exposure",
    "person",
]
ODD = [
    "",
    "-1",
    "0",
    "1",
    "3",
    "99999999999999999999",
    "1e400",
    "nan",
    "-0",
    "½",
    "true",
    "../../etc",
    "%00",
    "<b>",
    "'--",
    "slip-1",
    "slip-1.1",
    "slip-99",
    "slip-0.0",
    "As shipped~heron-m2",
    "x~heron-m2~zz",
    "0.5,0.5",
    "9,9",
    "tag:",
    "grain>",
    "cards",
    "found",
    "linen",
    *index(),
    *bodies(),
]
VALUES = st.one_of(
    st.sampled_from(ODD), st.text(string.printable + "äß漢🌫\u202e\ufeff", max_size=40)
)
PLACES = st.one_of(
    st.sampled_from(["1", "0", "99", "corner", "x"]),
    st.text(string.ascii_letters + "~.-_", min_size=1),
)
HEADS = [
    b"",
    b"{",
    b"[",
    b"PK\x03\x04",
    b"\xff\xd8\xff\xe0",
    b"\x89PNG\r\n\x1a\n",
    b"II*\0",
    b"MM\0*",
]
ENDINGS = [".json", ".plum.json", ".zip", ".jpg", ".png", ".tif", ".dng", ".txt", ""]
HEALTH = [HealthCheck.function_scoped_fixture]


def rules(app) -> list[str]:
    return [
        r.rule
        for r in app.url_map.iter_rules()
        if "GET" in r.methods and not r.rule.startswith(("/static", *SLOW))
    ]


@settings(max_examples=150, deadline=None, suppress_health_check=HEALTH)
@given(data=st.data())
def test_any_address_gets_an_answer_or_a_sentence(app, client, data):
    rule = data.draw(st.sampled_from(rules(app)))
    args = data.draw(st.dictionaries(st.sampled_from(KEYS), VALUES, max_size=5))
    place = data.draw(PLACES)
    url = re.sub(r"<(int:)?\w+>", lambda m: "1" if m[1] and not place.isdigit() else place, rule)
    answer = client.get(url, query_string=args, headers={"Accept": "application/json"})
    assert answer.status_code < 500, (url, args)
    if answer.status_code in (400, 404) and answer.is_json:
        said = answer.json["error"]
        assert said[0].isupper() or said[0] == "'", said
        assert said.rstrip()[-1] in ".?", said
        assert not re.search(r"Traceback|Error\b|object at 0x", said), said


@settings(max_examples=60, deadline=None, suppress_health_check=HEALTH)
@given(st.binary(max_size=300), st.sampled_from(HEADS), st.sampled_from(ENDINGS))
def test_any_bytes_under_any_name_are_refused_in_words_or_understood(post, app, body, head, ending):
    for where in ("/take-in", "/bring"):
        answer = post(
            where,
            {"file": (BytesIO(head + body), f"odd{ending}")},
            headers={"Accept": "application/json"},
        )
        assert answer.status_code < 500, (where, head, ending)
        if answer.status_code >= 400:
            assert answer.json["error"].rstrip()[-1] in ".?"


def test_the_last_slash_of_an_address_is_no_matter(client):
    for room in ("bench", "wall", "slips", "kit", "outing", "notes", "drill", "kit/bodies"):
        for url in (f"/{room}", f"/{room}/"):
            assert client.get(url, follow_redirects=True).status_code == 200, url


@pytest.mark.parametrize("many", [0, 1, 9, 40])
def test_too_many_or_too_few_of_anything_is_told(client, many):
    for url in ("/wall", "/blind"):
        asked = {
            "r": [f"As shipped~{b}" for b in list(bodies()) * 10][:many],
            "scene": list(index()) * (many // 9),
        }
        answer = client.get(url, query_string=asked)
        assert answer.status_code in (200, 302, 400)
        assert many or answer.status_code == 200
