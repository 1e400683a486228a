"""Kit: bodies of one's own are looked at before they count, kept by editions, and can come back."""

import base64
import io
import json
import re
import zipfile
from contextlib import closing
from dataclasses import replace
from urllib.parse import parse_qsl, urlsplit

import pytest
from PIL import Image

from tests.builders import file_of, rendered
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import Choice, file, known
from zesty_plum.core.bodies import bodies as every
from zesty_plum.core.exchange import packed, read_many
from zesty_plum.core.exchange.carried import bodies_in
from zesty_plum.core.learn import chart
from zesty_plum.core.lists import read_list
from zesty_plum.core.recipe import dumps, loads, make
from zesty_plum.demo import TAUGHT
from zesty_plum.store import backup, bodies, database, slips
from zesty_plum.web import create_app
from zesty_plum.web.kit import sending


@pytest.fixture
def mine():
    return file.loads(TAUGHT.read_bytes(), known())


def brought(post, made) -> str:
    data = {"file": (io.BytesIO(file.dumps(made).encode()), "mine.body.json")}
    answer = post("/kit/bring", data, content_type="multipart/form-data")
    assert answer.status_code == 302, answer.text
    return answer.location


def kept(post, made) -> None:
    assert post(brought(post, made)).status_code == 302


def test_a_body_is_looked_at_first_and_then_counts(client, post, mine):
    at = brought(post, mine)
    page = client.get(at).text
    assert "It is not in your kit yet." in page
    assert f"Learnt from {mine.styles[0].sure.pairs}" not in page
    assert f"{mine.styles[0].sure.mean:.1f}</span> CIEDE2000 on pictures left out in turn" in page
    assert "turnstone" not in every()
    assert client.get("/bench?body=turnstone").status_code == 404
    post(at)
    assert every()["turnstone"].edition == 1
    assert client.get("/bench?body=turnstone&scene=table").status_code == 200
    kit = client.get("/kit/bodies").text
    assert re.search(r"Turnstone</a></h3> <p>12 dials, 4 slots", kit)
    assert client.get("/kit/bodies/turnstone.body.json").text == file.dumps(every()["turnstone"])


def test_editions_are_never_written_over_and_the_same_makes_none(app, client, post, mine):
    kept(post, mine)
    kept(post, mine)
    assert every()["turnstone"].edition == 1
    assert "You have it already, as edition 1." in client.get(brought(post, mine)).text
    other = replace(mine, about="Another word.")
    assert "It would be the next edition of your Turnstone" in client.get(brought(post, other)).text
    kept(post, other)
    assert every()["turnstone"].edition == 2
    with closing(database.connect(app.config["DATABASE"])) as db:
        assert file.loads(bodies.get(db, "turnstone", 1), known()).about == mine.about
        assert file.loads(bodies.get(db, "turnstone"), known()).about == "Another word."


def test_a_recipe_remembers_the_edition_that_it_was_made_for(post, mine):
    kept(post, mine)
    first = json.loads(dumps(make("Tide", "turnstone", {"strength": 6})))
    assert first["body_edition"] == 1
    assert re.fullmatch("[0-9a-f]{16}", first["body_mark"])
    kept(post, replace(mine, about="Another word."))
    again = json.loads(dumps(loads(json.dumps(first))))
    assert (again["body_edition"], again["body_mark"]) == (1, first["body_mark"])
    assert json.loads(dumps(make("Tide", "turnstone", {})))["body_edition"] == 2
    ships = json.loads(dumps(make("Tide", "heron-m2", {})))
    assert (ships["body_edition"], "body_mark" in ships) == (2, False)
    # The mark is of what the body is, not of how often somebody changed it.
    assert file.mark(replace(mine, edition=7)) == first["body_mark"]
    assert file.mark(every()["turnstone"]) != first["body_mark"]


def test_pictures_have_another_address_when_a_body_changes(client, post, mine):
    def version() -> str:
        page = client.get("/kit/bodies") and client.get("/bench?body=heron-m2").text
        return re.search(r'"engine": ?"([^"]+)"', page.replace("&#34;", '"'))[1]

    before = version()
    kept(post, mine)
    middle = version()
    kept(post, replace(mine, about="Another word."))
    assert len({before, middle, version()}) == 3


