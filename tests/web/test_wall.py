"""The Wall and blind rounds through Flask's client."""

import io
import json
import re

import pytest
from click.testing import CliRunner

from tests.builders import HERON
from zesty_plum.cli import main
from zesty_plum.core.recipe import dumps, make
from zesty_plum.store import database, rounds

JSON = {"Accept": "application/json"}
FOUR = [
    f"{n}~heron-m2~style={s}"
    for n, s in (("A", "plain"), ("B", "linen"), ("C", "bunting"), ("D", "ink"))
]


def test_a_bracket_stands_around_the_recipe_and_names_what_a_camera_would_use(client):
    page = client.get(
        "/wall",
        query_string={
            "r": "T~heron-m2~style=linen~white_balance=kelvin~kelvin=4000",
            "bracket": "kelvin",
            "scene": "corner",
        },
    ).text
    names = re.findall(r"<h2>(Kelvin \d+ K)</h2>", page)
    standard = re.search(r'data-column data-standard aria-label="Column (\d)', page)
    assert names[int(standard[1]) - 1] == "Kelvin 4000 K"
    whites = [int(k) for k in re.findall(r"ISO \d+, white (\d+) K", page)]
    assert whites == sorted(whites)
    assert all(abs(w - int(re.search(r"\d+", n)[0])) <= 10 for w, n in zip(whites, names))


def test_across_bodies_no_dials_are_counted(client):
    two = ["A~heron-m2~style=linen", "B~dunlin-4"]
    page = client.get("/wall", query_string={"r": two, "scene": "corner"}).text
    assert "Figures; another body, so its dials are other ones" in page
    assert "1 dial that differs" not in page


def test_a_match_on_another_body_is_hung_up_with_what_remains(client):
    answer = client.get(
        "/wall/match",
        query_string={"r": FOUR[2], "to": "dunlin-4", "scene": "corner"},
        follow_redirects=True,
    )
    assert "on Dunlin 4" in answer.text
    assert re.search(r"CIEDE2000 \d+\.\d on average remains", answer.text)
    assert answer.text.count("data-column") == 2
    assert client.get("/wall/match", query_string={"r": FOUR[2], "to": "nobody"}).status_code == 404


def test_flat_and_graded_differ_and_bits_are_told(client):
    flat = client.get("/render/table.jpg?style=ledger&width=300").data
    eight, ten = (
        client.get(f"/render/table.graded.jpg?style=ledger&width=300&bits={b}").data
        for b in (8, 10)
    )
    assert len({flat, eight, ten}) == 3
    page = client.get(
        "/wall", query_string={"r": ["L~heron-m2~style=ledger", FOUR[2]], "graded": "8"}
    ).text
    assert re.search(r"One 8-bit code becomes up to \d", page)
    assert "Firm and full already" in page
    assert client.get("/render/table.graded.jpg?bits=7").status_code == 400


def test_words_under_graded_prints_are_of_the_graded_prints(client):
    """A flat curve beside Plain is far darker or softer as written, and nearly the same graded."""
    two = ["P~heron-m2~output=clip_10", "S~heron-m2~output=clip_10~style=ledger"]
    said = []
    for graded in ("", "10"):
        page = client.get(
            "/wall", query_string={"r": two, "scene": "corner", "graded": graded}
        ).text
        mean = float(re.search(r"CIEDE2000 ([\d.]+) mean", page)[1])
        said.append((mean, re.findall(r"data-words> <p>([^<]*)</p>", page)[-1].lower()))
    assert said[1][0] < said[0][0] / 2
    assert "softer in the middle" in said[0][1]
    assert "in the middle" not in said[1][1]


def begin(post, **more):
    answer = post(
        "/blind/begin",
        {"r": FOUR, "scene": ["corner", "table"], "person": "night shift", "seed": "7"} | more,
    )
    return int(re.search(r"/blind/(\d+)", answer.headers["Location"])[1])


