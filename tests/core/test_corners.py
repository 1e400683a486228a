"""Light falls off towards the corners as lenses make it, and is made up for as far as asked."""

from dataclasses import replace

import numpy as np
import pytest

from tests.builders import HERON, flat_scene
from zesty_plum.core.colour.spaces import srgb_decode
from zesty_plum.core.develop import tone
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.styles import style

SIZE = (320, 480)
BIG = replace(HERON.sensor, electrons=1e6, read_noise=0.01)  # with no noise to speak of


def light(look: Look, lens: float, sensor=BIG, ev100: float = 12.0) -> np.ndarray:
    """Scene light that a flat field comes out as."""
    scene = replace(flat_scene(0.1, SIZE, ev100), lens=lens)
    shown = srgb_decode(develop(scene, look, sensor, SIZE[1]).encoded[..., 1].astype(float))
    return tone.undo(shown, style("plain").tone, sensor.headroom) / 0.1


@pytest.mark.parametrize("lens", [24.0, 40.0, 85.0])
@pytest.mark.parametrize("aperture", [2.8, 5.6])
def test_off_is_cos4_and_the_rims_of_the_lens(lens, aperture):
    """Closed form at every place: cos^4 of the angle on a frame 36 by 24 mm, and of the rims 0.8
    stops in the corner wide open, by the square of the f-number and the fourth power of the way."""
    seen = light(Look(corners=0.0, aperture=aperture), lens)
    y, x = (np.arange(n) + 0.5 - n / 2 for n in SIZE)
    way = np.hypot(y[:, None], x[None]) / np.hypot(*(n / 2 for n in SIZE))
    angle = np.arctan(way * np.hypot(36, 24) / 2 / lens)
    rims = BIG.vignette * (BIG.widest / aperture) ** 2 * way**4
    expected = np.cos(angle) ** 4 * 2.0**-rims
    inner = np.abs(seen / seen[160, 240] / expected - 1)
    assert np.percentile(inner, 99) < 0.02


def test_half_takes_half_of_the_stops_and_full_all():
    off, half, full = (
        np.log2(light(Look(corners=c, aperture=2.8), 35.0))[4:12, 4:12].mean() for c in (0, 0.5, 1)
    )
    assert full == pytest.approx(0, abs=0.02)
    assert half == pytest.approx(off / 2, abs=0.03)
    assert off < -1.2


def test_full_leaves_nothing_but_more_noise_in_the_corners():
    """Where f of the light arrives, photons leave 1 / f as much variance in what is brightened."""
    scene = replace(flat_scene(0.1, (640, 960), 5.0), lens=35.0)
    look, quiet = Look(corners=1.0, aperture=2.8), replace(HERON.sensor, read_noise=0.0)
    shown = develop(scene, look, quiet, 960).encoded[..., 1].astype(float)
    corner, middle = shown[:40, :60], shown[300:340, 450:510]
    assert corner.mean() == pytest.approx(middle.mean(), rel=0.02)
    way = np.hypot(300, 450) / np.hypot(320, 480)
    falls = np.cos(np.arctan(way * np.hypot(36, 24) / 2 / 35.0)) ** 4 * 2.0 ** (-0.8 * way**4)
    assert corner.var() / middle.var() == pytest.approx(1 / falls, rel=0.15)


def test_white_stays_white_up_to_the_corner():
    """A clipped corner is as bright as a clipped middle when all of it is made up for."""
    shown = develop(flat_scene(30.0, SIZE, 12.0), Look(corners=1.0), BIG, 480).encoded
    assert np.ptp(shown) < 1 / 255


def test_a_picture_that_was_taken_already_is_left_alone():
    scene = replace(flat_scene(0.5, SIZE), finished=True, ev100=None)
    a, b = (develop(scene, Look(corners=c), BIG, 480).encoded for c in (0.0, 1.0))
    assert np.array_equal(a, b)
