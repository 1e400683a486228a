"""The body file: written and read again, and what is wrong with one in a sentence."""

import copy
import json
from contextlib import suppress

import jsonschema
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from zesty_plum.cli import main
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import bodies, body, bring, file, forget, shipped
from zesty_plum.core.recipe import dumps, make

MINE = file.to_data(body("heron-m2")) | {"id": "mine", "name": "Mine"}
RENAMED = {"Style": "Rendering", "Highlights": "Bright tones", "Grain": "Roughness"}


def mine():
    """A Heron whose dials have other names, another order, and highlights that count the other
    way."""
    data = json.loads(json.dumps(MINE))
    for dial in data["dials"]:
        dial["label"] = RENAMED.get(dial["label"], dial["label"])
        if dial["id"] == "highlights":
            values = [c["value"] for c in dial["choices"]]
            for choice in dial["choices"]:
                choice["value"] = -choice["value"]
            assert [c["value"] for c in dial["choices"]] == [-v for v in values]
    data["dials"].reverse()
    return data


@pytest.fixture
def own():
    yield bring(json.dumps(mine()))
    forget("mine")
    assert "mine" not in bodies()


@pytest.mark.parametrize("camera", shipped().values(), ids=shipped())
def test_every_body_is_written_and_read_again(camera):
    text = file.dumps(camera)
    jsonschema.validate(json.loads(text), file.schema())
    assert bring(text) == camera
    assert list(json.loads(text))[:2] == ["id", "name"]
    forget(camera.id)
    assert body(camera.id) is shipped()[camera.id]


def test_a_body_of_ones_own_means_what_it_says(own):
    theirs = make("x", "heron-m2", {"style": "linen", "highlights": -1, "grain": "salt"})
    ours = make("x", "mine", {"style": "linen", "highlights": 1, "grain": "salt"})
    assert ours.look == theirs.look
    assert [d.label for d in own.dials if d.id in ("style", "grain")] == ["Roughness", "Rendering"]


def test_commands_take_a_body_file(tmp_path):
    at, ours, theirs = tmp_path / "mine.body.json", tmp_path / "a.json", tmp_path / "b.json"
    at.write_text(json.dumps(mine()))
    dials = {"style": "linen", "guard": 1}
    theirs.write_text(dumps(make("Tide", "heron-m2", dials)))
    bring(at.read_text())
    ours.write_text(dumps(make("Tide", "mine", dials)))
    forget("mine")

    def run(*args, brought=True):
        more = ["--body-file", str(at)] if brought else []
        return CliRunner().invoke(main, [*map(str, args), *more])

    pictures = []
    for recipe, with_file in ((ours, True), (theirs, False)):
        out = tmp_path / f"{recipe.stem}.png"
        asked = ("render", recipe, "--scene", "table", "--width", 200, "-o", out)
        assert run(*asked, brought=with_file).exit_code == 0
        pictures.append(out.read_bytes()[-2000:])
    assert pictures[0] == pictures[1]
    moved = run("translate", theirs, "--to", "mine", "-o", tmp_path / "c.json", "--json")
    assert json.loads(moved.stdout)["ciede2000"]["mean"] < 0.05
    assert json.loads((tmp_path / "c.json").read_text())["dials"] == dials
    said = tmp_path / "list.txt"
    said.write_text("Rendering: Linen\nBright tones +1\nRoughness 2\n")
    read = json.loads(run("read", said, "--body", "mine", "--json").stdout)["recipe"]["dials"]
    assert read == {"style": "linen", "highlights": 1, "grain": "salt"}
    without = run("dials", "mine", brought=False)
    assert (without.exit_code, without.stdout) == (1, "")
    assert without.stderr.endswith("Bring in the file of another one first.\n")
    written = run("body", "wader-v1", "-o", tmp_path / "w.body.json", brought=False)
    assert written.exit_code == 0
    assert json.loads((tmp_path / "w.body.json").read_text())["name"] == "Wader V1"
    at.write_text("{")
    assert run("dials", "mine").stderr == (
        f"{at}: This is not a body file: it is not valid JSON in UTF-8.\n"
    )


