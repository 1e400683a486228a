"""Bodies as data: a new one is a TOML file alone, and dials speak for themselves."""

import shutil
from dataclasses import fields

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import HERON, flat_scene
from zesty_plum.core import bodies
from zesty_plum.core.base.errors import NotFound, PlumError
from zesty_plum.core.develop import sense
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Balance, Look
from zesty_plum.core.recipe import make
from zesty_plum.core.translate import translate

OTHER = """
name = "Curlew 1"
kind = "made for a test"
slots = 2
[sensor]
base_iso = 64
headroom = 3.5
electrons = 9000
read_noise = 3
width = 8000

[[dials]]
id = "contrast"
label = "Contrast"
group = "Tone"
from = -2
to = 2
unit = "steps"
adds = { highlights = 0.3, shadows = -0.3 }
purpose = "p"
means = "m"
later = "l"

[[dials]]
id = "mode"
label = "Mode"
group = "Tone"
default = "soft"
unit = "mode"
purpose = "p"
means = "m"
later = "l"
needs = { dial = "contrast", not = [0], why = "Contrast is at 0." }
choices = [
  { id = "soft", label = "soft", adds = { sharpness = -0.1 } },
  { id = "crisp", label = "crisp", adds = { sharpness = 0.3 } },
]
"""


@pytest.fixture
def curlew(tmp_path, monkeypatch):
    """The bodies that ship, and one more that is a file alone."""
    for path in bodies.HERE.glob("*.toml"):
        shutil.copy(path, tmp_path)
    shutil.copytree(bodies.HERE / "texts", tmp_path / "texts")
    (tmp_path / "curlew-1.toml").write_text(OTHER)
    monkeypatch.setattr(bodies, "HERE", tmp_path)
    bodies.shipped.cache_clear()
    yield bodies.body("curlew-1")
    bodies.shipped.cache_clear()


def test_a_fifth_body_is_a_file_alone(curlew):
    look = curlew.interpret({"contrast": 2, "mode": "crisp"})
    # One dial moves two fields, each by its own amount and sign.
    assert (look.highlights, look.shadows, look.sharpness) == pytest.approx((0.6, -0.6, 0.3))
    # A dial that does not count changes nothing, wherever it stands, and says why.
    assert curlew.interpret({"mode": "crisp"}) == curlew.interpret({})
    assert curlew.idle(curlew.dial("mode"), curlew.complete({})) == "Contrast is at 0."
    # It renders, and recipes move to it and from it, with nothing but the file.
    hard, soft = (
        develop(
            flat_scene(0.5), curlew.interpret({"contrast": c}), curlew.sensor, 64
        ).encoded.mean()
        for c in (2, -2)
    )
    assert hard > soft + 0.01
    moved = translate(make("x", "heron-m2", {"highlights": 1, "shadows": -1}), curlew)
    assert moved.recipe.body == "curlew-1"
    assert moved.recipe.dials["contrast"] > 0


EVERY = list(bodies.bodies().values())
WADER = bodies.body("wader-v1")


@pytest.mark.parametrize("camera", EVERY, ids=lambda c: c.id)
def test_every_dial_stands_as_shipped_by_default_and_explains_itself(camera):
    known = {f.name for f in fields(Look)}
    for dial in camera.dials:
        assert dial.default in dial.values
        assert len(set(map(str, dial.values))) == len(dial.values)
        assert all(text.endswith(".") for text in (dial.purpose, dial.means, dial.later))
        for choice in dial.choices:
            assert set(choice.sets) | set(choice.adds) <= known
            for need in (*dial.needs, *choice.needs):
                assert need.why.endswith(".")
                assert camera.dial(need.dial)
                named = set(map(str, need.only + need.never))
                assert need.least is not None or named & set(
                    map(str, camera.dial(need.dial).values)
                )


@pytest.mark.parametrize("camera", EVERY, ids=lambda c: c.id)
def test_every_dial_does_something_grows_with_its_step_and_has_the_sign_it_states(camera):
    """On a soft-coloured wedge every numbered dial that counts moves the look further with every
    step, one way."""
    for dial in camera.dials:
        if isinstance(dial.values[0], str) or dial.id == "zebra":
            continue
        others = {
            n.dial: next(v for v in camera.dial(n.dial).values if n.met({n.dial: v}))
            for n in dial.needs
        }
        reached = [
            camera.interpret({**others, dial.id: v})
            for v in dial.values
            if camera.counts(dial, camera.complete({**others, dial.id: v}))
        ]
        touched = {f for c in dial.choices for f in (*c.adds, *c.sets)} - {"balance", "knee_point"}
        for name in touched:
            steps = np.diff([getattr(look, name) for look in reached])
            assert (steps > 0).all() or (steps < 0).all(), f"{dial.id}: {name}"