def test_removing_can_be_taken_back_and_slips_wait_for_it(client, post, mine):
    kept(post, mine)
    post("/slips/save", {"body": "turnstone", "name": "Turned", "strength": "6"})
    assert "Turned" in client.get("/slips").text
    assert post("/kit/bodies/turnstone/put-away").status_code == 302
    assert "turnstone" not in every()
    assert client.get("/slips").status_code == 200
    post("/kit/bodies/turnstone/take-back")
    assert every()["turnstone"].name == mine.name
    assert "Turned" in client.get("/slips").text


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        (b"{}", "This is not a body file"),
        (file.dumps(every()["heron-m2"]).encode(), "There is a body &#39;heron-m2&#39; that ships"),
        (b"[" * 100_000, "not valid JSON"),
    ],
)
def test_what_is_no_body_is_told_and_nothing_is_kept(client, post, sent, says):
    data = {"file": (io.BytesIO(sent), "x.body.json")}
    answer = post("/kit/bring", data, content_type="multipart/form-data")
    assert answer.status_code == 400
    assert says in answer.text
    assert "None yet." in client.get("/kit/bodies").text
    assert client.get("/kit/looked-at/abc").status_code == 404


def form(**more):
    heron = every()["heron-m2"]
    sent = {"like": "heron-m2", "name": "Dotterel"}
    for k, dial in enumerate(heron.dials, 1):
        sent |= {f"keep-{dial.id}": "on", f"order-{dial.id}": str(k)}
    return sent | more


def test_a_list_is_put_into_ones_own_words(client, post):
    sent = form(
        **{"label-highlights": "Bright tones", "turn-highlights": "on", "order-colour": "0.5"},
        **{"low-shadows": "-1", "high-shadows": "1", "group-shadows": "Tone curve"},
    )
    del sent["keep-grain"]
    answer = post("/kit/list", sent)
    assert answer.status_code == 302, answer.text
    assert "Bright tones" in client.get(answer.location).text
    post(answer.location)
    made, heron = every()["dotterel"], every()["heron-m2"]
    assert made.dials[0].id == "colour"
    assert "grain" not in made.by_id
    assert made.dial("highlights").label == "Bright tones"
    assert "Plus is brighter" in heron.dial("highlights").purpose
    assert "Plus is brighter" not in made.dial("highlights").purpose
    assert made.dial("highlights").means.endswith("Here plus goes the other way.")
    assert "Plus is brighter" in made.dial("shadows").purpose
    assert made.dial("shadows").values[0] == -1
    assert made.dial("shadows").values[-1] == 1
    assert made.dial("shadows").group == "Tone curve"
    theirs = heron.interpret({"highlights": -2, "colour": 1})
    ours = made.interpret({"highlights": 2, "colour": 1})
    assert ours.highlights == pytest.approx(theirs.highlights)
    assert replace(ours, highlights=theirs.highlights) == theirs
    assert client.get("/bench?body=dotterel&highlights=2").status_code == 200


