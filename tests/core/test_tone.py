"""Promises of the point stages, over every legal place of the dials that touch them."""

import itertools

import numpy as np
import PyOpenColorIO as ocio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from benchmarks import baking
from tests.builders import HERON, flat_scene, recipe, rendered
from zesty_plum.core import scenes
from zesty_plum.core.base import fastmath
from zesty_plum.core.bodies import body
from zesty_plum.core.colour.spaces import (
    LUMA_709,
    REC2020_TO_SRGB,
    linear_srgb_to_oklab,
    srgb_decode,
    srgb_encode,
)
from zesty_plum.core.develop import gamut, point, table, tone
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import exposed, make_point
from zesty_plum.core.exchange import lut
from zesty_plum.core.measure.views import zebras
from zesty_plum.core.styles import style, styles
from zesty_plum.core.styles.parameters import Tone

STOPS = np.linspace(-10, 4.98, 1500)
HIGHLIGHTS = [c.adds["highlights"] for c in HERON.dial("highlights").choices]
SHADOWS = [c.adds["shadows"] for c in HERON.dial("shadows").choices]
COLOUR_STYLES = [s for s in styles().values() if s.colouring.mono is None]


def curve(which, highlights, shadows, white):
    return tone.lift(tone.display(STOPS, which.tone, white, highlights, shadows), which.tone)


@pytest.mark.parametrize("which", styles().values(), ids=styles())
@pytest.mark.parametrize("guard", [0, 1, 2])
def test_tone_strictly_increases_for_every_legal_combination(which, guard):
    white = 3.0 + guard
    inside = white - 0.02 > STOPS[:-1]
    for highlights, shadows in itertools.product(HIGHLIGHTS, SHADOWS):
        rise = np.diff(curve(which, highlights, shadows, white))[inside]
        assert (rise > 0).all(), (highlights, shadows)


def test_the_dials_mean_what_the_body_says():
    # Four steps: a third of a stop two stops above mid grey in Plain; one of shadows, of scene
    # light: a sixth two stops below it, and a third deep down.
    plain = style("plain").tone
    lights = HERON.interpret({"highlights": 4}).highlights
    shadows = HERON.interpret({"shadows": 1}).shadows
    light = np.array([2.0, -2.0, -9.0])
    own = np.log2(tone.display(light, plain, 3.0))
    moved = np.log2(tone.display(light, plain, 3.0, lights, shadows)) - own
    assert moved[0] == pytest.approx(1 / 3, abs=0.06)
    assert moved[1:] / plain.contrast == pytest.approx([1 / 6, 1 / 3], abs=0.02)


@pytest.mark.parametrize("contrast", [0.9, 1.28, 1.6])
def test_the_curve_is_undone_in_closed_form(contrast):
    how = Tone(contrast=contrast)
    light = 0.18 * np.exp2(STOPS[STOPS < 2.9])
    assert np.allclose(
        tone.undo(tone.display(STOPS[STOPS < 2.9], how, 3.0), how, 3.0), light, rtol=2e-3
    )
    assert tone.undo(np.float32([0, 1]), how, 3.0) == pytest.approx([0, 0.18 * 8])


@settings(max_examples=40, deadline=None)
@given(
    st.sampled_from(COLOUR_STYLES),
    st.floats(-8, 3),
    st.sampled_from(HIGHLIGHTS),
    st.sampled_from(SHADOWS),
    st.integers(-4, 4),
    st.integers(0, 2),
)
def test_neutral_in_neutral_out(which, stops, highlights, shadows, colour_step, guard):
    look = HERON.interpret({"style": which.id, "colour": colour_step, "guard": guard})
    made = point.Point(look, which, 3.0 + guard, point.as_tuple(np.eye(3)), finished=False)
    out = made.develop(np.full((1, 3), 0.18 * 2**stops, np.float32))[0]
    assert np.ptp(out) < 0.4 / 255


