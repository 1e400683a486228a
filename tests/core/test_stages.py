"""Stages by closed forms and by the properties that the pipeline promises, for every legal
combination where it can."""

import itertools
from dataclasses import replace

import colour
import cv2
import numpy as np
import pytest

from tests.builders import HERON, flat_scene, rendered
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies, body
from zesty_plum.core.colour.spaces import (
    linear_srgb_to_lab,
    linear_srgb_to_oklab,
    srgb_decode,
    srgb_encode,
)
from zesty_plum.core.develop import (
    clarity,
    colouring,
    encode,
    grain,
    local,
    metering,
    pipeline,
    point,
    sense,
    tone,
)
from zesty_plum.core.develop.part import alone
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look, Metering
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.styles import style, styles

WADER = body("wader-v1")


def clarified(luma: np.ndarray, amount: float, width: int = 480) -> np.ndarray:
    out = luma.astype(np.float32).copy()
    clarity.shape(out, Look(clarity=amount), alone(out.shape, width))
    return out


def through(look: Look, rgb: np.ndarray, white: float = 3.0) -> np.ndarray:
    return point.Point(look, style(look.style), white, point.as_tuple(np.eye(3)), False).develop(
        rgb.astype(np.float32)
    )


# ---- tone ----------------------------------------------------------------------------------------
OFFERED = [(camera, which) for camera in bodies().values() for which in camera.dial("style").values]


