"""Coming near a picture: a hidden recipe is found again from one of its pictures."""

import io

import cv2
import numpy as np
import pytest
from PIL import Image

from tests.builders import HERON, file_of, rendered
from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.pictures.read import read
from zesty_plum.core.translate import grainy
from zesty_plum.core.translate.nearest import nearest
from zesty_plum.demo.turnstone import shoot

OTHERS = ("quayside", "supper", "loft", "jetty")


def jpeg_of(scene: str, **dials) -> bytes:
    return file_of(rendered(scenes.load(scene), 900, **dials).pixels, "JPEG", quality=92)


def picture(data: bytes):
    return read(data, "loved.jpg", "own-loved", longest=960)


def off(look, other) -> float:
    """Mean CIEDE2000 between two looks on scenes that were not shown."""
    found = []
    for name in OTHERS:
        made = [develop(scenes.load(name), x, HERON.sensor, 240).encoded for x in (look, other)]
        labs = [
            encoded_to_lab(cv2.resize(m, (120, 80), interpolation=cv2.INTER_AREA)) for m in made
        ]
        found.append(float(ciede2000(*labs).mean()))
    return float(np.mean(found))


HIDDEN = [
    (
        "garden",
        {"style": "driftwood", "colour": 3, "shadows": -2, "shift_amber": 10, "shift_green": -2},
    ),
    (
        "snow",
        {
            "style": "wet-slate",
            "shadows": 2,
            "shift_amber": -10,
            "shift_green": -2,
            "exposure": 0.33,
        },
    ),
]


@pytest.mark.parametrize(("scene", "dials"), HIDDEN)
def test_a_hidden_recipe_is_found_from_one_picture(scene, dials):
    answer = nearest([picture(jpeg_of(scene, **dials))], HERON)
    hidden = HERON.interpret(dials)
    assert scenes.load(scene).title in answer.by
    assert off(answer.found[0].recipe.look, hidden) < off(Look(), hidden) / 2
    assert 1 <= len(answer.found) <= 3
    looks = [n.recipe.look for n in answer.found]
    assert all(off(a, b) > 1 for k, a in enumerate(looks) for b in looks[:k])
    assert any("Sharpness" in line for line in answer.unknown)


def test_a_plain_version_beside_it_does_the_same_for_a_strangers_picture():
    left = shoot.framed(
        scenes.load("boatyard"), (0.2, 0.1, 0.6)
    )  # a part that no scene shows whole
    from zesty_plum.core.scenes.frame import Held
    from zesty_plum.core.scenes.scene import Scene

    white = (1e6 / 5300, 0.0)
    strange = Scene("x", "X", Held(left), white, white, ev100=12.0)
    dials = {"style": "marmalade", "colour": 2, "highlights": -2}
    loved, plain = (
        picture(file_of(rendered(strange, 900, **d).pixels, "PNG")) for d in (dials, {})
    )
    answer = nearest([loved], HERON, plain)
    hidden = HERON.interpret(dials)
    assert "plain version" in answer.by
    assert off(answer.found[0].recipe.look, hidden) < off(Look(), hidden) / 2


def test_a_picture_of_unknown_things_is_compared_by_what_it_has_in_common():
    rows = np.linspace(30, 220, 400, dtype=np.uint8)
    drawn = np.repeat(rows[:, None], 600, 1)
    toned = np.stack([drawn, drawn * 0.92, drawn * 0.8], -1).astype(np.uint8)
    answer = nearest([picture(file_of(toned, "PNG"))], HERON)
    assert answer.by.startswith("by tone and colour")
    assert "greys" in answer.found[0].words[0] or "tones" in answer.found[0].words[0]


def test_a_raw_has_no_look_to_come_near_to():
    raw, _ = shoot.expose(shoot.Frame("table"), 1)
    with pytest.raises(PlumError, match="is a raw: it has no look yet"):
        nearest([read(raw, "a.dng", "own-a", longest=960)], HERON)
    with pytest.raises(PlumError, match="Give a finished picture"):
        nearest([], HERON)
    assert Image.open(io.BytesIO(jpeg_of("table"))).size[0] == 900


@pytest.mark.parametrize(
    "dials",
    [
        {},
        {"grain": "flour"},
        {"grain": "salt"},
        {"grain": "grit"},
        {"grain": "sand", "style": "linen"},
    ],
)
def test_grain_is_told_of_a_picture_of_its_own_size(dials):
    plain = rendered(scenes.load("painters"), 1440).pixels
    large = cv2.resize(plain, (2100, 1400), interpolation=cv2.INTER_CUBIC)
    own = read(file_of(large, "JPEG", quality=97), "own.jpg", "own-loved")
    made = rendered(own, 2100, detail=True, **dials).pixels
    found = grainy.found(read(file_of(made, "JPEG", quality=92), "own.jpg", "own-loved"))
    if not dials:
        assert found is None
        noise = np.random.default_rng(1).normal(0, 5, made.shape)  # of a sensor: in colours
        noisy = np.clip(made + noise, 0, 255).astype(np.uint8)
        assert grainy.found(read(file_of(noisy), "own.png", "own-loved")) is None
        return
    told = grainy.put(found, HERON, HERON.complete({}))
    assert told["grain"] == dials["grain"]
    wader = body("wader-v1")
    apart = grainy.put(found, wader, wader.complete({}))
    there, here = wader.interpret(apart), HERON.interpret(dials)
    assert there.grain == pytest.approx(here.grain, abs=0.006)
    assert there.grain_size == pytest.approx(here.grain_size, rel=0.45)
    small = cv2.resize(made, (1050, 700), interpolation=cv2.INTER_AREA)
    assert grainy.found(read(file_of(small), "own.png", "own-loved")) is None
