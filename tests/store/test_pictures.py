"""A picture of one's own at 100 percent: its own pixels, wherever the glass is put."""

from contextlib import closing

import numpy as np
import pytest
from skimage.filters import gaussian

from tests.builders import HERON, file_of
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.store import database
from zesty_plum.store.pictures import Pictures
from zesty_plum.store.place import prepared

NOW = "2026-10-03T18:00:00Z"


@pytest.fixture(scope="module")
def scene(tmp_path_factory):
    """4800 x 3200 pixels of upright edges half a pixel soft, 97 pixels apart, one fine field."""
    wide = np.where(np.arange(4800) // 97 % 2, 90.0, 160.0)
    pixels = np.repeat(gaussian(wide, 0.6)[None], 3200, 0)
    rng = np.random.default_rng(3)
    pixels[1900:2300, 3000:3500] = 120 + 40 * rng.random((400, 500)).round()
    data = file_of(np.repeat(pixels[..., None], 3, -1).astype(np.uint8), "JPEG", quality=96)
    place = prepared(tmp_path_factory.mktemp("own"))
    pictures = Pictures(place.pictures, place.scratch)
    with closing(database.connect(place.database)) as db:
        own = pictures.add(db, data, "pier.jpg", NOW)
        yield pictures.scene(db, own.id)


def test_sharpness_on_a_large_picture_is_a_pixel_wide(scene):
    """Its halo lies within two pixels of the edge at 100 percent, and is hardly there in a copy
    that fits a screen."""
    scene.place = (0.2, 0.1)
    plain, crisp = (
        develop(scene, HERON.interpret({"sharpness": k}), HERON.sensor, 600, full_detail=True)
        for k in (0, 3)
    )
    change = np.abs(crisp.encoded - plain.encoded).mean((0, 2))
    edges = np.flatnonzero(np.abs(np.diff(plain.encoded.mean((0, 2)))) > 0.04)
    near = np.abs(np.arange(600)[:, None] - edges[None]).min(1) <= 3
    assert change[near].max() > 0.02
    assert change[~near].max() < 0.004
    small = [
        develop(scene, HERON.interpret({"sharpness": k}), HERON.sensor, 600).encoded for k in (0, 3)
    ]
    assert np.abs(small[1] - small[0]).max() < 0.5 * change.max()


def test_the_glass_shows_its_own_pixels_where_it_is_put_and_by_itself_where_most_is_told(scene):
    assert scene.photosites == 4800
    assert scene.size[0] < 4800
    scene.place = None
    left, top, width, height = scene.at_full().crop(600, 400)
    assert left < 3500
    assert left + width > 3000  # the fine field is in it, with edges beside it
    assert top < 2300
    assert top + height > 1900
    scene.place = (0.0, 0.0)
    seen = develop(scene, HERON.interpret({}), HERON.sensor, 600, full_detail=True)
    steps = np.flatnonzero(np.abs(np.diff(seen.encoded.mean((0, 2)))) > 0.04)
    assert np.diff(steps[np.diff(steps, prepend=-9) > 2]) == pytest.approx(97, abs=1)
