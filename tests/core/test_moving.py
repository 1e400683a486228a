"""What time does: the exposure programme, things that move, hands that shake."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import uniform_filter1d

from tests.builders import HERON, flat_scene
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop import moving, sense
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.scenes.scene import Move

WALK = Move("people", 1.5, 0, 1e9, 3.0)


# ---- the programme -------------------------------------------------------------------------------
@given(
    st.sampled_from(list(bodies().values())),
    st.floats(-6, 20),
    st.sampled_from([0.0, 2.8, 8.0]),
    st.sampled_from([0.0, 1 / 8, 1 / 60, 1 / 500]),
    st.sampled_from([0.0, 24.0, 50.0]),
    st.sampled_from([(0, 0), (0, 800), (1600, 0)]),
    st.integers(0, 2),
)
def test_every_exposure_keeps_its_limits_and_says_by_how_much_it_is_off(
    camera, ev, aperture, slowest, rate, isos, guard
):
    """N^2 / t = 2^EV x ISO / 100 (ISO 2721), a grey filter counted in; off only at the limits."""
    sensor = camera.sensor
    asked = sense.Programme(guard, 0.0, *isos, aperture, slowest, rate)
    made = sense.expose(sensor, ev, asked)
    light = 2.0 ** (ev - made.filter) * made.iso / 100
    assert math.log2(light / (made.aperture**2 / made.time)) == pytest.approx(made.off, abs=1e-6)
    least, most = sensor.base_iso * 2**guard, isos[1] or sensor.top_iso
    assert max(least, isos[0]) - 0.01 <= made.iso <= max(most, least, isos[0]) + 0.01
    if aperture:
        assert made.aperture == aperture
    else:
        assert sensor.widest * 0.84 <= made.aperture <= sensor.narrowest * 1.19
    if rate:
        assert made.time == pytest.approx(0.5 / rate)  # 180 degrees
    else:
        assert sensor.fastest <= made.time <= sense.LONGEST
        assert made.filter == 0
        if made.time > (slowest or sense.SLOWEST) * 1.001:
            assert made.iso == pytest.approx(max(min(most, sensor.top_iso), least, isos[0]))
    if abs(made.off) > 1e-6 and rate:
        assert made.off < 0  # a filter keeps light away, nothing brings more
        assert made.iso == pytest.approx(max(min(most, sensor.top_iso), least, isos[0]))
    elif abs(made.off) > 1e-6:
        assert made.time in (pytest.approx(sensor.fastest), pytest.approx(sense.LONGEST))


def test_a_clip_in_the_sun_wants_a_grey_filter():
    """EV 15, f/2.8, ISO 100, 1/50 s: 6.4 stops."""
    sensor = replace(HERON.sensor, base_iso=100)
    made = sense.expose(sensor, 15, sense.Programme(aperture=2.8, rate=25))
    assert made.filter == 7
    assert made.filter - math.log2(made.iso / 100) == pytest.approx(6.4, abs=0.02)
    free = sense.expose(sensor, 15, sense.Programme(rate=25))
    assert 5.6 * 2**-0.25 <= free.aperture <= 5.6 * 2**0.25


# ---- blur ----------------------------------------------------------------------------------------
def test_movement_is_as_long_as_arithmetic_says():
    """1.5 m/s across at 5 m, 50 mm, 1/125 s, photosites of 6 um: 20 of them."""
    across = 36 * (5 - 0.05) / 50
    way = replace(WALK, across=across).way(1 / 125)
    assert way / across * 36 / 0.006 == pytest.approx(20, abs=0.5)
    sways = replace(WALK, reach=0.2)
    assert sways.way(0.001) == pytest.approx(0.0015, rel=0.01)
    assert sways.way(60) == pytest.approx(0.2)


def test_a_hand_blurs_by_the_rule_of_one_over_the_focal_length():
    """0.03 mm on a frame 36 mm wide; a stop of stabilisation halves it."""
    scene = replace(flat_scene(), lens=50)
    assert moving.shake(scene, 1 / 50, 0) * 36 == pytest.approx(0.03, rel=0.05)
    assert moving.shake(scene, 1 / 50, 3) == pytest.approx(moving.shake(scene, 1 / 50, 0) / 8)
    assert moving.shake(scene, 4, 0) < 100 * moving.shake(scene, 1 / 50, 0)


@pytest.mark.parametrize("length", [5.0, 32.0, 150.0])
def test_drawing_out_is_a_box_along_the_way(length):
    """SciPy's box filter where the way is level; a step becomes a ramp as long as the way."""
    rng = np.random.default_rng(5)
    picture = np.repeat(uniform_filter1d(rng.random((12, 600)), 15, 1)[..., None], 3, 2)
    picture = picture.astype(np.float32)
    many = 2 ** math.ceil(math.log2(max(length, 2)))
    box = uniform_filter1d(picture, round(length), 1)[:, 200:400]
    ours = moving.drawn_out(picture, length, 0)[:, 200:400]
    assert np.abs(ours - box).max() < 0.03 + 0.1 / many
    step = np.zeros((300, 600, 3), np.float32)
    step[:, 300:] = 1
    ramp = moving.drawn_out(step, length, 50)[150, :, 0]
    wide = ((ramp > 0.05) & (ramp < 0.95)).sum()
    assert wide == pytest.approx(0.9 * length * math.cos(math.radians(50)), abs=2)
    assert ramp[300] == pytest.approx(0.5, abs=0.15 + 0.5 / length)