@pytest.mark.parametrize(
    "which", [s for s in styles().values() if s.colouring.toning is None], ids=lambda s: s.id
)
def test_no_saturation_is_a_neutral_picture(which):
    from dataclasses import replace

    look = replace(HERON.interpret({"style": which.id}), saturation=0.0)
    made = point.Point(look, which, 3.0, point.as_tuple(np.eye(3)), finished=False)
    out = made.develop(np.random.default_rng(2).random((500, 3)).astype(np.float32))
    assert np.ptp(out, axis=-1).max() < 1 / 255


@pytest.mark.parametrize("name", ["plain", "bunting", "linen"])
def test_each_colour_step_adds_chroma(name):
    colours = np.random.default_rng(3).uniform(0.05, 0.4, (300, 3)).astype(np.float32)
    chroma = []
    for step in HERON.dial("colour").values:
        made = point.Point(
            HERON.interpret({"style": name, "colour": step}),
            style(name),
            3.0,
            point.as_tuple(np.eye(3)),
            False,
        )
        lab = linear_srgb_to_oklab(srgb_decode(made.develop(colours)))
        chroma.append(np.hypot(lab[:, 1], lab[:, 2]).mean())
    assert (np.diff(chroma) > 0.002).all()


@pytest.mark.parametrize(("dial", "axis"), [("shift_red", 0), ("shift_blue", 2)])
def test_a_shift_raises_its_own_colour(dial, axis):
    scene, wader = flat_scene(ev100=12), body("wader-v1")
    looks = [wader.interpret({dial: v}) for v in (-10, -5, 0, 5, 10)]
    levels = [develop(scene, look, wader.sensor, 480).encoded.mean((0, 1)) for look in looks]
    share = [level[axis] / level.mean() for level in levels]
    assert (np.diff(share) > 0.01).all()


def test_exposure_bias_is_stops_of_light():
    scene = flat_scene(0.045, ev100=12)
    plus = tone.undo(
        srgb_decode(rendered(scene, exposure=1).encoded.mean((0, 1))), style("plain").tone, 3.0
    )
    zero = tone.undo(srgb_decode(rendered(scene).encoded.mean((0, 1))), style("plain").tone, 3.0)
    assert np.log2(plus / zero) == pytest.approx([1, 1, 1], abs=0.02)


def test_guard_keeps_mid_grey_and_holds_highlights():
    grey, bright = flat_scene(0.18, ev100=15), flat_scene(0.18 * 2**3.2, ev100=15)
    assert rendered(grey, guard=2).encoded.mean() == pytest.approx(
        rendered(grey).encoded.mean(), abs=0.003
    )
    assert rendered(bright).clipped.all()
    assert not rendered(bright, guard=1).clipped.any()


def test_clipped_light_stays_neutral():
    scene = flat_scene(0.18 * 2**5, ev100=12)
    for dials in ({}, {"white_balance": "lamps"}, {"white_balance": "shade", "style": "bunting"}):
        assert rendered(scene, **dials).pixels.min() == 255


def rolled(values: np.ndarray, limit: float) -> np.ndarray:
    return np.array([gamut.rolled_off(float(v), limit) for v in values])


def test_roll_off_leaves_what_fits_and_lands_the_limit_on_the_edge():
    x = np.linspace(0, 1.5, 400)
    assert np.allclose(rolled(x, 1.0)[x <= 1], x[x <= 1], atol=1e-6)
    far = rolled(x, 1.5)
    assert far[-1] == pytest.approx(1, abs=1e-5)
    assert (np.diff(far) > 0).all()


def test_a_table_is_close_to_the_formula():
    """CIEDE2000 at the 99th percentile, shadows and full colours apart: every style in every scene,
    and a harsh look."""
    harsh = baking.HARSH[0]
    for scene_id, dials in itertools.product(
        scenes.index(), [*({"style": s} for s in styles()), harsh]
    ):
        apart = baking.apart(scene_id, dials, every=8)
        assert max(apart) < (1.0 if dials is harsh else 0.5), (scene_id, dials, apart)


