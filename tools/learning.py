"""The plots of docs/learning.md, from the demo's taught body and the stand-in camera itself."""

import io
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from tools import asked
from tools.plots import curves
from zesty_plum.core.bodies import bring, forget
from zesty_plum.core.colour.spaces import xy_to_xyz
from zesty_plum.core.colour.white import white_xy
from zesty_plum.core.develop import point
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.pictures.read import read
from zesty_plum.core.styles import style
from zesty_plum.demo import TAUGHT
from zesty_plum.demo.turnstone.camera import CLIP, FROM_XYZ, STYLES, Settings, render
from zesty_plum.demo.turnstone.shoot import Frame, expose

PLOTS = Path(__file__).parents[1] / "docs" / "plots"
WHITE = (154.0, 0.0)
STOPS = np.linspace(-7, 2.9, 120)


def camera_curve(name: str) -> np.ndarray:
    """What the stand-in makes of greys, by its own mathematics."""
    light = 0.18 * np.exp2(STOPS)
    neutral = FROM_XYZ @ xy_to_xyz(white_xy(*WHITE))
    samples = light[:, None] / CLIP * neutral / neutral.max()
    row = np.repeat(samples[None], 9, 0).astype(np.float32)
    # Far from its corners, and without its neighbours: a wide row of one colour after another.
    shown = [render(np.tile(s, (9, 9, 1)), WHITE, Settings(name))[4, 4].mean() for s in row[0]]
    return np.array(shown)


def learnt_curve(style_id: str) -> np.ndarray:
    """What was learnt of them."""
    made = point.Point(Look(style=style_id), style(style_id), 3.0, point.as_tuple(np.eye(3)), False)
    return made.grey_curve(0.18 * np.exp2(STOPS))


def main() -> None:
    made = bring(TAUGHT.read_text())
    lines = {}
    for own in made.styles[:2]:
        lines[f"{own.name}, the camera"] = (STOPS, 100 * camera_curve(own.name))
        lines[f"{own.name}, learnt"] = (STOPS, 100 * learnt_curve(own.id))
    drawn = curves(
        lines,
        "stops from mid grey",
        "encoded, %",
        (-7, 3),
        (0, 100),
        range(-6, 4, 2),
        range(0, 101, 25),
    )
    (PLOTS / "learning.svg").write_text(drawn)
    rows = []
    for scene in ("boatyard", "supper"):
        raw, jpeg = expose(Frame(scene, stops=-0.2), 900)
        own = read(raw, "a.dng", "own-a")
        ours = [
            develop(own, look, made.sensor, 400).pixels for look in (made.interpret({}), Look())
        ]
        size = ours[0].shape[1], ours[0].shape[0]
        camera = cv2.resize(
            np.asarray(Image.open(io.BytesIO(jpeg))), size, interpolation=cv2.INTER_AREA
        )
        rows.append(np.concatenate([camera, *ours], 1))
    cv2.imwrite(
        str(PLOTS / "learning.jpg"),
        np.concatenate(rows)[..., ::-1],
        [cv2.IMWRITE_JPEG_QUALITY, 86],
    )
    forget(made.id)
    assert set(STYLES) >= {s.name for s in made.styles}


if __name__ == "__main__":
    asked(__doc__)
    main()
