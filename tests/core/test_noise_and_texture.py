"""Noise, its filter, sharpness and grain follow the laws they state."""

import cv2
import numpy as np
import pytest
from scipy import ndimage, stats

from tests.builders import HERON, flat_scene, recipe, rendered
from zesty_plum.core import scenes
from zesty_plum.core.develop import detail, grain, kernels, photosites, reduce_noise, sense
from zesty_plum.core.develop.part import alone
from zesty_plum.core.judge.verdicts import judge
from zesty_plum.core.look import Look
from zesty_plum.core.measure import texture

SENSOR = HERON.sensor


def sensed(field: np.ndarray, iso: float, seed: int, width: int) -> np.ndarray:
    """A field as the sensor sees it."""
    height = field.shape[0]
    noise, out = (
        photosites.unit_noise(*field.shape[:2], seed, width / SENSOR.width).reshape(height, -1),
        np.empty((height, field[0].size), np.float32),
    )
    scale = np.array([1e3, 1e-3, 0.0, 1.0])  # clip, dark, and the plain logarithm
    law = sense.noise_law(SENSOR, iso, width)
    kernels.sense_to_log(
        field.reshape(height, -1),
        noise,
        0,
        out,
        1.0,
        *law,
        np.stack([np.eye(3)] * 2),
        np.ones(3),
        scale,
        np.zeros((2, 4), np.float32),
        *(np.zeros(1, np.float32),) * 2,
    )
    return (np.exp2(out) - 1e-3).reshape(field.shape)


def sharpened(luma: np.ndarray, amount: float) -> np.ndarray:
    out = luma.astype(np.float32).copy()
    detail.shape(out, Look(sharpness=amount), alone(out.shape, out.shape[1]))
    return out


def grained(luma: np.ndarray, rms: float, size: float) -> np.ndarray:
    """What grain adds to a grey picture of brightness `luma`."""
    height, width = luma.shape
    picture = np.repeat(luma, 3, -1)
    pixels, marks = np.empty(picture.shape, np.uint8), np.empty(luma.shape, np.uint8)
    field = grain.unit_grain(height, width, size, 1.0, 1)
    out = np.empty_like(picture)
    kernels.finish(picture, luma, field, 0, rms, 1.0, out, pixels, marks)
    return out[:, 1::3] - luma


@pytest.mark.parametrize("iso", [125, 1000, 8000])
@pytest.mark.parametrize("level", [0.05, 0.18, 1.0])
def test_noise_is_photons_plus_electronics(iso, level):
    """Independent reference: electrons drawn by Poisson's law with Gaussian read noise on top; less
    than none reads as none. A mosaic leaves 0.99, 0.88 and 0.99 of it in red, green and blue."""
    noisy = sensed(np.full((400, 600, 3), level, np.float32), iso, 4, SENSOR.width)
    per_grey = SENSOR.electrons * SENSOR.base_iso / iso
    rng = np.random.default_rng(9)
    drawn = rng.poisson(level / 0.18 * per_grey, (400, 600)) + rng.normal(
        0, SENSOR.read_noise, (400, 600)
    )
    drawn = np.maximum(drawn, 0) * 0.18 / per_grey
    assert noisy.std((0, 1)) / drawn.std() == pytest.approx([0.99, 0.88, 0.99], rel=0.03)
    assert noisy.mean() == pytest.approx(drawn.mean(), rel=0.01)


@pytest.mark.parametrize(
    ("ev", "guard", "bias", "iso", "floor"),
    [
        (15, 0, 0, 125, 125),
        (15, 2, 0, 500, 500),
        (5, 0, 0, 3062.5, 125),
        (5, 2, 0, 3062.5, 500),
        (5, 0, 1, 6125, 125),
    ],
)
def test_iso_and_what_guard_costs(ev, guard, bias, iso, floor):
    made = sense.expose(SENSOR, ev, sense.Programme(guard, bias))
    assert (made.iso, made.floor) == pytest.approx((iso, floor))
    # The exposure equation of ISO 2721: N^2 / t = 2^EV x ISO / 100.
    assert made.aperture**2 / made.time == pytest.approx(
        2 ** (ev - bias) * made.iso / 100, rel=1e-6
    )


def test_the_filter_hardly_touches_low_iso_and_removes_noise_at_high_iso():
    bright, dim = flat_scene(ev100=15, size=(600, 900)), flat_scene(ev100=3, size=(600, 900))
    off, on = (
        rendered(dim, detail=True, noise_filter=n).encoded.std((0, 1)).mean() for n in (0, 5)
    )
    assert on < 0.55 * off
    clean = rendered(bright, 900).encoded, rendered(bright, 900, noise_filter=5).encoded
    assert np.abs(clean[0] - clean[1]).max() < 0.02


def test_too_much_filter_smears_texture():
    scene = scenes.load("corner")
    box = (slice(400, 570), slice(1275, 1390))  # the finer of the two cloths
    light = scene.pixels[box] / scene.pixels[box].mean((0, 1)) * 0.4
    encoded = np.ascontiguousarray(light, np.float32)
    kept = [reduce_noise.reduce_noise(encoded, 0.03, k).mean(-1).std() for k in (0, 1, 3, 6)]
    assert (np.diff(kept) < 0).all()
    assert kept[-1] < 0.75 * kept[0]


