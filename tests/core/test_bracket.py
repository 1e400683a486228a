"""Brackets: steps that are seen, by scikit-image's CIEDE2000 on the pictures themselves."""

from itertools import pairwise

import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.judge.bracket import bracket
from zesty_plum.core.recipe import make


def apart(scene, a, b, close=False):
    shots = (develop(scene, r.look, r.camera.sensor, 300, full_detail=close) for r in (a, b))
    d = deltaE_ciede2000(*(rgb2lab(s.encoded) for s in shots))
    return float(np.percentile(d, 95) if close else d.mean())


@pytest.mark.parametrize(
    ("dial", "close"),
    [
        ("shadows", False),
        ("kelvin", False),
        ("colour", False),
        ("sharpness", True),
        ("grain", True),
    ],
)
@pytest.mark.parametrize("wide", ["", "wider"])
def test_every_step_is_seen_and_none_is_wasted(dial, close, wide):
    """From each print to the next the change that was promised; a place nearer would show less."""
    scene, recipe = scenes.load("workshop"), make("x", "heron-m2", {"grain": "salt"})
    found = bracket(scene, recipe, dial, wide)
    least = (1 if close else 2) * (2 if wide else 1)
    values = recipe.camera.dial(dial).values
    for a, b in pairwise(found.recipes):
        places = [values.index(r.dials[dial]) for r in (a, b)]
        seen = apart(scene, a, b, close)
        end = places[0] == 0 or places[1] == len(values) - 1
        assert seen >= least * (0.45 if end else 0.85)
        if abs(places[1] - places[0]) > 1:
            assert seen <= least * 2.2


def test_ones_own_setting_is_the_standard_in_the_middle():
    scene, recipe = scenes.load("garden"), make("x", "heron-m2", {"exposure": 0.33})
    found = bracket(scene, recipe, "exposure")
    assert len(found.recipes) == 7
    assert found.own == 3
    assert found.recipes[3].dials == recipe.dials
    styles = bracket(scene, recipe, "style")
    assert styles.recipes[styles.own].dials == recipe.dials


def test_kelvin_is_given_a_say_and_looks_as_before_in_the_middle():
    scene, recipe = scenes.load("workshop"), make("x", "heron-m2", {})
    found = bracket(scene, recipe, "kelvin")
    assert {r.dials["white_balance"] for r in found.recipes} == {"kelvin"}
    assert apart(scene, recipe, found.recipes[found.own]) < 1.0
    assert found.said.startswith("White balance stands at kelvin here, so that it counts.")


@pytest.mark.parametrize(
    ("dial", "dials", "why"),
    [
        ("mono_filter", {}, "Filter has no effect in this recipe. A filter works on Ink only"),
        ("rate", {}, "Rate has no effect in this recipe. Only clips have it."),
        ("iso_most", {}, "ISO to changes nothing in this scene that anybody would see."),
    ],
)
def test_where_nothing_would_be_seen_it_is_said(dial, dials, why):
    with pytest.raises(PlumError, match=why):
        bracket(scenes.load("garden"), make("x", "heron-m2", dials), dial)