def test_a_table_is_what_others_make_of_its_whole_cube():
    """OpenColorIO, by tetrahedra, through the same ramp and all of the cube; ours is worked out
    where pictures go: one small corner of it, then everywhere. Brightness is that of the result."""
    look = HERON.interpret({"style": "bunting", "highlights": -2, "shadows": 2})
    made = make_point(scenes.load("corner"), look, HERON.sensor)
    ours, size = table.Table(made, 17), 17
    grey = np.interp(np.linspace(0, 1, size), ours.ramp[:, 1], ours.ramp[:, 0])
    added = made.table(size) - np.stack(np.meshgrid(grey, grey, grey, indexing="ij"), -1)
    line = ocio.Lut1DTransform(length=len(ours.ramp), inputHalfDomain=False)
    line.setData(np.repeat(ours.ramp[:, 1], 3))
    grid = ocio.Lut3DTransform(gridSize=size)
    grid.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    grid.setData(added.astype(np.float32).ravel())
    both = ocio.GroupTransform([line, grid])
    processor = ocio.Config.CreateRaw().getProcessor(both).getDefaultCPUProcessor()
    rng = np.random.default_rng(8)
    for low, high in ((0.55, 0.6), (-0.1, 1.1)):
        picture = rng.uniform(low, high, (40, 50, 3)).astype(np.float32)
        theirs, luma = picture.copy(), np.empty((40, 50), np.float32)
        processor.applyRGB(theirs)
        shown = np.interp(picture, np.linspace(0, 1, len(ours.ramp)), ours.ramp[:, 0]) + theirs
        ours.apply(picture, luma)
        assert picture == pytest.approx(shown, abs=2e-5)
        assert luma == pytest.approx(shown @ LUMA_709, abs=2e-5)


def test_quick_functions_are_those_of_the_library():
    x = np.exp2(np.random.default_rng(3).uniform(-30, 10, 3000)).astype(np.float32)
    u, v = np.random.default_rng(4).normal(size=(2, 3000))
    assert [fastmath.log2(a) for a in x] == pytest.approx(np.log2(x), abs=4e-6)
    assert [fastmath.cube_root(float(a)) for a in x] == pytest.approx(
        np.cbrt(x.astype(float)), rel=1e-12
    )
    assert [fastmath.angle(a, b) for a, b in zip(v, u, strict=True)] == pytest.approx(
        np.arctan2(v, u), abs=1e-7
    )


def swept() -> list[np.ndarray]:
    """Scene light in 1024 steps (1024, n, 3): around the hues, from grey to full colour, and from
    dark to bright."""
    t, places = np.linspace(0, 1, 1024), np.radians(np.arange(0, 360, 15))

    def wheel(hue: np.ndarray) -> np.ndarray:
        return np.stack([np.cos(hue - k) for k in (0, 2 * np.pi / 3, 4 * np.pi / 3)], -1)

    full, levels = wheel(places), (0.02, 0.1, 0.3, 0.8)
    chroma = [level * (1 + 0.95 * t[:, None, None] * full) for level in levels]
    hues = [
        level * np.stack([1 + s * wheel(2 * np.pi * t) for s in (0.15, 0.4, 0.8)], 1)
        for level in levels
    ]
    bright = [
        0.18 * np.exp2(np.linspace(-7, 2.9, 1024))[:, None, None] * (1 + s * full)
        for s in (0.3, 0.7)
    ]
    return [np.clip(a, 1e-5, None).astype(np.float32) for a in (*chroma, *hues, *bright)]


@pytest.mark.parametrize(
    ("dials", "bound"),
    [
        *(({"style": s}, 1.5) for s in styles()),
        ({"style": "bunting", "colour": 5}, 3.0),
        ({"colour": 4}, 3.0),
    ],
)
def test_no_gradient_gets_an_edge(dials, bound):
    """Of 1024 steps none changes the slope by more than `bound` code values: an edge would by ten
    and more. Where the sensor clips a channel, light itself has an edge, of which a code value
    shows."""
    made = point.Point(
        HERON.interpret(dials),
        style(dials.get("style", "plain")),
        3.0,
        point.as_tuple(np.eye(3)),
        False,
    )
    for light in swept():
        bend_ = np.abs(np.diff(made.develop(np.minimum(light, made.clip)) * 255.0, n=2, axis=0))
        held = (light @ REC2020_TO_SRGB.T).max(-1) < made.clip
        inside = held[2:] & held[1:-1] & held[:-2]
        assert bend_[inside].max() < bound
        assert bend_.max() < bound + 1