def test_the_filter_keeps_more_cloth_than_a_bilateral_one_that_leaves_as_much_noise():
    scene = scenes.load("corner")
    clean = np.clip((np.log2(scene.pixels / 0.18 + 2**-7) + 7) / 12, 0, 1).astype(np.float32)
    flat, cloth = (scene.mask == scene.regions[name] for name in ("flat", "texture"))
    noise = np.random.default_rng(1).normal(0, 0.02, clean.shape).astype(np.float32)

    def fine(picture: np.ndarray) -> np.ndarray:
        return (picture - cv2.blur(picture, (25, 25))).mean(-1)[cloth]

    def left_and_kept(out: np.ndarray) -> tuple[float, float]:
        thread = fine(clean)
        return (out - clean).mean(-1)[flat].std() / noise.mean(-1)[flat].std(), (
            fine(out) * thread
        ).sum() / (thread**2).sum()

    ours = [left_and_kept(reduce_noise.reduce_noise(clean + noise, 0.02, k)) for k in (1, 1.5, 2)]
    theirs = [
        left_and_kept(cv2.bilateralFilter(clean + noise, 7, k * 0.02, 3))
        for k in (10, 6, 4, 3, 2, 1.5, 1)
    ]
    for left, kept in ours:
        assert kept > np.interp(left, *np.transpose(theirs)) + 0.01


def test_the_noise_of_a_finished_picture_is_estimated():
    y, x = np.mgrid[0:300, 0:400]
    clean = np.repeat((0.3 + 0.2 * np.sin(x / 60) + y / 3000)[..., None], 3, -1)
    noisy = clean + np.random.default_rng(5).normal(0, 0.02, clean.shape)
    assert reduce_noise.present(noisy.astype(np.float32)) == pytest.approx(0.02, rel=0.1)


def test_sharpness_overshoots_but_within_its_bound_and_minus_softens():
    edge = (
        np.repeat(np.where(np.arange(400) < 200, 0.3, 0.7)[None, :, None], 40, 0)
        .repeat(3, -1)
        .astype(np.float32)
    )
    edge = np.stack([ndimage.gaussian_filter(edge[..., k], (0, 0.7)) for k in range(3)], -1)
    edge = edge[..., 0]
    tops = [sharpened(edge, a).max() - 0.7 for a in (0.24, 0.48, 0.96)]
    assert (np.diff([0, *tops]) > 0.002).all()
    # However strong, it ends at a bound that is written down: 6 percent of full scale.
    assert sharpened(edge, 4000).max() - 0.7 == pytest.approx(0.06, abs=0.002)
    slope = [np.abs(np.diff(sharpened(edge, a)[20])).max() for a in (-0.96, 0, 0.96)]
    assert slope[0] < slope[1] < slope[2]


def test_the_slanted_edge_gives_the_lens_and_then_what_sharpness_adds():
    """Without a change, half the contrast of a Gaussian of 0.7 pixels: exp(-2 pi^2 s^2 f^2) =
    1/2."""
    assert texture.edge(Look()) == pytest.approx(
        (0, np.sqrt(np.log(2) / 2) / (np.pi * texture.LENS)), abs=0.004
    )
    soft, plain, crisp = (texture.edge(Look(sharpness=s)) for s in (-0.5, 0.0, 0.5))
    assert soft[1] < plain[1] < crisp[1]
    assert soft[0] < 1e-4
    # The edge is a step of 0.4 seen by a lens; what is added is its difference from a wider one.
    away = np.linspace(0, 6, 600)
    sharp, wide = (stats.norm.cdf(away / s) for s in (texture.LENS, np.hypot(texture.LENS, 1)))
    added = 0.5 * 0.4 * (sharp - wide)
    beyond = (0.4 * (sharp - 1) + added * 0.06 / (0.06 + added)).max()  # bounded softly
    assert crisp[0] == pytest.approx(beyond, rel=0.1)
    # At the band's own frequency, a small change is (1 + k (1 - blur)) of the contrast: Gaussian of
    # one pixel.
    slight = texture.edge(Look(sharpness=0.05))[1]
    f = plain[1]
    gain = 0.05 * (1 - np.exp(-2 * np.pi**2 * f**2))
    fall = 4 * np.pi**2 * texture.LENS**2 * f  # of the logarithm of the contrast, by frequency
    assert slight - f == pytest.approx(gain / fall, rel=0.2)


@pytest.mark.parametrize("place", ["flour", "salt", "sand", "grit"])
def test_grain_has_the_stated_strength_at_mid_grey(place):
    grey = np.full((400, 1200), 0.5, np.float32)
    look = HERON.interpret({"grain": place})
    change = grained(grey, look.grain, look.grain_size)
    assert change.std() == pytest.approx(look.grain, rel=0.02)
    assert stats.kurtosis(change.ravel()) == pytest.approx(0, abs=0.15)


def test_grain_spares_black_and_white():
    ends = np.concatenate([np.zeros((20, 200)), np.ones((20, 200))]).astype(np.float32)
    assert np.abs(grained(ends, 0.05, 0.002)).max() < 1e-6


def test_same_seed_same_bytes():
    scene = scenes.load("workshop")
    dials = {"grain": "sand", "noise_filter": 3, "sharpness": 1}
    first, again, other = (rendered(scene, seed=s, **dials).pixels for s in (7, 7, 8))
    assert first.tobytes() == again.tobytes()
    assert first.tobytes() != other.tobytes()


def test_what_the_filter_keeps_is_told_as_it_is_at_100_percent():
    """Against cloth and noise of LibRaw's kind put through the filter: at ISO 3200 the strongest
    filter but one leaves half of a fine cloth, and at ISO 125 most of it."""
    high, low = (texture.kept(HERON.interpret({"noise_filter": 4}), SENSOR, i) for i in (3200, 125))
    assert high == pytest.approx(0.49, abs=0.05)
    assert low > 0.8


def test_a_strong_sharpness_is_told_as_a_halo():
    scene = scenes.load("corner")
    said = {
        k: [v.rule for v in judge(scene, recipe(sharpness=k, clarity=c))]
        for k, c in ((1, 0), (3, 3))
    }
    assert "halo" not in said[1]
    assert "halo" in said[3]
