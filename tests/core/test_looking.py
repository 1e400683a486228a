"""Ways to look at a picture, beginnings, and names from a look."""

import colour
import numpy as np
import pytest

from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.colour.spaces import LUMA_709
from zesty_plum.core.judge.naming import suggested_name
from zesty_plum.core.judge.verdicts import judge
from zesty_plum.core.measure import tally, views
from zesty_plum.core.recipe.begin import goals

PIXELS = np.random.default_rng(2).integers(0, 256, (40, 50, 3)).astype(np.uint8)


@pytest.mark.parametrize(
    ("view", "name"),
    [("protan", "Protanomaly"), ("deutan", "Deuteranomaly"), ("tritan", "Tritanomaly")],
)
def test_deficiencies_are_the_published_ones(view, name):
    """Against colour-science's table of Machado et al.

    (2009), on whole pictures and encoded by its own sRGB.
    """
    matrix = colour.blindness.CVD_MATRICES_MACHADO2010[name][1.0]
    assert np.array(views.DEFICIENCIES[view]) == pytest.approx(matrix, abs=1e-6)
    theirs = (
        colour.cctf_encoding(
            np.clip(colour.cctf_decoding(PIXELS / 255.0, "sRGB") @ matrix.T, 0, 1), "sRGB"
        )
        * 255
    )
    assert (
        np.abs(views.seen(PIXELS, view) - theirs).max() <= 1.6
    )  # in the dark the table is a step of light apart


def test_grey_keeps_luminance():
    grey = views.seen(PIXELS, "grey")
    assert np.ptp(grey, -1).max() == 0
    luminance = colour.cctf_decoding(PIXELS / 255.0, "sRGB") @ LUMA_709
    assert colour.cctf_decoding(grey[..., 0] / 255.0, "sRGB") == pytest.approx(luminance, abs=0.005)


def test_zebra_stripes_from_its_level_on():
    ramp = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, -1)
    assert (
        np.flatnonzero(views.zebra(ramp, 70)[0])[0] == 178
    )  # 0.70 x 255 = 178.5, and half a code value is let in
    assert views.zebra(ramp, 100)[0].sum() == 1


def test_the_map_of_differences_runs_from_grey_to_plum():
    made = views.difference_map(np.array([[0.0, 1.5, 10.0, 40.0]]))
    assert np.ptp(made[0, 0]) == 0
    assert tuple(made[0, 2]) == tuple(made[0, 3]) == views.MAP_RGB[-1]


def test_lab_of_a_picture_is_the_librarys():
    encoded = np.random.default_rng(5).random((60, 3))
    theirs = colour.XYZ_to_Lab(colour.sRGB_to_XYZ(encoded))
    assert encoded_to_lab(encoded.astype(np.float32)) == pytest.approx(theirs, abs=0.02)


def test_percentiles_off_a_histogram_are_those_of_the_values():
    rng = np.random.default_rng(6)
    lab = np.stack(
        [rng.uniform(0, 100, (80, 90)), rng.normal(0, 20, (80, 90)), rng.normal(5, 20, (80, 90))],
        -1,
    ).astype(np.float32)
    apart = rng.gamma(2, 2, (80, 90)).astype(np.float32)
    labels = rng.integers(0, 3, (80, 90)).astype(np.uint8)
    greys = np.tile(np.float32([2.0, -3.0]), (101, 1))
    counted = tally.tally(labels, lab, apart, apart > 3, 2, greys)
    inside = labels == 1
    for kind, values in ((tally.LIGHTNESS, lab[..., 0]), (tally.APART, apart)):
        for share in (5, 25, 95):
            assert counted[1].percentile(kind, share) == pytest.approx(
                np.percentile(values[inside], share), rel=0.02, abs=0.02
            )
    around = np.hypot(lab[inside][:, 1] - 2, lab[inside][:, 2] + 3)
    assert counted[1].mean(6) == pytest.approx(around.mean(), rel=1e-5)
    assert counted[1].mean(4) == pytest.approx(apart[inside].mean(), rel=1e-5)
    whole = sum(counted[1:], counted[0])
    assert whole.percentile(tally.CHROMA, 95) == pytest.approx(
        np.percentile(np.hypot(lab[..., 1], lab[..., 2]), 95), rel=0.01
    )


# ---- beginnings ----------------------------------------------------------------------------------
def test_every_goal_is_a_start_without_a_weighty_fault_in_its_scene():
    for goal in goals():
        found = judge(scenes.load(goal.scene), goal.recipe, remedies=False)
        assert all(v.importance < 3 for v in found), (goal.title, [v.sentence for v in found])


@pytest.mark.parametrize(
    ("dials", "words"),
    [
        ({}, {"Plain"}),
        ({"white_balance": "kelvin", "kelvin": 8930}, {"Warm", "Plain"}),
        ({"style": "ink", "highlights": 2}, {"Firm", "Ink"}),
        ({"colour": 4, "exposure": 1}, {"Full", "bright", "Plain"}),
    ],
)
def test_a_name_says_what_is_seen(dials, words):
    assert (
        set(suggested_name(scenes.load("boatyard"), recipes.make("x", "heron-m2", dials)).split())
        == words
    )
