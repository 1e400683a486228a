"""Bodies as data: a new one is a TOML file alone, and dials speak for themselves."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import HERON
from zesty_plum.core import bodies
from zesty_plum.core.errors import NotFound, PlumError
from zesty_plum.core.look import Balance

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


def test_a_body_is_a_file_alone(tmp_path):
    path = tmp_path / "curlew-1.toml"
    path.write_text(OTHER)
    curlew = bodies._read(path)
    look = curlew.interpret({"contrast": 2, "mode": "crisp"})
    # One dial moves two fields, each by its own amount and sign.
    assert (look.highlights, look.shadows, look.sharpness) == pytest.approx((0.6, -0.6, 0.3))
    # A dial that does not count changes nothing, wherever it stands.
    assert curlew.interpret({"mode": "crisp"}) == curlew.interpret({})
    assert curlew.sensor.headroom == 3.5


def test_every_dial_stands_as_shipped_by_default_and_explains_itself():
    for dial in HERON.dials:
        assert dial.default in dial.values
        assert len(set(map(str, dial.values))) == len(dial.values)
        assert all(text.endswith(".") for text in (dial.purpose, dial.means, dial.later))
        assert dial.needs is None or HERON.dial(dial.needs.dial)


@pytest.mark.parametrize(
    ("dial", "value", "label"),
    [
        ("exposure", -0.33, "-1/3"),
        ("exposure", 1.67, "+1 2/3"),
        ("exposure", 0, "0"),
        ("highlights", -1.5, "-1 1/2"),
        ("shadows", 0.5, "+1/2"),
        ("guard", 1, "1 stop"),
        ("guard", 2, "2 stops"),
        ("grain", 3, "3"),
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
    both = HERON.interpret({"shift_red": 3, "shift_blue": 3})
    assert (both.shift_mired, both.shift_duv) == pytest.approx((0, -0.006))


@given(st.lists(st.integers(0, 60), min_size=len(HERON.dials), max_size=len(HERON.dials)))
def test_changed_and_complete_are_inverse(picks):
    dials = {d.id: d.values[p % len(d.values)] for d, p in zip(HERON.dials, picks)}
    assert HERON.complete(HERON.changed(dials)) == dials


def test_unknown_bodies_and_dials_name_the_known_ones():
    with pytest.raises(NotFound, match="heron-m2"):
        bodies.body("owl")
    with pytest.raises(PlumError, match="exposure, style, grain"):
        HERON.complete({"tint": 1})


def test_where_values_are_many_the_nearest_are_named():
    with pytest.raises(PlumError, match=r"51 values from 2500, .* to 10000; next to it are 5430 and 5620"):
        HERON.dial("kelvin").position(5500)
    assert HERON.dial("exposure").spelled().count(",") == 18


def test_kelvin_values_are_sorted_and_even():
    mireds = [c.sets["light_mired"] for c in HERON.dial("kelvin").choices]
    assert set(np.diff(mireds)) == {-6}
    for choice in HERON.dial("kelvin").choices:
        assert choice.value == pytest.approx(1e6 / choice.sets["light_mired"], abs=5)
