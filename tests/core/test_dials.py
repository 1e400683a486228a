"""Steps of a dial are even and each shows: here, and in docs/dials.md with what shows."""

import itertools
import re
from pathlib import Path

import numpy as np
import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from tools.dials import scaled, standing, textures
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.styles import styles

PAGE = (Path(__file__).parents[2] / "docs" / "dials.md").read_text()
EVERY = [(c, d) for c in bodies().values() for d in scaled(c)]
MOST = 1.4  # times the smallest step that the largest may be


def steps(camera, dial, name: str, style: str) -> np.ndarray:
    """Mean CIEDE2000 of each step on a scene in a style, by another library."""
    dials, scene, labs = standing(camera, dial), scenes.load(name), []
    dials[camera.style_dial.id] = style
    for value in dial.values:
        look = camera.meaning({**dials, dial.id: value})
        made = develop(scene, look, camera.sensor, 360 if dial.fine else 160, 1, dial.fine)
        labs.append(rgb2lab(made.pixels))
    return np.array([deltaE_ciede2000(a, b).mean() for a, b in itertools.pairwise(labs)])


@pytest.mark.parametrize(("camera", "dial"), EVERY, ids=lambda x: x.id)
def test_steps_are_even_to_the_eye(camera, dial):
    """Over the scenes that show it at least half as well as the best, as shipped and in the style
    that the page calls worst."""
    worst = next(s.id for s in styles().values() if s.name == rows()[camera.name, dial.label][7])
    shipped = camera.shipped[camera.style_dial.id]
    for style in {shipped, shipped if dial.fine else worst}:
        found = [steps(camera, dial, name, style) for name in scenes.index()]
        most = max(f.sum() for f in found)
        mean = np.mean([f for f in found if f.sum() >= most / 2], axis=0)
        assert mean.max() <= MOST * mean.min(), (style, mean.round(2))


def rows() -> dict[tuple[str, str], list[str]]:
    out, camera = {}, ""
    for line in PAGE.splitlines():
        if line.startswith("## "):
            camera = line[3:]
        elif line.startswith("| ") and not line.startswith(("| dial", "| named")):
            cells = [c.strip() for c in line.strip("|").split("|")]
            out[camera, cells[0]] = cells
    return out


def test_the_page_holds_every_dial_even_and_seen():
    told = rows()
    named = {(c.name, d.label) for c in bodies().values() for d in textures(c)}
    assert set(told) == {(c.name, d.label) for c, d in EVERY} | named
    for at, cells in told.items():
        assert float(cells[-2]) >= 1.0, at
        assert at in named or float(cells[5]) <= MOST, at
    for camera, dial in EVERY:
        ratio = float(told[camera.name, dial.label][6])
        assert dial.fine or ratio <= MOST, (camera.id, dial.id)
    assert re.search(r"made by `python -m tools.dials`", PAGE, re.IGNORECASE)


@pytest.mark.parametrize("camera", bodies().values(), ids=bodies())
def test_a_dial_goes_one_way(camera):
    """From place to place what a dial adds only grows or only falls, past its standard too."""
    for dial in camera.dials:
        for name in dial.touches:
            added = [c.adds[name] for c in dial.choices if name in c.adds]
            if not dial.named and len(added) == len(dial.values):
                turns = np.sign(np.diff(added))
                assert abs(turns.sum()) == len(turns), (dial.id, name)
