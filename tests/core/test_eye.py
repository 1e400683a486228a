"""What is said of a picture beside another is true of the pictures: pairs drawn at random, held
against scikit-image on the 8-bit pictures alone."""

import random
from functools import cache

import colour
import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab
from skimage.transform import resize

from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.judge.beside import in_words
from zesty_plum.core.measure.looking import look_at
from zesty_plum.core.recipe import make

SCENES = ("garden", "workshop", "painters", "boatyard", "beach")
PAIRS = 14  # of each scene
STYLES = ("plain", "bunting", "linen", "driftwood", "lamplight", "kelp", "marmalade", "ledger")
WIDTH = 360


def drawn(rng: random.Random):
    """A recipe as people make them: a style and a few turns."""
    camera = bodies()["heron-m2"]
    dials = {"style": rng.choice(STYLES)}
    for name in rng.sample(
        ["highlights", "shadows", "colour", "shift_amber", "shift_green", "exposure", "kelvin"], 3
    ):
        dials[name] = rng.choice(camera.dial(name).values)
    if "exposure" in dials:
        dials["exposure"] = rng.choice((-0.67, -0.33, 0.33, 0.67))
    if "kelvin" in dials:
        dials["white_balance"] = "kelvin"
        dials["kelvin"] = rng.choice([k for k in camera.dial("kelvin").values if 3000 < k < 8000])
    return make("x", "heron-m2", dials)


@cache
def places(name: str):
    """The scene's own light in stops from mid grey, and its neutral and skin parts."""
    scene = scenes.load(name)
    light = scene.frame[:] @ np.array([0.2627, 0.678, 0.0593], np.float32)
    height = round(WIDTH * light.shape[0] / light.shape[1])
    stops = np.log2(np.maximum(resize(light, (height, WIDTH), anti_aliasing=True), 1e-6) / 0.18)
    mask = resize(scene.mask, (height, WIDTH), order=0, preserve_range=True, anti_aliasing=False)
    inside = {k: mask == v for k, v in scene.regions.items()}
    skin = np.logical_or.reduce([m for k, m in inside.items() if k.startswith("skin")])
    return stops, inside["neutral"], skin


def seen(name: str, recipe):
    scene = scenes.load(name)
    pixels = develop(scene, recipe.look, recipe.camera.sensor, WIDTH).pixels
    lab = rgb2lab(pixels)
    stops, neutral, skin = places(name)
    assert lab.shape[:2] == stops.shape
    grey, light = lab[neutral][:, 1:].mean(0), pixels[neutral] / 255.0
    xyz = colour.sRGB_to_XYZ(light).mean(0)
    kelvin, duv = colour.temperature.XYZ_to_CCT_Ohno2013(xyz)
    middle = (np.abs(stops) < 1.2) & (lab[..., 0] > 5) & (lab[..., 0] < 97)
    skins = lab[skin].mean(0)
    return {
        "light": lab[..., 0].mean(),
        "warm": 1e6 / kelvin,
        "green": 1000 * duv,
        "colour": np.hypot(*np.moveaxis(lab[..., 1:] - grey, -1, 0)).mean(),
        "dark": np.percentile(lab[..., 0], 10),
        "bright": np.percentile(lab[..., 0], 90),
        "slope": np.polyfit(stops[middle], lab[..., 0][middle], 1)[0],
        "skin": np.degrees(np.arctan2(skins[2], skins[1])),
        "skin light": skins[0],
        "lab": lab,
    }


# The words for more and for less, what they are about, and the change that "much" has to reach, in
# the measure's own unit; half of it is what "a little" must not pass by far.
WORDS = [
    ("lighter", "darker", "light", 4.0),
    ("warmer", "cooler", "warm", 15.0),
    ("greener", "more magenta", "green", 3.6),
    ("fuller colours", "quieter colours", "colour", 1.5),
    ("more open shadows", "deeper shadows", "dark", 3.0),
    ("brighter highlights", "softer highlights", "bright", 3.0),
    ("firmer in the middle", "softer in the middle", "slope", 1.0),
    ("yellower", "redder", "skin", 4.0),
    ("skin lighter", "skin darker", "skin light", 4.0),
]


def spoken(words: list[str]):
    """(what it is about, sign, strength) of everything that is said."""
    for said in words:
        how = "much" if "much " in said else "little" if "a little " in said else ""
        plain = said.replace("much ", "").replace("a little ", "")
        for more, less, about, size in WORDS:
            for word, sign in ((more, 1), (less, -1)):
                if plain == word or (about == "skin" and plain == f"skin {word}"):
                    yield about, sign, how, size, said


@pytest.mark.parametrize("name", SCENES)
def test_words_agree_with_the_pictures_in_sign_and_rough_size(name):
    rng = random.Random(f"eye {name}")
    scene, wrong, told = scenes.load(name), [], 0
    for _ in range(PAIRS):
        pair = [drawn(rng) for _ in range(2)]
        words = in_words(*(look_at(scene, r, WIDTH, False).report for r in pair))
        first, other = (seen(name, r) for r in pair)
        if not words:
            assert deltaE_ciede2000(first["lab"], other["lab"]).mean() < 2
        for about, sign, how, size, said in spoken(words):
            told += 1
            change = (other[about] - first[about]) * sign
            least = -0.1 * size if how == "little" else 0
            if change <= least or (how == "much" and change < size * 0.4):
                wrong.append((said, round(change, 2), [r.camera.changed(r.dials) for r in pair]))
            elif how == "little" and change > size * 2.5:
                wrong.append((said, round(change, 2)))
    assert told > PAIRS * 2
    assert not wrong, f"{len(wrong)} of {told}: {wrong[:6]}"