def test_dials_get_other_steps_names_and_what_no_dial_of_the_nearest_body_does(client, post):
    sent = form(
        **{"low-shadows": "-10", "high-shadows": "10", "step-shadows": "2", "times-shadows": "0.3"},
        **{"place-white_balance-2": "Sunny", "kelvin-white_balance-2": "5000"},
        **{"place-white_balance-3": "", "place-white_balance-7": "Candles"},
        **{"kelvin-white_balance-7": "2000", "place-style-12": "Dusty", "style-style-12": "linen"},
        **{"keep-hue_turn": "on", "order-hue_turn": "99", "times-hue_turn": "0.5", "slots": "4"},
    )
    sent |= {"low-hue_turn": "-9", "high-hue_turn": "9", "step-hue_turn": "1"}
    assert "Turns every hue the same way" in client.get("/kit/list?like=heron-m2").text
    answer = post("/kit/list", sent)
    assert answer.status_code == 302, answer.text
    post(answer.location)
    made, heron = every()["dotterel"], every()["heron-m2"]
    assert made.dial("shadows").values == tuple(range(-10, 11, 2))
    there = {"shadows": heron.interpret({"shadows": 3}).shadows}
    assert made.interpret({"shadows": 10}).shadows == pytest.approx(there["shadows"])
    light = made.dial("white_balance")
    assert [c.label for c in light.choices][:4] == ["auto", "keep warm", "Sunny", "lamps"]
    assert made.interpret({"white_balance": "daylight"}).light_mired == 200
    assert made.interpret({"white_balance": "candles"}).light_mired == 500
    assert made.interpret({"style": "dusty"}).style == "linen"
    assert made.interpret({"hue_turn": 8}).phase == pytest.approx(4)  # a degree a unit on Wader V1
    assert made.slots == 4
    assert not made.separate
    nothing = client.get("/kit/list?like=nothing").text
    assert 'name="keep-hue_turn"' in nothing
    assert "checked" not in nothing.split("<table>")[1]


def test_a_dials_numbers_are_printed_with_its_unit_and_read_with_it(client, post):
    sent = form(**{"low-colour": "-100", "high-colour": "100", "step-colour": "25"})
    sent |= {"times-colour": "0.04", "after-colour": "%", "after-shadows": "EV"}
    post(post("/kit/list", sent).location)
    made, heron = every()["dotterel"], every()["heron-m2"]
    labels = [c.label for c in made.dial("colour").choices]
    assert labels[:2] == ["-100 %", "-75 %"]
    assert labels[4:6] == ["0 %", "+25 %"]
    assert made.interpret({"colour": 50}).saturation == heron.interpret({"colour": 2}).saturation
    assert made.dial("shadows").choice(1).label == "+1 EV"
    found = read_list("Colour +50 %\nShadows: +1 EV", made)
    assert {k: v for p in found.pieces for k, v in p.sets.items()} == {"colour": 50, "shadows": 1}
    again = client.get("/kit/list?like=dotterel").text
    assert 'name="after-colour" value="%"' in again
    assert 'name="after-highlights" value=""' in again


def test_what_a_narrower_list_can_no_longer_meet_goes_with_it(client, post):
    """60 and 100 pictures a second, and 4:2:2, need places of dials that this list leaves out."""
    sent = form(**{"from-clip_size": "1920", "to-clip_size": "1920"})
    del sent["keep-output"]
    post(post("/kit/list", sent).location)
    made = every()["dotterel"]
    assert made.dial("clip_size").values == (1920,)
    assert made.dial("rate").values == (24, 25, 50, 60, 100)
    assert 200 not in made.dial("bit_rate").values  # it is for 3840 x 2160
    needs = [n for d in made.dials for part in (d, *d.choices) for n in part.needs]
    assert {n.dial for n in needs} <= set(made.by_id)
    assert client.get("/bench?body=dotterel").status_code == 200


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"name": " "}, "needs a name"),
        ({"name": "Heron M2"}, "There is a body &#39;Heron M2&#39; that ships"),
        ({"order-colour": "first"}, "Colour: “Place” takes a number, as 3, not &#39;first&#39;."),
        ({"low-shadows": "1", "high-shadows": "2"}, "leaves out its standard, 0"),
        ({"low-shadows": "2", "high-shadows": "1"}, "from a smaller number to a larger one"),
        ({"step-shadows": "0.01"}, "would have 801 places; 400 are the most"),
        ({"step-shadows": "half"}, "Shadows: “Step” takes a number, as 0.5, not &#39;half&#39;."),
        ({"after-shadows": "9 EV"}, "Shadows: “Unit” is a unit as EV or %, without a digit."),
        ({"times-shadows": "9"}, "Make their steps smaller."),
        ({"from-kelvin": "99"}, "has no such place"),
        ({"place-white_balance-0": ""}, "needs its standard, auto"),
        (
            {"place-white_balance-7": "Candles"},
            "“White balance, kelvin of name 8” is needed for a new light, as 5200.",
        ),
        (
            {"place-white_balance-7": "Candles", "kelvin-white_balance-7": "9"},
            "“White balance, kelvin of name 8” goes from 1800 to 20000, not 9.",
        ),
        ({"slots": "many"}, "“Slots” takes a whole number, as 2, not &#39;many&#39;."),
    ],
)
def test_a_list_that_cannot_be_says_why(post, more, says):
    answer = post("/kit/list", form(**more))
    assert answer.status_code == 400
    assert says in answer.text