def square(speed, heading=0.0, within=False, lens=0.0):
    """A bright square before an even grey, moving; its map."""
    light = np.full((320, 480, 3), 0.1, np.float32)
    numbers = np.zeros((320, 480), np.uint8)
    light[130:190, 210:270], numbers[130:190, 210:270] = 0.5, 1
    move = Move("people", speed, heading, 1e9, 1.0, within)
    return replace(
        flat_scene(ev100=10), frame=Held(light), moves=(move,), moving=numbers, lens=lens
    )


def test_what_moves_keeps_its_light_and_uncovers_what_is_behind():
    scene = square(2.0)
    blurred = moving.in_time(scene, scene.pixels, scene.moving, 0.05, 0, 480)
    assert (blurred - 0.1).sum() == pytest.approx((scene.pixels - 0.1).sum(), rel=0.02)
    row = blurred[160, :, 0] - 0.1
    assert np.flatnonzero(row > 0.01)[[0, -1]] == pytest.approx([210 - 24, 270 + 24], abs=4)
    assert np.abs(blurred[:100] - 0.1).max() < 1e-3  # not up or down


def test_water_moves_within_its_outline():
    scene = square(2.0, within=True)
    blurred = moving.in_time(scene, scene.pixels, scene.moving, 0.05, 0, 480)
    assert np.abs(blurred - scene.pixels)[:, :200].max() < 1e-5


def test_a_picture_is_blurred_by_the_time_that_it_takes():
    """A short time changes nothing, not a bit of it; a long one smears, on the frame as at 100
    percent, and the next picture with that time is the same."""
    scene, still = square(1.0, lens=40), replace(square(0.0), moves=())
    fast = Look(slowest=1 / 4000, iso_most=12800)
    slow = Look(aperture=16.0, iso_most=125)
    quick = (develop(s, fast, HERON.sensor, 480).encoded for s in (scene, still))
    assert np.array_equal(*quick)
    smeared = [develop(scene, slow, HERON.sensor, 480).encoded for _ in range(2)]
    assert np.array_equal(*smeared)
    assert np.abs(smeared[0] - develop(still, slow, HERON.sensor, 480).encoded).max() > 0.1


def test_people_in_a_scene_blur_at_a_quarter_of_a_second():
    """In the scenes that ship, at 100 percent too: fine detail of what moves goes, of what stands
    still it stays but for the hand."""
    scene = scenes.load("quayside")
    slow, fast = Look(slowest=0.25, iso_most=125, aperture=16.0), Look()
    steady = replace(HERON.sensor, steady=12.0)
    pictures = [develop(scene, look, steady, 960).encoded for look in (slow, fast)]
    fine = [np.abs(np.diff(p[..., 1], axis=1))[:, :959] for p in pictures]
    mask = scene.moving[::1, ::1]
    rows = np.linspace(0, mask.shape[0] - 1, pictures[0].shape[0]).astype(int)
    columns = np.linspace(0, mask.shape[1] - 1, 959).astype(int)
    person = mask[np.ix_(rows, columns)] == 1
    assert fine[0][person].mean() < 0.7 * fine[1][person].mean()


# ---- long exposures ------------------------------------------------------------------------------
def night(celsius=20.0):
    return replace(flat_scene(0.02, size=(240, 360), ev100=0), celsius=celsius)


def pattern(seconds, celsius=20.0, **more):
    """What two long exposures of different noise have in common beside a short one's, in light."""
    asked = Look(aperture=2.8, iso_most=125.0 * 64, **more)
    scene = night(celsius)
    scene.ev100 = math.log2(2.8**2 / seconds) - math.log2(64 * 1.25)
    kept = []
    for seed in (1, 2):
        made = develop(scene, asked, HERON.sensor, 360, seed, full_detail=True)
        assert made.exposure.time == pytest.approx(seconds, rel=0.01)
        kept.append(made.encoded - made.encoded.mean((0, 1)))
    return float((kept[0] * kept[1]).mean()), made.exposure


def test_warm_photosites_show_after_long_times_and_a_dark_picture_takes_them_off():
    """What stays the same from picture to picture grows with time and warmth."""
    short, _ = pattern(0.3)
    second, _ = pattern(1.0)
    eight, _ = pattern(8.0)
    warm, _ = pattern(8.0, celsius=33.0)
    assert abs(short) < 0.2 * second
    assert second < 0.5 * eight < 0.5 * warm
    clean, exposure = pattern(8.0, dark_frame=True)
    assert abs(clean) < 0.02 * eight
    assert exposure.dark == exposure.time
    none = develop(night(), Look(dark_frame=True), HERON.sensor, 96).exposure
    assert none.time < sense.LONG
    assert none.dark == 0


def test_warmth_doubles_the_pattern_every_six_and_a_half_degrees():
    exposure = sense.Exposure(2.8, 2.0, 800, 125)
    cold, warm = (sense.warm_pattern(HERON.sensor, exposure, c) for c in (10.0, 16.5))
    assert warm == pytest.approx(2 * cold)
    # Electrons to light by the sensor's own full scale: 3750 at mid grey and base ISO.
    at_25 = sense.warm_pattern(HERON.sensor, exposure, 25 - sense.WARMS * 2)
    assert at_25 == pytest.approx(2.0 * 0.18 * 800 / (3750 * 125))