def test_what_is_greyed_out_when():
    heron, wader = bodies.body("heron-m2"), bodies.body("wader-v1")
    whole = heron.complete(
        {"output": "clip_8", "grain": "salt", "style": "ink", "iso_most": 250, "guard": 2}
    )
    assert "clips" in heron.idle(heron.dial("grain"), whole)
    assert "monochrome" in heron.idle(heron.dial("colour"), whole)
    assert "ISO 500" in heron.idle(heron.dial("guard"), whole)
    assert heron.interpret(whole).guard == 0
    assert not heron.idle(heron.dial("guard"), heron.complete({"iso_most": 400, "guard": 1}))
    assert not heron.idle(heron.dial("guard"), heron.complete({"iso_most": 250, "guard": 1}))
    size = wader.dial("grain_size")
    assert "nothing" in wader.idle(size, wader.complete({"grain_size": "coarse"}))
    assert not wader.idle(size, wader.complete({"grain_size": "coarse", "grain": 2}))


def test_two_native_isos():
    wader = bodies.body("wader-v1").sensor
    noise = {
        iso: sense.noise_deviation(np.array([0.18], np.float32), wader, iso, wader.width)[0]
        for iso in (400, 2000, 2500, 5000)
    }
    assert noise[2000] > noise[2500] > noise[400]
    assert noise[5000] > noise[2500]
    # Closed form at mid grey: sqrt(n + r^2) / n with n = 4200 x 400 / ISO.
    n = 4200 * 400 / 2000
    assert noise[2000] == pytest.approx(0.18 * np.sqrt(n + 20.0**2) / n, rel=1e-5)


@pytest.mark.parametrize(
    ("dial", "value", "label"),
    [
        ("exposure", -0.33, "-1/3"),
        ("exposure", 1.67, "+1 2/3"),
        ("exposure", 0, "0"),
        ("highlights", -2, "-2"),
        ("guard", 0.33, "1/3 stop"),
        ("guard", 1, "1 stop"),
        ("guard", 1.67, "1 2/3 stops"),
        ("grain", "salt", "salt"),
        ("shift_amber", 15, "+15 mired"),
        ("shift_amber", 0, "0"),
        ("shift_green", -3, "-0.003 Duv"),
        ("kelvin", 10000, "10000 K"),
    ],
)
def test_values_are_printed_as_on_a_body(dial, value, label):
    assert HERON.dial(dial).choice(value).label == label


@pytest.mark.parametrize("value", [1 / 3, 0.333, "1/3", 5, float("nan"), float("inf"), None, True])
def test_what_lies_between_steps_is_refused(value):
    if value in (1 / 3, 0.333):
        assert HERON.dial("exposure").choice(value).value == 0.33  # thirds are written in many ways
        return
    with pytest.raises(PlumError, match=r"It can take -3, -2\.67"):
        HERON.dial("exposure").choice(value)


def test_white_balance_dials():
    assert HERON.interpret({"white_balance": "lamps"}).balance is Balance.FIXED
    assert HERON.interpret({"white_balance": "lamps"}).light_mired == pytest.approx(1e6 / 2850)
    # Kelvin counts only where it is asked for.
    assert HERON.interpret({"kelvin": 2500}) == HERON.interpret({})
    assert HERON.interpret({"white_balance": "kelvin", "kelvin": 2500}).light_mired == 400
    both = WADER.interpret({"shift_red": 3, "shift_blue": 3})
    assert (both.shift_mired, both.shift_duv) == pytest.approx((0, -0.006))
    own = HERON.interpret({"shift_amber": -20, "shift_green": 4})
    assert (own.shift_mired, own.shift_duv) == pytest.approx((-20, 0.004))


@given(st.lists(st.integers(0, 60), min_size=len(HERON.dials), max_size=len(HERON.dials)))
def test_changed_and_complete_are_inverse(picks):
    dials = {d.id: d.values[p % len(d.values)] for d, p in zip(HERON.dials, picks)}
    assert HERON.complete(HERON.changed(dials)) == dials


def test_unknown_bodies_and_dials_name_the_known_ones():
    with pytest.raises(NotFound, match="heron-m2"):
        bodies.body("owl")
    with pytest.raises(PlumError, match="output, style, mono_filter"):
        HERON.complete({"tint": 1})


def test_where_values_are_many_the_nearest_are_named():
    with pytest.raises(
        PlumError, match=r"51 values from 2500, .* to 10000; next to it are 5430 and 5620"
    ):
        HERON.dial("kelvin").position(5500)
    assert HERON.dial("exposure").spelled().count(",") == 18


def test_kelvin_values_are_sorted_and_even():
    mireds = [c.sets["light_mired"] for c in HERON.dial("kelvin").choices]
    assert set(np.diff(mireds)) == {-6}
    for choice in HERON.dial("kelvin").choices:
        assert choice.value == pytest.approx(1e6 / choice.sets["light_mired"], abs=5)