def test_teaching_needs_pairs_and_says_so(client, post):
    nothing = {"name": "Mine", "file": (io.BytesIO(b"x"), "a.txt")}
    answer = post("/kit/teach", nothing, content_type="multipart/form-data")
    assert answer.status_code == 400
    assert "There is no pair" in answer.text
    assert "Bright tones" not in client.get("/kit/shoot").text
    assert "Highlights at" in client.get("/kit/shoot").text


def picture(dials, scene="garden") -> bytes:
    return file_of(rendered(scenes.load(scene), 480, **dials).pixels, "JPEG", quality=95)


def test_a_lesson_keeps_what_was_said_and_is_gone_on_with(client, post):
    sent = {
        "name": "Godwit",
        "like": "heron-m2",
        "file": [
            (io.BytesIO(picture({})), "plain/A.jpg"),
            (io.BytesIO(picture({"colour": 3})), "Colour +2/B.jpg"),
        ],
    }
    at = post("/kit/teach", sent, content_type="multipart/form-data").location
    page = client.get(at).text
    assert "2 pictures without raws" in page.replace("\n", " ")
    assert 'value="Colour +2"' in page  # guessed from the name of its folder
    assert Image.open(io.BytesIO(client.get(f"{at}/pairs/1.jpg").data)).width <= 240
    assert client.get(f"{at}/pairs/2.jpg").status_code == 404
    odd = post(f"{at}/teach", {"style-1": "Standard", "turned-1": "Wobble 7"})
    assert odd.status_code == 400
    assert "&#39;Wobble 7&#39; is no setting of Heron M2. Write it as in its menu" in odd.text
    assert 'value="Wobble 7"' in client.get(at).text  # what was typed is not lost
    more = {"turned-1": "Colour +3", "file": (io.BytesIO(picture({"colour": -3})), "C.jpg")}
    more |= {"style-0": "Standard", "style-1": "Standard", "turned-0": ""}
    post(f"{at}/add", more, content_type="multipart/form-data")
    assert 'value="Colour +3"' in client.get(at).text
    said = {f"style-{k}": "Standard" for k in range(3)}
    names = re.findall(r"<b>([^<]+)</b>", client.get(at).text)
    said |= {f"turned-{names.index('C')}": "Colour -3"}
    said |= {f"turned-{k}": "Colour +3" for k, name in enumerate(names) if name.endswith("B")}
    done = post(f"{at}/teach", said)
    looked = client.get(done.location).location
    assert "Steps of its dials are learnt from its pictures" in client.get(looked).text
    post(looked)
    assert every()["godwit"].steps[0].times == pytest.approx(1, rel=0.15)
    assert "Add pairs" in client.get("/kit/bodies/godwit").text
    assert "Lesson of Godwit" in client.get("/kit/bodies").text
    post(f"{at}/remove")
    assert client.get(at).status_code == 404
    assert "Lesson of Godwit" not in client.get("/kit/bodies").text
    post(f"{at}/back")
    assert client.get(at).status_code == 200


def test_a_chart_that_is_not_found_is_pointed_at(client, post):
    values = chart.printed()[1].reshape(chart.DOWN, chart.ACROSS, 3)
    seen = file_of(values.repeat(40, 0).repeat(40, 1))
    sent = {"name": "Godwit", "kind": "printed", "file": (io.BytesIO(seen), "chart.png")}
    at = post("/kit/chart/", sent, content_type="multipart/form-data").location
    assert "Point at the middle of its first patch" in client.get(at).text
    assert client.get(at.replace("?", ".jpg?")).mimetype == "image/jpeg"
    form = dict(pair for pair in parse_qsl(urlsplit(at).query))
    few = post(urlsplit(at).path, form | {"at": "0.1 0.1"})
    assert "Point at four corner patches" in few.text
    x, y = 0.5 / chart.ACROSS, 0.5 / chart.DOWN
    ends = ((x, y), (1 - x, y), (1 - x, 1 - y), (x, 1 - y))
    places = " ".join(f"{v:.4f}" for end in ends for v in end)
    looked = post(urlsplit(at).path, form | {"at": places}).location
    assert "Learnt from 48 patches of a chart in one light" in client.get(looked).text
    assert client.get("/kit/chart/chart.pdf").data.startswith(b"%PDF")


