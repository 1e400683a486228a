"""Softening takes fine texture from skin, and nothing from eyes, hair, cloth and form."""

import cv2
import numpy as np
import pytest

from tests.builders import HERON, rendered
from zesty_plum.core import scenes
from zesty_plum.core.colour.spaces import LUMA_709
from zesty_plum.core.develop import soften
from zesty_plum.core.measure import texture


def fine(pixels: np.ndarray) -> np.ndarray:
    luma = (pixels / 255) @ LUMA_709
    return luma - cv2.GaussianBlur(luma, (0, 0), 6)


@pytest.mark.parametrize("scene_id", ["workshop", "boatyard"])
def test_pores_go_and_eyes_and_lashes_stay(scene_id):
    """On the plate of a face: of the fine texture of skin slight leaves less, strong still less;
    where the picture is dark or colourless, as eyes and lashes are, it stays."""
    scene = scenes.load(scene_id)
    off, slight, strong = (
        rendered(scene, 640, detail=True, softening=k).pixels for k in ("off", "slight", "strong")
    )
    left, top, width, height = scene.crop(640, scene.height_at(640))
    mask = scene.plate_mask[top : top + height, left : left + width]
    skin = cv2.erode((mask == scene.regions["skin"]).astype(np.uint8), np.ones((25, 25))) > 0
    flat = skin & (np.abs(fine(off)) < 0.03)
    spread = [fine(p)[flat].std() for p in (off, slight, strong)]
    assert spread[1] < 0.85 * spread[0]
    assert spread[2] < 0.75 * spread[0]
    dark = (off @ LUMA_709) < 45  # lashes and pupils
    assert dark.sum() > 300
    assert fine(strong)[dark].std() > 0.93 * fine(off)[dark].std()


def test_what_is_told_of_it_is_what_it_does():
    looks = [HERON.interpret({"softening": k}) for k in ("off", "slight", "strong")]
    kept = [texture.softened(look) for look in looks]
    assert kept[0] == (1, 1)
    skins, others = zip(*kept, strict=True)
    # "Slight takes about a quarter of skin's fine texture, strong half."
    assert skins[1] == pytest.approx(3 / 4, abs=0.05)
    assert skins[2] == pytest.approx(1 / 2, abs=0.05)
    assert min(others) > 0.99


def test_skins_from_light_to_very_dark_count_and_other_things_do_not():
    """Encoded colours of measured skins (of four kinds) and of leaves, sky, brick and cloth."""
    skins = [(0.93, 0.78, 0.70), (0.80, 0.62, 0.52), (0.55, 0.38, 0.29), (0.33, 0.22, 0.17)]
    others = [
        (0.35, 0.45, 0.20),
        (0.45, 0.60, 0.85),
        (0.70, 0.25, 0.20),
        (0.5, 0.5, 0.5),
        (0.95, 0.80, 0.25),
    ]
    for colours, least, most in ((skins, 0.6, 1.0), (others, 0.0, 0.15)):
        for colour in colours:
            field = np.ones((64, 64, 3), np.float32) * np.float32(colour)
            assert least <= soften.skin(field).mean() <= most, colour
