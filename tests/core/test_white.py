"""Colour temperatures, shifts and adaptation against colour-science."""

from dataclasses import replace

import colour
import numpy as np
import pytest

from zesty_plum.core.bodies import body
from zesty_plum.core.colour import white
from zesty_plum.core.colour.spaces import REC2020_TO_XYZ, SRGB_TO_XYZ
from zesty_plum.core.develop import balance, point
from zesty_plum.core.look import Balance, Look
from zesty_plum.core.styles import style

KELVIN = body("heron-m2").dial("kelvin")


def mired_of(xy) -> tuple[float, float]:
    kelvin, duv = colour.temperature.uv_to_CCT_Ohno2013(
        colour.UCS_to_uv(colour.XYZ_to_UCS(colour.xy_to_XYZ(xy)))
    )
    return 1e6 / kelvin, duv


@pytest.mark.parametrize("kelvin", [2500, 2700, 3200, 3700])
def test_warm_lights_lie_on_the_black_body_line(kelvin):
    xy = (
        colour.temperature.CCT_to_xy_Planck1900(kelvin)
        if hasattr(colour.temperature, "CCT_to_xy_Planck1900")
        else None
    )
    uv = colour.temperature.CCT_to_uv_Planck1900(kelvin) if xy is None else white.xy_to_uv(xy)
    assert np.allclose(white.light_uv(1e6 / kelvin), uv, atol=2e-4)


@pytest.mark.parametrize("kelvin", [4300, 5300, 6500, 7500, 10000])
def test_cool_lights_lie_on_the_daylight_line(kelvin):
    assert np.allclose(
        white.white_xy(1e6 / kelvin), colour.temperature.CCT_to_xy_CIE_D(kelvin), atol=1e-4
    )


def test_kelvin_steps_are_even_in_mired():
    # Measured by an independent temperature meter; the blend between the two lines bends steps a
    # little.
    meter = np.array([mired_of(white.white_xy(c.sets["light_mired"]))[0] for c in KELVIN.choices])
    steps = np.diff(meter)
    # Daylight's nominal temperature is itself up to 4 mired off by this meter above 250 mired.
    away = np.abs(np.array([c.sets["light_mired"] for c in KELVIN.choices])[:-1] - 250) > 25
    assert np.allclose(steps[away], -6, atol=0.35)
    assert (steps < 0).all()


def test_a_shift_step_is_four_mired_and_a_thousandth_of_duv_at_every_temperature():
    for kelvin in (2800, 5300, 8000):
        base = mired_of(white.white_xy(1e6 / kelvin))
        moved = mired_of(white.white_xy(1e6 / kelvin - 4, 0.001))
        assert moved[0] - base[0] == pytest.approx(-4, abs=0.3)
        assert moved[1] - base[1] == pytest.approx(0.001, abs=1e-4)


@pytest.mark.parametrize(
    ("kelvin", "duv"), [(2700, 0.0), (3400, 0.004), (5600, -0.003), (9000, 0.006)]
)
def test_reading_a_light_back(kelvin, duv):
    mired, off = white.mired_and_duv(white.white_xy(1e6 / kelvin, duv))
    assert mired == pytest.approx(1e6 / kelvin, abs=0.3)
    assert off == pytest.approx(duv, abs=1e-4)


@pytest.mark.parametrize("kelvin", [2700, 5300, 9000])
def test_adaptation_matches_colour_science(kelvin):
    xy = white.white_xy(1e6 / kelvin)
    theirs = colour.adaptation.matrix_chromatic_adaptation_VonKries(
        colour.xy_to_XYZ(xy), colour.xy_to_XYZ((0.3127, 0.3290)), transform="CAT16"
    )
    assert np.allclose(white.adapt(xy), theirs, atol=1e-6)


@pytest.mark.parametrize(
    ("name", "ours"), [("ITU-R BT.2020", REC2020_TO_XYZ), ("sRGB", SRGB_TO_XYZ)]
)
def test_spaces_match_colour_science(name, ours):
    assert np.allclose(ours, colour.RGB_COLOURSPACES[name].matrix_RGB_to_XYZ, atol=2e-4)


def test_a_card_under_any_light_comes_out_neutral():
    for kelvin, duv in ((2500, 0.0), (4000, 0.002), (7000, -0.004)):
        xy = white.white_xy(1e6 / kelvin, duv)
        card = np.linalg.inv(REC2020_TO_XYZ) @ colour.xy_to_XYZ(xy)
        neutral = balance.balance_matrix((1e6 / kelvin, duv)) @ card
        assert np.allclose(neutral, neutral[1], rtol=1e-6)


def card_through(kelvin: float, mode: str, **shift: float) -> np.ndarray:
    """CIE L*a*b* of a grey card under a light, developed by Plain."""
    light = 1e6 / kelvin
    look = replace(Look(balance=Balance(mode), light_mired=light), **shift)
    card = np.linalg.inv(REC2020_TO_XYZ) @ colour.xy_to_XYZ(white.white_xy(light)) * 0.18
    matrix = balance.look_matrix(look, (light, 0.0), (light, 0.0))
    made = point.Point(look, style("plain"), 3.0, point.as_tuple(matrix), False)
    shown = made.develop((matrix @ card).astype(np.float32)[None])[0].astype(float)
    return colour.XYZ_to_Lab(colour.sRGB_to_XYZ(shown))


@pytest.mark.parametrize("mode", ["auto", "fixed", "grey_card"])
@pytest.mark.parametrize(
    "step",
    [{"shift_mired": 4.0}, {"shift_mired": -4.0}, {"shift_duv": 0.001}, {"shift_duv": -0.001}],
)
def test_a_step_of_shift_looks_the_same_in_every_light(mode, step):
    """Size by CIEDE2000, direction by hue, from 2500 to 10000 K; so do six steps."""
    for many in (1, 6):
        shift = {k: v * many for k, v in step.items()}
        sizes, hues = [], []
        for kelvin in (2500, 3200, 4100, 5300, 6500, 10000):
            plain, moved = card_through(kelvin, mode), card_through(kelvin, mode, **shift)
            sizes.append(float(colour.delta_E(plain, moved)))
            hues.append(np.degrees(np.arctan2(moved[2] - plain[2], moved[1] - plain[1])))
        assert min(sizes) > 0.5 * many
        assert max(sizes) < 1.25 * min(sizes)
        assert np.ptp(np.unwrap(hues, period=360)) < 15


def test_the_light_said_to_come_out_neutral_does():
    for look in (Look(shift_mired=24.0, shift_duv=-0.006), Look(shift_mired=-16.0)):
        light = balance.neutral_light(look, (200.0, 0.002), (190.0, 0.0))
        grey = balance.look_matrix(look, (200.0, 0.002), (190.0, 0.0)) @ (
            np.linalg.inv(REC2020_TO_XYZ) @ colour.xy_to_XYZ(white.white_xy(*light))
        )
        assert np.allclose(grey, grey[1], rtol=2e-3)
        assert (light[0] < 200) == (look.shift_mired > 0)


def test_keep_warm_leaves_daylight_alone_and_lamps_warm():
    assert balance.keep_warm(180) == 180
    assert 250 < balance.keep_warm(370) < 370