@pytest.mark.parametrize(("camera", "which"), OFFERED, ids=[f"{c.id}-{w}" for c, w in OFFERED])
def test_tone_rises_for_every_legal_combination(camera, which):
    """Grey from nine stops under to the clip point, at both ends and the middle of every dial that
    bends tone."""
    names = [
        d
        for d in (
            "guard",
            "highlights",
            "shadows",
            "contrast",
            "black_level",
            "knee_point",
            "knee_slope",
        )
        if d in {dial.id for dial in camera.dials}
    ]
    ends = [
        sorted({camera.dial(n).values[k] for k in (0, len(camera.dial(n).values) // 2, -1)})
        for n in names
    ]
    for values in itertools.product(*ends):
        look = camera.interpret({"style": which, **dict(zip(names, values))})
        white = camera.sensor.headroom + look.guard
        made = point.Point(look, style(which), white, point.as_tuple(np.eye(3)), False)
        grey = made.grey_curve(0.18 * np.exp2(np.linspace(-9, white, 400)))
        assert (np.diff(grey) > 0).all(), dict(zip(names, values))
        assert grey[0] >= 0
        assert grey[-1] <= 1.000001


def test_the_log_curve_has_the_published_inverse():
    how = style("sounding").tone
    light = 0.18 * np.exp2(np.linspace(-6, 5, 200))
    encoded = tone.log_encoded(light, how)
    # The formula as the style's file states it.
    assert encoded == pytest.approx(0.40 + np.log2((light + 0.012) / 0.192) / 11)
    assert tone.log_decoded(encoded, how) == pytest.approx(light)
    grey = through(Look(style="sounding"), np.full((1, 3), 0.18), 3.0)
    assert grey == pytest.approx(0.40, abs=0.003)


def test_black_level_and_knee_leave_the_other_end_alone():
    e = np.linspace(0, 1, 1001)
    for level in (-0.072, 0.072):
        out = tone.filmed(e, tone.Film(black_level=level))
        assert out[-1] == pytest.approx(1)
        assert np.sign(out[50] - e[50]) == np.sign(level)
    low = tone.filmed(e, tone.Film(knee_point=0.80, knee_slope=-1.0))
    high = tone.filmed(e, tone.Film(knee_point=0.80, knee_slope=1.0))
    assert np.array_equal(low[e <= 0.80], e[e <= 0.80])
    assert (low[810:-1] < e[810:-1]).all()
    assert (high[810:-1] > e[810:-1]).all()
    # No corner at the knee: the slope changes by no more than a hundredth over a thousandth of the
    # scale.
    assert np.abs(np.diff(low, 2)).max() < 2e-5


# ---- colour --------------------------------------------------------------------------------------
def swatch(hue: float, chroma: float = 0.11, light: float = 0.6) -> np.ndarray:
    from zesty_plum.core.colour.spaces import oklab_to_linear_srgb

    h = np.radians(hue)
    return oklab_to_linear_srgb(
        np.array([[light, chroma * np.cos(h), chroma * np.sin(h)]], np.float32)
    )


@pytest.mark.parametrize(
    ("which", "hue"), zip(("red", "yellow", "green", "cyan", "blue", "magenta"), colouring.SIX)
)
def test_depth_deepens_its_own_hue_and_spares_its_neighbours(which, hue):
    def lightness(at: float, **depth: float) -> float:
        look = Look(**depth)
        change = colouring.Change(depth=look.depth)
        return float(
            linear_srgb_to_oklab(colouring.colour(swatch(at), style("plain").colouring, change))[
                0, 0
            ]
        )

    field = {f"depth_{which}": 4.0}
    assert lightness(hue, **field) < lightness(hue) - 0.03
    for other in colouring.SIX:
        if other != hue:
            assert lightness(other, **field) == pytest.approx(lightness(other), abs=0.004)
    assert lightness(hue, **{f"depth_{which}": -4.0}) > lightness(hue) + 0.02


def test_phase_turns_every_hue_alike():
    for hue in np.arange(0, 360, 40):
        out = colouring.colour(
            swatch(hue, 0.06), style("plain").colouring, colouring.Change(phase=10.0)
        )
        a, b = linear_srgb_to_oklab(out)[0, 1:]
        turned = (np.degrees(np.arctan2(b, a)) - hue + 180) % 360 - 180
        assert turned == pytest.approx(10, abs=0.3)


def test_density_darkens_full_colours_and_leaves_pale_ones_and_greys():
    def lightness(rgb: np.ndarray, density: float) -> float:
        out = colouring.colour(
            rgb, style("plain").colouring, colouring.Change(saturation=1.2, density=density)
        )
        return float(linear_srgb_to_oklab(out)[0, 0])

    full, pale, grey = (
        np.array([[0.9, 0.05, 0.03]], np.float32),
        swatch(30, 0.02),
        np.full((1, 3), 0.5, np.float32),
    )
    assert lightness(full, 1.0) < lightness(full, 0.0) - 0.03
    assert abs(lightness(pale, 1.0) - lightness(pale, 0.0)) < 0.004
    assert lightness(grey, 1.0) == pytest.approx(lightness(grey, 0.0), abs=1e-4)


def test_filters_lighten_their_own_colour_and_leave_grey():
    tints = {
        "red": (0.5, 0.08, 0.06),
        "green": (0.08, 0.4, 0.08),
        "yellow": (0.5, 0.45, 0.05),
        "orange": (0.5, 0.2, 0.04),
    }
    how = style("ink").colouring
    for name, rgb in tints.items():
        own, none = (
            colouring.monochrome(np.array([rgb], np.float32), how, f)[0, 0] for f in (name, "none")
        )
        assert own > none * 1.04, name
        blue, bare = (
            colouring.monochrome(np.array([[0.05, 0.1, 0.5]], np.float32), how, f)[0, 0]
            for f in (name, "none")
        )
        assert blue < bare
        grey = colouring.monochrome(np.full((1, 3), 0.4, np.float32), how, name)
        assert grey == pytest.approx(0.4, abs=1e-5)


@pytest.mark.parametrize("which", [s for s in styles() if style(s).colouring.toning is None])
def test_neutral_stays_neutral(which):
    grey = np.repeat(0.18 * np.exp2(np.linspace(-7, 3, 120))[:, None], 3, 1)
    lab = linear_srgb_to_lab(srgb_decode(through(Look(style=which), grey)).astype(np.float32))
    assert np.hypot(lab[:, 1], lab[:, 2]).max() < 0.35


def test_walnut_is_brown_in_the_middle_and_clean_at_the_ends():
    lab = linear_srgb_to_lab(
        srgb_decode(
            through(
                Look(style="walnut"), np.array([[1e-5] * 3, [0.06] * 3, [0.30] * 3, [1.43] * 3])
            )
        ).astype(np.float32)
    )
    chroma = np.hypot(lab[:, 1], lab[:, 2])
    assert chroma[1] > 6
    assert chroma[1] > chroma[2] > chroma[3]
    assert chroma[3] < 1.5


# ---- meter and sense -----------------------------------------------------------------------------
def test_meters_see_mid_grey_where_they_look():
    light = np.full((64, 96, 3), 0.18, np.float32)
    for mode in (Metering.HAND, Metering.FRAME, Metering.CENTRE, Metering.SPOT):
        assert metering.meter(light, mode, 3.0) == pytest.approx(0, abs=1e-4)
    # Snow: everything two stops up. Spot and centre make it grey; the frame believes half; by hand
    # nothing moves.
    assert metering.meter(light * 4, Metering.SPOT, 3.0) == pytest.approx(-2, abs=0.01)
    assert metering.meter(light * 4, Metering.CENTRE, 3.0) == pytest.approx(-2, abs=0.01)
    assert metering.meter(light * 4, Metering.FRAME, 3.0) == pytest.approx(-1, abs=0.02)
    assert metering.meter(light * 4, Metering.HAND, 3.0) == 0
    # A dark subject on the right: the spot opens up there and nowhere else.
    light[20:44, 66:90] = 0.18 / 8
    assert metering.meter(light, Metering.SPOT, 3.0, (0.81, 0.5)) == pytest.approx(3, abs=0.1)
    assert metering.meter(light, Metering.SPOT, 3.0, (0.2, 0.5)) == pytest.approx(0, abs=0.01)


def test_protecting_highlights_puts_them_just_under_the_clip_point():
    light = np.full((64, 96, 3), 0.18, np.float32)
    light[:6, :20] = 0.18 * 2**4.5
    gain = metering.meter(light, Metering.HIGHLIGHTS, 3.0)
    assert np.log2(light.max() * 2**gain / 0.18) == pytest.approx(3.0 - metering.MARGIN, abs=0.05)


def test_the_automatic_iso_keeps_its_range_and_the_guard_raises_its_floor():
    sensor = HERON.sensor
    dark = [
        sense.expose(sensor, 3.0, sense.Programme(iso_least=125, iso_most=top))
        for top in (800, 3200, 12800)
    ]
    assert [e.iso for e in dark] == [800, 3200, pytest.approx(100 * 2.8**2 * 125 / 2**3.0)]
    assert dark[0].time > dark[1].time > dark[2].time
    for e in dark:  # ISO 2721: N^2 / t = 2^EV x ISO / 100, whatever was limited
        assert e.aperture**2 / e.time == pytest.approx(2**3.0 * e.iso / 100)
    assert sense.expose(sensor, 14.0, sense.Programme(2, 0, 125, 12800)).iso == 500
    assert sense.expose(sensor, 14.0, sense.Programme(0, 0, 1000, 12800)).iso == 1000


# ---- neighbourhood -------------------------------------------------------------------------------
def test_clarity_adds_local_contrast_without_halos():
    rng = np.random.default_rng(1)
    soft = (
        0.5 + 0.02 * cv2.GaussianBlur(rng.standard_normal((320, 480), np.float32), (0, 0), 4) * 14
    )
    more = clarified(soft, 0.55)
    less = clarified(soft, -0.55)
    assert more.std() > 1.25 * soft.std()
    assert less.std() < 0.85 * soft.std()
    step = np.full((320, 480), 0.15, np.float32)
    step[:, 240:] = 0.80
    lens = cv2.GaussianBlur(step, (0, 0), 0.8)
    changed = clarified(lens, 0.55) - lens
    assert np.abs(changed).max() < 0.02  # of full scale, on a hard edge, at full strength
    blurred = step + 0.55 * (step - cv2.GaussianBlur(step, (0, 0), 12))
    assert np.abs(blurred - step).max() > 5 * np.abs(changed).max()  # what a plain blur would do


@pytest.mark.parametrize(
    ("bits", "limited", "black", "white"),
    [(8, False, 0, 255), (8, True, 16, 235), (10, False, 0, 1023), (10, True, 64, 940)],
)
def test_code_values_are_those_of_the_standard(bits, limited, black, white):
    values = encode.code_values(np.array([0.0, 1.0, 0.5]), bits, limited)
    assert list(values[:2]) == [black, white]
    assert values[2] == pytest.approx((black + white) / 2, abs=0.51)
    x = np.linspace(0, 1, 5000, dtype=np.float32)
    assert len(np.unique(encode.quantised(x, bits, limited))) == white - black + 1
    assert np.abs(encode.quantised(x, bits, limited) - x).max() <= 0.5001 / (white - black)


def test_a_clip_is_rounded_only_when_asked():
    scene = flat_scene(0.3, (64, 96), ev100=14)
    look = HERON.interpret({"output": "clip_8", "range": "limited"})
    fine, rounded = (
        develop(scene, look, HERON.sensor, 96, as_written=w).encoded for w in (False, True)
    )
    steps = rounded * 219
    assert np.abs(steps - np.rint(steps)).max() < 1e-3
    assert np.abs(fine * 219 - np.rint(fine * 219)).max() > 0.2


def test_encoding_is_that_of_the_standard():
    x = np.linspace(0, 1, 999)
    assert srgb_encode(x) == pytest.approx(colour.cctf_encoding(x, function="sRGB"), abs=1e-6)


def test_strips_of_a_large_picture_leave_no_seam(monkeypatch):
    """The same picture in one go and in strips: equal where a stage looks near, and close where
    clarity looks far."""
    scene = scenes.load("boatyard")
    near = {"style": "linen", "noise_filter": 4, "sharpness": 3, "grain": "sand", "exposure": -1}
    for dials, most in ((near, 1), ({**near, "clarity": 3}, 6)):
        whole = rendered(scene, 960, **dials).pixels.astype(int)
        with monkeypatch.context() as patched:
            patched.setattr(pipeline, "MANY", 1)
            patched.setattr(pipeline, "TALL", 160)
            apart = np.abs(rendered(scene, 960, **dials).pixels - whole).max(-1)
        assert apart.max() <= most
        seams = apart[[k + side for k in range(160, 640, 160) for side in (-1, 0)]]
        assert seams.mean() <= apart.mean() + 0.05


def test_grain_that_repeats_has_no_seam():
    field = grain.unit_grain(256, 400, 4.0, 1.0, 5, repeats=True)
    joined = np.concatenate([field[-128:], field[:128]])
    across = np.abs(joined[127] - joined[128]).mean()
    assert across == pytest.approx(np.abs(np.diff(field, axis=0)).mean(), rel=0.1)


def darker_towards_the_corners(luma, look, part):
    """A stage that depends on the place, as nobody's sharpness does."""
    if not look.clarity:
        return
    far = part.where.down(part.top, len(luma))[:, None] ** 2 + part.where.across(luma.shape[1]) ** 2
    luma *= (1 - 0.5 * far).astype(np.float32)


@pytest.mark.parametrize("raw", [False, True])
def test_a_stage_that_knows_its_place_draws_one_picture_whole_and_at_100_percent(monkeypatch, raw):
    """A corner at 100 percent, strips of a large picture, and the whole are the same picture."""
    monkeypatch.setattr(local, "STAGES", (local.Local(("clarity",), darker_towards_the_corners),))
    shades = np.linspace(0.2, 0.8, 900 * 600 * 3).reshape(600, 900, 3).astype(np.float32)
    more = {"headroom": 3.0, "photosites": 900, "ev100": None} if raw else {"finished": True}
    scene = replace(flat_scene(), frame=Held(shades), place=(0.95, 0.9), **more)
    look = Look(clarity=0.1, noise_filter=0, colour_filter=0)
    whole = develop(scene, look, HERON.sensor, 900)
    left, top, width, height = scene.crop(240, 160)
    assert (left + width, top + height) == (900, 600)
    close = develop(scene, look, HERON.sensor, 240, full_detail=True)
    here = whole.encoded[top : top + height, left : left + width]
    assert np.abs(close.encoded - here).max() < 1e-4
    plain = develop(scene, replace(look, clarity=0.0), HERON.sensor, 900).encoded
    assert whole.encoded[0, 0].mean() < 0.6 * plain[0, 0].mean()
    monkeypatch.setattr(pipeline, "MANY", 1)
    monkeypatch.setattr(pipeline, "STRIP", 900 * 64)
    assert np.abs(develop(scene, look, HERON.sensor, 900).encoded - whole.encoded).max() < 1e-4
