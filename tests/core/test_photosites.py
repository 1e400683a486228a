"""Noise of a mosaic, and what is left of texture when a picture is shown small, against LibRaw and
against averaging what is done at 100 percent."""

import io

import numpy as np
import pytest
import rawpy
from scipy import ndimage

from tests.builders import HERON, flat_scene, raw_of, rendered
from zesty_plum.core.colour.spaces import srgb_decode
from zesty_plum.core.develop import detail, grain, photosites, reduce_noise
from zesty_plum.core.develop.part import alone
from zesty_plum.core.look import Look
from zesty_plum.core.measure import expected
from zesty_plum.core.pictures.read import read


def averaged(image: np.ndarray, many: int) -> np.ndarray:
    """An image (h, w, n) averaged `many` by `many`."""
    height, width = (n // many * many for n in image.shape[:2])
    blocks = image[:height, :width].reshape(height // many, many, width // many, many, -1)
    return blocks.mean((1, 3))


def alike(image: np.ndarray) -> np.ndarray:
    """How much neighbours have in common, by channel."""
    image = image - image.mean((0, 1))
    return (image[:, 1:] * image[:, :-1]).mean((0, 1)) / image.var((0, 1))


@pytest.fixture(scope="module")
def libraw(tmp_path_factory) -> np.ndarray:
    """Unit noise of a mosaic demosaiced by LibRaw (adaptive homogeneity-directed)."""
    mosaic = 20_000 + 600 * np.random.default_rng(1).standard_normal((768, 1024))
    data = raw_of(mosaic.clip(0, 65535), tmp_path_factory.mktemp("raw"))
    with rawpy.imread(io.BytesIO(data)) as raw:
        made = raw.postprocess(
            demosaic_algorithm=rawpy.DemosaicAlgorithm.AHD,
            gamma=(1, 1),
            no_auto_bright=True,
            output_bps=16,
            user_wb=[1, 1, 1, 1],
            output_color=rawpy.ColorSpace.raw,
            user_sat=65535,
        )[16:-16, 16:-16].astype(float)
    return (made - made.mean((0, 1))) / 600


@pytest.mark.parametrize("many", [1, 4, 8])
def test_noise_is_that_of_a_mosaic(libraw, many):
    """Deviation within a tenth of LibRaw's at 100 percent and averaged; neighbours as alike."""
    ours = photosites.unit_noise(480, 640, 3, 1 / many)
    theirs = averaged(libraw, many) * many
    assert ours.std((0, 1)) == pytest.approx(theirs.std((0, 1)), rel=0.1)
    luma = [n @ [0.2126, 0.7152, 0.0722] for n in (ours, theirs)]
    assert luma[0].std() == pytest.approx(luma[1].std(), rel=0.1)
    assert np.abs(alike(ours) - alike(theirs)).max() < 0.15
    if many == 1:
        assert alike(ours).min() > 0.25


def test_black_is_not_lifted_by_noise():
    """Six and nine stops below grey at 100 percent, where noise at ISO 12800 is larger than the
    light."""
    for stops in (-6.0, -9.0):
        level = 0.18 * 2**stops
        noisy, quiet = (
            rendered(flat_scene(level, ev100=ev, size=(600, 900)), 900, detail=True, style="ledger")
            for ev in (1.0, 16.0)
        )
        assert noisy.exposure.iso == pytest.approx(12800, rel=0.01)
        light, dark = (srgb_decode(p.encoded).mean() for p in (noisy, quiet))
        assert light < 1.1 * dark + 2e-4


@pytest.mark.parametrize("strength", [0.6, 2.4, 4.8])
@pytest.mark.parametrize("many", [4, 6, 9])
def test_a_small_picture_has_of_filtered_noise_what_averaging_leaves(strength, many):
    noise = 0.01 * photosites.unit_noise(1152, 1152, 3) + 0.5
    full = reduce_noise.reduce_noise(noise, 0.01, strength, mosaic=True)
    small = 0.5 + 0.01 / many * photosites.unit_noise(400, 400, 4, 1 / many)
    ours = reduce_noise.reduce_noise(small, 0.01 / many, strength, pitch=1 / many, mosaic=True)
    assert ours.std() == pytest.approx(averaged(full, many).std(), rel=0.08)


@pytest.mark.parametrize("amount", [-0.96, 0.24, 0.96])
def test_a_small_picture_has_of_sharpness_what_averaging_leaves(amount):
    """A cloth and an edge sharpened at 100 percent and averaged 4 by 4, against the same averaged
    first; what finer threads leave of aliases cannot be known from it. At screen size little of a
    camera's sharpness is left."""
    rng = np.random.default_rng(5)
    lens = ndimage.gaussian_filter(rng.standard_normal((640, 640)), 1.6)
    y, x = np.mgrid[0:640, 0:640]
    edge = ndimage.gaussian_filter((x + 0.1 * y > 350) * 0.3, 0.7)
    full = (0.35 + 0.05 * lens / lens.std() + edge).astype(np.float32)

    def sharpened(image: np.ndarray, pitch: float) -> np.ndarray:
        out = np.ascontiguousarray(image, np.float32).copy()
        detail.shape(out, Look(sharpness=amount), alone(out.shape, 640, pitch))
        return out

    small = averaged(full[..., None], 4)[..., 0]
    truth = averaged(sharpened(full, 1.0)[..., None], 4)[..., 0]
    inner = slice(4, -4), slice(4, -4)
    ours, theirs = ((made - small)[inner] for made in (sharpened(small, 0.25), truth))
    assert ours.std() == pytest.approx(theirs.std(), rel=0.15)
    assert np.corrcoef(ours.ravel(), theirs.ravel())[0, 1] > 0.9
    assert theirs.std() < 2 / 255 < sharpened(full, 1.0).std()


@pytest.mark.parametrize("size", [1.5, 2.5, 4.0])
def test_grain_is_as_large_as_stated_and_falls_smoothly(size):
    """Autocorrelation half as high `size` photosites across; power by frequency never rises, so
    there are no blotches larger than the grain."""
    field = grain.unit_grain(1024, 1024, size, 1.0, 3)
    power = np.abs(np.fft.fft2(field)) ** 2
    line = np.fft.ifft2(power).real[0, :12]
    across = 2 * np.interp(-0.5, -line / line[0], np.arange(12))
    assert across == pytest.approx(size, rel=0.12)
    frequency = np.hypot(*np.meshgrid(np.fft.fftfreq(1024), np.fft.fftfreq(1024)))
    bands = [
        power[(frequency >= a) & (frequency < a + 0.04)].mean() for a in np.arange(0, 0.48, 0.04)
    ]
    assert (np.diff(bands) < 0.03 * bands[0]).all()


@pytest.mark.parametrize("size", [1.5, 2.5, 4.0])
@pytest.mark.parametrize("many", [4, 9])
def test_a_small_picture_has_of_grain_what_averaging_leaves(size, many):
    full = averaged(grain.unit_grain(1152, 1152, size, 1.0, 3)[..., None], many)[..., 0]
    assert grain.left(size, 1 / many) == pytest.approx(full.std(), rel=0.06)
    small = grain.unit_grain(256, 256, size, 1 / many, 3)
    assert alike(small[..., None]) == pytest.approx(alike(full[..., None]), abs=0.12)


def test_the_noise_told_is_what_a_flat_field_shows_and_falls_with_the_filter():
    """Noise by lightness against the deviation of a whole grey picture, at three ISOs."""
    for ev in (14, 6, 3):
        scene = flat_scene(0.18, ev100=ev, size=(300, 450))
        told = []
        for dials in (
            {},
            {"noise_filter": 4},
            {"grain": "salt"},
            {"style": "ledger", "sharpness": 3},
        ):
            look = HERON.interpret(dials)
            made = rendered(scene, 450, **dials).encoded
            inner = made[75:225, 112:338]  # in the corners there is more, as they are brightened
            lab = expected.encoded_to_lab(inner).reshape(-1, 3)
            found = expected.Noise(scene, look, HERON.sensor, 450).at(float(lab[:, 0].mean()))
            assert found[0] == pytest.approx(lab[:, 0].std(), rel=0.12), dials
            assert found[1] == pytest.approx(np.hypot(*lab[:, 1:].std(0)), rel=0.12), dials
            told.append(found[0])
        assert told[1] < 0.97 * told[0] < told[2]


@pytest.mark.parametrize("size", [None, 320])
def test_the_noise_of_a_raw_picture_is_estimated_and_filtered(tmp_path, size):
    """A mosaic of five greys with photons and electronics of a known law, decoded by LibRaw, at its
    own size and as a smaller copy."""
    steps = np.repeat([600, 1500, 4000, 9000, 20000], 128)[None] * np.ones((480, 1))
    law = 0.8 * steps + 900.0
    mosaic = steps + np.sqrt(law) * np.random.default_rng(4).standard_normal(steps.shape)
    scene = read(raw_of(mosaic.clip(0, 65535), tmp_path), "made.dng", "own-raw", size)
    assert scene.photosites == 640
    green = np.split(scene.pixels[..., 1], 5, axis=1)
    inner = [part[8:-8, 8:-8] for part in green]
    pitch = scene.size[0] / 640
    per_light, floor = scene.noise_law
    told = [pitch * np.sqrt(per_light * part.mean() + floor) for part in inner]
    seen = [part.std() / photosites.unit_noise(96, 96, 1, pitch)[..., 1].std() for part in inner]
    assert told == pytest.approx(seen, rel=0.15)
    dark = slice(8, -8), slice(8, scene.size[0] // 5 - 8)
    off, on = (rendered(scene, 640, noise_filter=n).encoded[dark].std((0, 1)) for n in (0, 4))
    assert (on < (0.6 if size is None else 0.75) * off).all()