def test_a_zip_carries_the_bodies_and_a_recipe_says_which_is_missing(post, mine):
    kept(post, mine)
    text = dumps(make("Tide", "turnstone", {"strength": 6}))
    packed_ = packed([(make("Tide", "turnstone", {"strength": 6}), [])], "2026-11-27")
    with zipfile.ZipFile(io.BytesIO(packed_)) as inside:
        assert file.loads(inside.read("bodies/turnstone.body.json"), known()) == mine
    whole = read_many([("all.zip", lambda: packed_)])
    assert [b.recipe.name for b in whole.found] == ["Tide"]
    assert not whole.faults
    post("/kit/bodies/turnstone/put-away")
    with pytest.raises(PlumError, match="for the body 'turnstone', edition 1, which is not here"):
        loads(text)
    without = dict(read_many([("all.zip", lambda: packed_)]).faults)
    assert "which is not here" in without["all.zip: tide.plum.json"]
    assert "Bring it in on Kit" in without["all.zip: bodies/turnstone.body.json"]


def test_a_zip_or_card_for_a_body_that_is_not_here_shows_the_body_first(client, post, mine):
    kept(post, mine)
    tide = make("Tide", "turnstone", {"strength": 6})
    sent = {"name": "Tide", "body": "turnstone", "strength": 6, "scene": "table"}
    card = client.get("/take/card.png", query_string=sent).data
    jpeg = client.get("/take/picture.jpg", query_string=sent | {"width": 400}).data
    plain = client.get("/take/card.png", query_string={"body": "heron-m2", "scene": "table"}).data
    slip = post("/slips/save", {"body": "turnstone", "name": "Tide", "strength": "6"})
    number = re.search(r"slip=(\d+)", slip.location)[1]
    page = client.get(f"/slips/{number}/page.html").text
    inside = re.search(r'href="data:application/json;base64,([^"]+)" download', page)[1]
    assert file.loads(base64.b64decode(inside), known()) == mine
    parcel = packed([(tide, [])], "2026-11-27")
    post("/kit/bodies/turnstone/put-away")
    for name, data in (("a.zip", parcel), ("card.png", card)):
        for path in ("/bring", "/take-in", "/kit/bring"):
            body = {"file": (io.BytesIO(data), name)}
            at = post(path, body, content_type="multipart/form-data").location
            assert at.startswith("/kit/looked-at/"), (path, name)
            assert "Use this body" in client.get(at).text
    assert bodies_in(jpeg) == bodies_in(plain) == bodies_in(b"PK\x03\x04") == []
    post(at)
    body = {"file": (io.BytesIO(card), "card.png")}
    assert post("/take-in", body, content_type="multipart/form-data").location.startswith("/bench?")


def test_a_slip_says_that_its_body_was_taught_again_since(client, post, mine):
    kept(post, mine)
    slip = post("/slips/save", {"body": "turnstone", "name": "Tide", "strength": "6"})
    number = re.search(r"slip=(\d+)", slip.location)[1]
    assert "It was made for edition" not in client.get(f"/slips/{number}").text
    kept(post, replace(mine, about="Another word."))
    page = client.get(f"/slips/{number}").text
    assert "It was made for edition 1 of Turnstone and is shown through edition 2" in page


