"""A learnt rendering: what its numbers mean, and the body file that holds them."""

import json
import math
import re
from dataclasses import replace

import numpy as np
import pytest
from scipy.interpolate import CubicHermiteSpline

from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body, bring, file, forget, known
from zesty_plum.core.colour.spaces import srgb_encode
from zesty_plum.core.develop import learnt
from zesty_plum.core.develop.part import Where, all_of
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import make_point
from zesty_plum.core.learn.sure import NAMES
from zesty_plum.core.learn.untaught import untaught
from zesty_plum.core.look import Look
from zesty_plum.core.styles import bring as bring_style
from zesty_plum.core.styles import forget as forget_style
from zesty_plum.core.styles import taught
from zesty_plum.core.styles.learnt import (
    ALL,
    BRIGHT,
    DARK,
    KNOTS,
    PLACES,
    SIDE,
    Seen,
    Sure,
    of_numbers,
)
from zesty_plum.demo import TAUGHT

STOPS = np.linspace(DARK, BRIGHT, KNOTS)


def numbers(**parts) -> np.ndarray:
    out = np.zeros(ALL)
    out[PLACES["curve"]] = srgb_encode(1 - np.exp(-0.7 * np.exp2(STOPS)))
    for name, values in parts.items():
        out[PLACES[name]] = values
    return out


def grey(stops: np.ndarray, made) -> np.ndarray:
    light = np.repeat((0.18 * np.exp2(stops)).astype(np.float32)[:, None], 3, 1)
    return srgb_encode(learnt.display(light, made)).astype(float)


def test_the_curve_is_catmull_and_roms_spline():
    made = of_numbers(numbers(), None, 3.0)
    values = np.array(made.curve)
    slopes = np.gradient(values, STOPS)  # half of the way from one neighbour to the other
    expected = CubicHermiteSpline(STOPS, values, slopes)
    inside = np.linspace(STOPS[1], STOPS[-2], 300)
    shown = grey(inside, made)
    assert np.abs(shown.mean(1) - np.clip(expected(inside), 0, 1)).max() < 2e-4
    assert np.ptp(shown, axis=1).max() < 2e-4  # greys stay grey


def test_a_matrix_and_dyes_leave_greys_and_move_colours():
    odd = {"matrix": [0.1, -0.05, 0.04, 0.06, -0.02, 0.09], "dyes": [-0.1, 0.02, 0, 0.05, 0.1, 0]}
    plain, mixed = (of_numbers(numbers(**k), None, 3.0) for k in ({}, odd))
    at = np.linspace(-5, 2, 40)
    assert np.abs(grey(at, plain) - grey(at, mixed)).max() < 1e-3
    red = np.array([[0.3, 0.05, 0.04]], np.float32)
    assert np.abs(learnt.display(red, plain) - learnt.display(red, mixed)).max() > 0.02


def test_corners_are_brightened_by_the_way_to_them():
    made = of_numbers(numbers(shade=[0.3, 0.1]), None, 3.0)
    whole = learnt.corners(made, (40, 60, 3), all_of((40, 60)))
    assert whole is not None
    factors = whole.rows(0, 40)[..., 0]
    assert factors[20, 30] == pytest.approx(1, abs=0.002)
    half = math.hypot(30, 20)
    far = (29.5**2 + 19.5**2) / half**2
    assert factors[0, 0] == pytest.approx(1 + 0.3 * far + 0.1 * far**2, rel=1e-5)
    part = learnt.corners(made, (10, 10, 3), Where(30, 50, 40, 60))
    assert np.allclose(part.rows(0, 10)[..., 0], factors[30:, 50:])
    assert learnt.corners(of_numbers(numbers(), None, 3.0), (4, 4, 3), all_of((4, 4))) is None


@pytest.mark.parametrize("white", [2.0, 4.0, 5.0])
def test_more_room_is_pressed_into_what_was_taught(white):
    made = of_numbers(numbers(), None, 3.0)
    stops = np.linspace(-6, white, 200)
    moved = np.log2(learnt.roomy((0.18 * np.exp2(stops)).astype(np.float32), white, made) / 0.18)
    assert np.abs(moved[stops <= 0] - stops[stops <= 0]).max() < 1e-4
    assert (np.diff(moved) > 0).all() or (np.diff(moved) > -1e-6).all()
    assert moved[-1] == pytest.approx(3.0, abs=1e-3)


@pytest.fixture
def style():
    made = taught("mine-one", "One", "", of_numbers(numbers(), None, 3.0), None)
    bring_style(made)
    yield made
    forget_style(made.id)


