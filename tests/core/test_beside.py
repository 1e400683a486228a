"""Words beside the standard: computed, and silent below what people see."""

import pytest

from zesty_plum.core import scenes
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.judge.beside import in_words
from zesty_plum.core.measure.figures import measure
from zesty_plum.core.recipe import Recipe, make


def of(dials: dict, scene) -> tuple[Recipe, object]:
    recipe = make("x", "heron-m2", dials)
    camera = recipe.camera
    picture, plain = (
        develop(scene, look, camera.sensor, 360) for look in (recipe.look, camera.interpret({}))
    )
    return recipe, measure(scene, recipe.look, camera.sensor, picture, plain)


@pytest.mark.parametrize(
    ("dials", "said"),
    [
        ({"white_balance": "kelvin", "kelvin": 7040}, "warmer by"),
        ({"highlights": -2}, "softer highlights"),
        ({"shadows": 2}, "more open shadows"),
        ({"colour": 2}, "fuller colours"),
        ({"style": "ink"}, "without colour"),
        ({"grain": 2}, "more grain"),
        ({"shift_red": 4}, "redder"),
        ({"sharpness": 4}, "crisper"),
        ({"exposure": -1}, "darker"),
    ],
)
def test_a_change_is_said_and_its_opposite_is_said_the_other_way_round(dials, said):
    scene = scenes.load("boatyard")
    base = {"white_balance": "kelvin", "kelvin": 5620} if "kelvin" in dials else {}
    plain, changed = of(base, scene), of({**base, **dials}, scene)
    words = in_words(scene, plain, changed)
    assert any(said in w for w in words)
    assert not any(said in w for w in in_words(scene, changed, plain))
    assert in_words(scene, changed, changed) == []


def test_mired_are_those_that_the_dial_moves():
    """In the corner, whose grey card is measured; what is seen is the light's ratio to the power of
    Plain's contrast."""
    scene = scenes.load("corner")
    cool, warm = (of({"white_balance": "kelvin", "kelvin": k}, scene) for k in (5260, 6020))
    words = next(w for w in in_words(scene, cool, warm) if "mired" in w)
    assert float(words.split()[2]) == pytest.approx(
        (1e6 / 5260 - 1e6 / 6020) * warm[1].curve.contrast, abs=2
    )