def test_hues_turn_forwards_only_in_every_style():
    """Around the circle of a middling colour no hue overtakes another."""
    hue = np.radians(np.arange(0, 360, 1.0))
    wheel = np.stack([np.cos(hue - k) for k in (0, 2 * np.pi / 3, 4 * np.pi / 3)], -1)
    for which in COLOUR_STYLES:
        made = point.Point(
            HERON.interpret({"style": which.id}), which, 3.0, point.as_tuple(np.eye(3)), False
        )
        lab = linear_srgb_to_oklab(
            srgb_decode(made.develop((0.18 * (1 + 0.5 * wheel)).astype(np.float32))).astype(
                np.float32
            )
        )
        turned = np.unwrap(np.arctan2(lab[:, 2], lab[:, 1]))
        assert (np.diff(turned) > 0).all(), which.id


@pytest.mark.parametrize(
    ("which", "stops", "level"), [("heron-m2", 5.0, 85), ("wader-v1", 5.3, 87)]
)
def test_a_log_curve_holds_two_stops_more_and_stripes_know_where_it_clips(which, stops, level):
    """By the published formula: 0.4 + log2((x + 0.012) / 0.192) / 11."""
    camera = body(which)
    look = camera.interpret({"style": "sounding"})
    light = 0.18 * 2.0 ** np.array([-5, 0, stops - 0.1, stops + 0.5])
    shown = [
        develop(flat_scene(x, ev100=14), look, camera.sensor, 480) for x in light.astype(np.float32)
    ]
    encoded = 0.4 + np.log2((np.minimum(light, 0.18 * 2**stops) + 0.012) / 0.192) / 11
    assert [p.encoded.mean() for p in shown] == pytest.approx(encoded, abs=0.003)
    assert [bool(p.clipped.all()) for p in shown] == [False, False, False, True]
    assert (level, "where Sounding clips") in zebras(camera)
    assert (40, "grey in Sounding") in zebras(camera)
    assert camera.sensor.base_iso * 4 == exposed(flat_scene(ev100=14), look, camera.sensor)[1].iso


def test_an_earlier_log_clip_means_what_it_meant():
    """What the curve said of light to the clip point of before, it says now; the table of the old
    input gives the same there."""
    values = lut.table(recipe(), 65, "sounding")
    grey = values[np.arange(65), np.arange(65), np.arange(65)].mean(-1)
    code = np.linspace(0, 1, 65)
    light = 0.192 * 2 ** (11 * (code - 0.4)) - 0.012
    inside = (light > 0.002) & (light < 0.18 * 2**2.9)
    stops = np.log2(light[inside] / 0.18)
    plain = srgb_encode(tone.display(stops, style("plain").tone, 3.0))
    assert grey[inside] == pytest.approx(plain, abs=0.004)


@pytest.mark.parametrize(
    ("brights", "darks"), [(0.12, 0.0), (-0.12, 0.0), (0.0, 0.12), (0.1, -0.1)]
)
def test_bends_move_two_thirds_and_one_third_by_what_they_say(brights, darks):
    """Bernstein's middle polynomials of third degree are 4/9 and 2/9 high at a third of the way."""
    film = tone.Film(brights=brights, darks=darks)
    at = np.array([0.0, 1 / 3, 2 / 3, 1.0])
    moved = tone.filmed(at, film) - at
    assert moved == pytest.approx([0, darks + brights / 2, brights + darks / 2, 0], abs=1e-12)
    assert (np.diff(tone.filmed(np.linspace(0, 1, 500), film)) > 0).all()