def _of(data, dial_id):
    return next(d for d in data["dials"] if d["id"] == dial_id)


def _place(data, dial_id, **more):
    _of(data, dial_id)["choices"][0].update(more)


def _needs(data, dial_id, **more):
    _of(data, "grain")["needs"] = [{"dial": dial_id, "why": "", **more}]


FAULTS = [
    (lambda d: d.update(id="heron-m2"), "There is a body 'heron-m2' that ships."),
    (lambda d: d.update(format="x"), "This is not a body file: it should be JSON with format"),
    (lambda d: d.update(version=2), "This body file is of version 2; this program reads up to"),
    (lambda d: d.update(dials=[]), "The body file has a fault in 'dials': List should have at"),
    (lambda d: d.update(dials=d["dials"] * 9), "The body file has a fault in 'dials': List"),
    (lambda d: d["dials"].append(d["dials"][0]), "Two dials of the body file have one id."),
    (lambda d: d["sensor"].update(headroom=1e9), "The body file has a fault in 'sensor.headroom'"),
    (lambda d: d["sensor"].update(widest=22), "The lens of the body file is wider than it opens"),
    (lambda d: _of(d, "clarity").update(default=77), "Clarity ('clarity') cannot be set to 77."),
    (lambda d: _place(d, "clarity", value=1), "Two places of 'clarity' in the body file have one"),
    (lambda d: _place(d, "clarity", value="a"), "'clarity' in the body file mixes numbers"),
    (lambda d: _place(d, "clarity", sets={"soul": 1}), "'clarity' in the body file sets 'soul'"),
    (lambda d: _place(d, "clarity", adds={"style": 1}), "'clarity' in the body file adds to"),
    (lambda d: _place(d, "clarity", sets={"grain": "x"}), "'clarity' in the body file sets 'gr"),
    (lambda d: _place(d, "clarity", sets={"style": "x"}), "'clarity' in the body file sets 'st"),
    (lambda d: _place(d, "clarity", adds={"exposure": 1e300}), "The dials of the body file bring"),
    (lambda d: _needs(d, "grain"), "'grain' in the body file n"),
    (lambda d: _needs(d, "moon"), "Mine has no dial 'moon'."),
    (lambda d: _needs(d, "style", only=["moss"]), "Style ('style') cannot be set to 'moss'."),
    (lambda d: d["pairs"][0].update(down="moon"), "Mine has no dial 'moon'."),
]  # fmt: skip


@pytest.mark.parametrize(("change", "says"), FAULTS, ids=[says[:50] for _, says in FAULTS])
def test_what_is_wrong_with_a_body_is_one_sentence(change, says):
    data = copy.deepcopy(json.loads(json.dumps(MINE)))
    change(data)
    with pytest.raises(PlumError) as refused:
        bring(json.dumps(data))
    assert str(refused.value).startswith(says)
    assert str(refused.value).endswith((".", "'"))
    assert "mine" not in bodies()


def test_numbers_that_are_none_are_refused():
    for odd in ("NaN", "1e999", "-Infinity"):
        text = json.dumps(MINE).replace('"base_iso": 125', f'"base_iso": {odd}')
        assert odd in text
        with pytest.raises(PlumError):
            bring(text)


_json = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner),
    max_leaves=6,
)


@given(data=st.data())
def test_no_file_whatever_is_in_it_does_more_than_be_refused(data):
    """A value somewhere in it becomes something else."""
    made = json.loads(json.dumps(MINE))
    at = made
    while isinstance(at, dict | list) and at:
        keys = list(at) if isinstance(at, dict) else range(len(at))
        key = data.draw(st.sampled_from(list(keys)))
        if not isinstance(at[key], dict | list) or not at[key] or data.draw(st.booleans()):
            at[key] = data.draw(_json)
            break
        at = at[key]
    with suppress(PlumError):
        forget(bring(json.dumps(made)).id)