def test_a_round_from_the_first_question_to_a_second_opinion(client, post, app):
    made = begin(post)
    for number in range(5):
        page = client.get(f"/blind/{made}").text
        main = page[page.index("<main") : page.index("</main>")]
        assert not re.search(
            r"linen|bunting|style|slip-|[>~][ABCD]<", main
        )  # nothing tells which it is
        sides = [
            client.get(f"/blind/{made}/{number}/{side}.jpg").data for side in ("left", "right")
        ]
        assert sides[0] != sides[1]
        for _ in range(2):  # pressed twice: one answer
            post(
                f"/blind/{made}/answer",
                {"number": number, "choice": ("left", "right", "neither")[number % 3]},
            )
    assert client.get(f"/blind/{made}/9/left.jpg").status_code == 404
    post(f"/blind/{made}/answer", {"choice": "back"})
    with database.connect(app.config["DATABASE"]) as db:
        assert [c.won for c in rounds.get(db, made).choices] == [1.0, 0.0, 0.5, 1.0]
    db.close()
    post(f"/blind/{made}/answer", {"choice": "end"})
    page = client.get(f"/blind/{made}", follow_redirects=True).text
    assert page.count("<rect") == 2 * 4  # a range and a place in it each
    assert "4 answers" in page
    # Passed on: without answers it is a round to be done, with them it is set beside.
    fresh, answered = (client.get(f"/blind/{made}/round.json?answers={k}").data for k in (0, 1))
    assert json.loads(fresh)["answers"] == []
    other = post("/blind/bring", {"file": (io.BytesIO(answered), "r.json")}).headers["Location"]
    page = client.get(f"{other}/result?with={made}").text
    assert re.search(r"Kendall(&#39;|')s tau 1\.00", page)
    mine = post("/blind/bring", {"file": (io.BytesIO(fresh), "r.json")}).headers["Location"]
    assert "question 1 of" in client.get(mine).text
    post(f"/blind/{made}/delete")
    assert client.get(f"/blind/{made}").status_code == 404
    post(f"/blind/{made}/restore")
    assert client.get(f"/blind/{made}", follow_redirects=True).status_code == 200


@pytest.mark.parametrize(
    "data", [b"", b"{}", b"[]", b'{"format": "zesty-plum-blind", "version": 99}', b"\xff\xfe"]
)
def test_a_file_that_is_no_round_is_refused(post, data):
    answer = post("/blind/bring", {"file": (io.BytesIO(data), "r.json")}, headers=JSON)
    assert answer.status_code == 400
    assert answer.json["error"].endswith(".")


def test_answers_that_do_not_belong_are_refused_and_nothing_is_kept(post, client, app):
    good = rounds.Round(
        1,
        "",
        "x",
        3,
        [make("A", HERON.id, {}), make("B", HERON.id, {"colour": 1})],
        ["corner"],
        [],
        False,
    )
    data = json.loads(rounds.to_file(good, True))
    for wrong in ([[0, 5, 0, 1]], [[0, 1, 3, 1]], [[0, 1, 0, 0.3]], [["a", 1, 0, 1]]):
        sent = json.dumps(data | {"answers": wrong}).encode()
        assert (
            post("/blind/bring", {"file": (io.BytesIO(sent), "r.json")}, headers=JSON).status_code
            == 400
        )
    assert "None yet." in client.get("/blind").text


def test_too_few_recipes_make_no_round(post):
    assert (
        "needs 2 to"
        in post("/blind/begin", {"r": FOUR[:1], "scene": "corner"}, headers=JSON).json["error"]
    )
    assert post("/blind/begin", {"r": FOUR, "scene": "nowhere"}, headers=JSON).status_code == 404


def test_bench_wall_and_shell_give_one_answer_to_how_far_two_recipes_are_apart(client, tmp_path):
    a, b = "A~heron-m2~body_edition=2~style=linen~grain=salt", "B~heron-m2~style=bunting~shadows=1"
    asked = {"scene": "boatyard", "a": a, "b": b}
    exact = client.get("/take/difference.json", query_string=asked).json["ciede2000"]
    looks = {"style": "bunting", "shadows": "1", "than": a}
    header = client.get("/render/boatyard.apart.png", query_string=looks)
    header = header.headers["Plum-Difference"]
    assert header == f"{exact['mean']:.2f} {exact['p95']:.2f}"
    wall = client.get("/wall", query_string={"r": [a, b], "scene": "boatyard"}).text
    shown = re.search(r"CIEDE2000 (\d+\.\d) mean, (\d+\.\d) in the worst 5 %", wall)
    assert shown.groups() == (f"{exact['mean']:.1f}", f"{exact['p95']:.1f}")
    files = []
    for code in (a, b):
        name, body_id, *pairs = code.split("~")
        dials = dict(p.split("=") for p in pairs)
        dials = {k: int(v) if v.isdigit() else v for k, v in dials.items()}
        dials.pop("body_edition", None)
        files.append(tmp_path / f"{name}.plum.json")
        files[-1].write_text(dumps(make(name, body_id, dials)))
    command = ["compare", *map(str, files), "--scene", "boatyard", "--json"]
    said = json.loads(CliRunner().invoke(main, command).output)["ciede2000"]
    assert said == pytest.approx(exact)