def test_dials_bend_and_colour_a_learnt_style_as_they_do_others(style):
    scene, sensor = scenes.load("garden"), body("heron-m2").sensor
    shown = {
        name: develop(scene, replace(Look(), style="mine-one", **more), sensor, 240).overview_lab
        for name, more in {
            "rest": {},
            "shadows": {"shadows": 1.0},
            "bright": {"highlights": 1.0},
            "grey": {"saturation": 0.0},
            "full": {"saturation": 1.3},
            "brights": {"brights": 0.05},
        }.items()
    }
    rest, dark = shown["rest"], shown["rest"][..., 0] < 25
    chroma = {k: np.hypot(v[..., 1], v[..., 2]).mean() for k, v in shown.items()}
    assert (shown["shadows"] - rest)[dark][..., 0].mean() > 3
    assert (shown["bright"] - rest)[..., 0].mean() > 0.3
    assert (shown["brights"] - rest)[rest[..., 0] > 50][..., 0].mean() > 2
    assert chroma["grey"] < 0.3
    assert 1.2 < chroma["full"] / chroma["rest"] < 1.35
    curve = make_point(scene, replace(Look(), style="mine-one"), sensor).grey_curve
    light = 0.18 * np.exp2(np.linspace(-8, 3, 200))
    assert (np.diff(curve(light)) >= -1e-6).all()


def test_a_learnt_body_goes_through_its_file_and_is_as_wide_as_its_table():
    text = TAUGHT.read_text()
    made = bring(text)
    try:
        assert file.dumps(made) == text
        assert made.styles[0].sure is not None
        look = made.interpret({})
        assert look.style == made.styles[0].id
        # A table whose corner is moved moves the colours near it, and no others.
        side = SIDE
        own = made.styles[0].learnt
        moved = np.array(own.rest).reshape(side, side, side, 3)
        moved[5, :, :, 0] += 0.05
        other = replace(own, rest=tuple(moved.ravel()))
        light = np.repeat((0.18 * np.exp2(np.linspace(-7, 2.5, 60)))[:, None], 3, 1)
        a, b = learnt.display(light, own), learnt.display(light, other)
        where = np.abs(a - b).max(1) > 1e-4
        lightness = np.cbrt(a.mean(1))
        assert lightness[where].min() > 0.38
        assert lightness[where].max() < 0.62
    finally:
        forget(made.id)


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        (("styles", 0, "learnt", "rest"), [0.1] * 12, "has 12 numbers; it has 3,993, or none"),
        (("styles", 0, "learnt", "curve"), [0.5] * 17 + [0.1], "a curve only rises"),
        (("styles", 0, "learnt", "curve"), [0.5], "fault in 'styles.0.learnt.curve'"),
        (("styles", 0, "learnt", "matrix"), [1e9] * 6, "fault in 'styles.0.learnt.matrix.0'"),
        (("styles", 0, "id"), "linen", "begins with 'turnstone-'"),
        (("styles", 0, "sure", "mean"), -1, "fault in 'styles.0.sure.mean'"),
        (("edition",), 0, "fault in 'edition'"),
    ],
)
def test_what_is_wrong_with_what_was_learnt_is_said(path, value, says):
    data = json.loads(TAUGHT.read_text())
    place = data
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    with pytest.raises(PlumError, match=says.replace("(", r"\(")):
        file.loads(json.dumps(data), known())


def test_what_no_pair_showed_is_told_of_a_picture_that_has_it(style):
    scene, sensor = scenes.load("garden"), body("heron-m2").sensor  # foxgloves, and little cyan
    look = replace(Look(), style="mine-one")
    assert untaught(scene, look, sensor).words == ""
    seen = tuple(Seen(name, 0.1, 1.0) for name in NAMES)

    def said(*never: str) -> str:
        sure = Sure(
            12,
            1,
            2,
            9,
            0.8,
            1.2,
            8,
            tuple(replace(k, share=0.1 * (k.name not in never)) for k in seen),
        )
        bring_style(replace(style, sure=sure))
        found = untaught(scene, look, sensor)
        assert found.share == pytest.approx(found.places.mean())
        return found.words

    assert said("cyan") == ""
    share = re.fullmatch(
        r"Hardly any pair showed pink: (\d+) % of this picture is a guess\.", said("pink")
    )
    lab = develop(scene, look, sensor, 240).overview_lab
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    full = np.hypot(lab[..., 1], lab[..., 2]) > 8
    around = 100 * (full & ((hue > 325) | (hue < 8))).mean()  # CIELAB's hues of it, roughly
    assert float(share[1]) == pytest.approx(around, abs=6)