def test_a_backup_carries_bodies_and_the_slips_that_are_for_them(tmp_path, client, post, mine):
    kept(post, mine)
    post("/slips/save", {"body": "turnstone", "name": "Turned", "strength": "6"})
    whole = client.get("/backup.zip").data
    other = create_app(tmp_path / "other")  # in which no body is kept
    assert "turnstone" not in every()
    with closing(database.connect(other.config["DATABASE"])) as db:
        back = backup.add(db, other.extensions["place"], io.BytesIO(whole))
        assert back.slips == 1
        assert every()["turnstone"] == mine
        assert slips.get(db, 1).recipe.dials["strength"] == 6


def test_whatever_sent_files_are_called_they_stay_in_their_folder(tmp_path, post):
    odd = ("../../../a.dng", "/etc/b.dng", "C:\\\\x\\\\c.dng", "d\0e.dng", "...", "\u00e9" * 300)
    for name in odd:
        at = sending._place(name, tmp_path / "in")
        assert (tmp_path / "in").resolve() in at.resolve().parents
        at.write_bytes(b"")
    house = sending._place("pairs/House/P1.dng", tmp_path / "in")
    assert house.relative_to(tmp_path / "in").as_posix() == "pairs/House/P1.dng"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed_:
        packed_.writestr("table.csv", b"x" * (3 * 2**20))
    data = {"name": "Mine", "file": (io.BytesIO(out.getvalue()), "all.zip")}
    answer = post("/kit/teach", data, content_type="multipart/form-data")
    assert answer.status_code == 400
    assert "unpacks to more than" in answer.text


def test_recipes_near_a_picture_stand_in_the_address(client, post):
    dials = {"style": "driftwood", "colour": 3, "shadows": -2}
    loved = file_of(rendered(scenes.load("garden"), 600, **dials).pixels, "PNG")
    data = {"file": (io.BytesIO(loved), "loved.png"), "body": "heron-m2"}
    answer = post("/kit/near", data, content_type="multipart/form-data")
    page = client.get(answer.location).text
    assert "Compared place by place: it shows Kitchen garden." in page
    assert "Style Driftwood, Shadows -2, Colour +3" in page
    assert "Sharpness and noise reduction: they go with the lens" in page
    none = post("/kit/near", {"body": "heron-m2"}, content_type="multipart/form-data")
    assert none.status_code == 400
    assert "Give a finished picture" in none.text


def test_a_body_whose_styles_are_all_learnt_is_used_like_any_other(client, post, mine):
    """Its style dial has names of its own, and may be called otherwise."""
    heron, learnt = every()["heron-m2"], mine.styles[0]
    own = replace(learnt, id="dotterel-house")
    house = Choice("house", "House", sets={"style": own.id})
    dials = tuple(
        replace(d, choices=(house,), default="house", needs=())
        if d.id == "style"
        else replace(d, needs=())
        for d in heron.dials
        if d.id != "mono_filter"
    )
    body = replace(heron, id="dotterel", name="Dotterel", dials=dials, styles=(own,))
    kept(post, body)
    look = "body=dotterel&scene=table&highlights=-1"
    for page in (
        f"/bench?{look}&line=style",
        f"/bench/facts?{look}&line=style",
        f"/bench/effects?{look}&line=highlights",
        f"/render/table.jpg?{look}&width=160",
        "/wall?scene=table&r=A~dotterel~highlights=-1&r=B~heron-m2",
    ):
        assert client.get(page).status_code == 200, page
    for turned, to in (("dotterel", "heron-m2"), ("heron-m2", "dotterel")):
        given = {"from": f"body={turned}&scene=table&highlights=-1", "to": to}
        found = client.get("/onto/find", query_string=given, follow_redirects=True)
        assert "Take the nearest" in found.text


def test_a_pasted_list_says_what_a_camera_seems_to_have(client):
    pasted = "Bright tones: -1\nShadows +2\nzork 7\nSharpness 1"
    page = client.get("/kit/list", query_string={"like": "heron-m2", "pasted": pasted}).text
    ticked = set(re.findall(r'name="keep-(\w+)" checked', page))
    assert {"shadows", "sharpness"} <= ticked
    assert "density" not in ticked
    assert "Not understood: " in page
    assert "zork 7" in page
    assert 'name="label-shadows" value="Shadows"' in page
    assert "checked" in client.get("/kit/list?like=heron-m2").text
