"""Words beside the standard: computed, and silent below what people see."""

import pytest

from zesty_plum.core import scenes
from zesty_plum.core.judge.beside import in_words
from zesty_plum.core.judge.effects import told
from zesty_plum.core.measure.looking import look_at
from zesty_plum.core.measure.report import Report
from zesty_plum.core.recipe import make


def of(dials: dict, scene) -> Report:
    return look_at(scene, make("x", "heron-m2", dials), 360).report


@pytest.mark.parametrize(
    ("dials", "said", "against"),
    [
        ({"white_balance": "kelvin", "kelvin": 7040}, "warmer", "cooler"),
        ({"highlights": -2}, "softer highlights", "brighter highlights"),
        ({"shadows": 2}, "more open shadows", "deeper shadows"),
        ({"colour": 2}, "fuller colours", "quieter colours"),
        ({"style": "ink"}, "without colour", "in colour"),
        ({"grain": "salt"}, "more grain", "less grain"),
        ({"shift_amber": 15, "shift_green": -4}, "skin redder", "skin yellower"),
        ({"sharpness": 3}, "crisper", "softer detail"),
        ({"exposure": -1}, "darker", "lighter"),
    ],
)
def test_a_change_is_said_and_its_opposite_is_said_the_other_way_round(dials, said, against):
    scene = scenes.load("boatyard")
    base = {"white_balance": "kelvin", "kelvin": 5620} if "kelvin" in dials else {}
    plain, changed = of(base, scene), of({**base, **dials}, scene)
    there, back = in_words(plain, changed), in_words(changed, plain)
    spoken = [w.replace("much ", "").replace("a little ", "") for w in there]
    other = [w.replace("much ", "").replace("a little ", "") for w in back]
    assert any(said in w for w in spoken)
    assert any(against in w for w in other)
    assert not any(said in w for w in other)
    assert in_words(changed, changed) == []


def test_mired_are_those_that_the_dial_moves():
    """In the corner, whose grey card is measured: mired of light, not of what contrast makes of
    it."""
    scene = scenes.load("corner")
    cool, warm = (of({"white_balance": "kelvin", "kelvin": k}, scene) for k in (5260, 6020))
    words = next(e.words for e in told(cool, warm) if "mired" in e.words)
    moved = 1e6 / 5260 - 1e6 / 6020
    assert float(words.split()[3]) == pytest.approx(moved, abs=2)
