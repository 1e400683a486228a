"""What is seen at 100 percent: the part that tells most, or the one that somebody pulled there."""

import itertools

import numpy as np
import pytest

from tests.builders import HERON, flat_scene
from zesty_plum.core import scenes
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.scenes import telling


def test_the_place_has_an_edge_threads_and_an_even_tone():
    """Cloth, an even wall and a step between them stand in one corner of a frame of nothing."""
    rng = np.random.default_rng(2)
    light = np.full((600, 900), 0.18)
    light[:260, :220] = 0.18 * 2 ** rng.normal(0, 0.2, (260, 220))  # threads
    light[:260, 220:440] = 0.6  # an even tone beside them
    light[400:, 600:] = 0.0002  # black, which tells nothing
    x, y = telling.place(np.repeat(light[..., None], 3, -1), 200, 130)
    assert x * 900 == pytest.approx(220, abs=60)
    assert y * 600 < 270


@pytest.mark.parametrize("scene_id", scenes.index())
@pytest.mark.parametrize("width", [117, 208, 670])
def test_a_crop_of_a_plate_is_inside_it_and_no_grey_cloud(scene_id, width):
    scene = scenes.load(scene_id)
    left, top, across, down = scene.crop(width, round(width / 1.5))
    rows, columns = scene.plate.shape[:2]
    assert 0 <= left <= columns - across
    assert 0 <= top <= rows - down
    stops = np.log2(np.maximum(scene.detail(width, round(width / 1.5)).mean(-1), 1e-5))
    assert np.percentile(stops, 97) - np.percentile(stops, 3) > 0.4


def test_a_chosen_place_is_where_it_was_put_and_stays_inside():
    scene = flat_scene(size=(400, 600))
    for x, y in itertools.product((0.0, 0.3, 1.0), (0.0, 0.6, 1.0)):
        scene.place = (x, y)
        left, top, across, down = scene.crop(120, 80)
        assert left == min(max(round(x * 600) - 60, 0), 480)
        assert top == min(max(round(y * 400) - 40, 0), 320)
        assert (across, down) == (120, 80)
    assert develop(scene, Look(), HERON.sensor, 120, full_detail=True).pixels.shape == (80, 120, 3)
