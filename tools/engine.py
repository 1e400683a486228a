"""Writes what some pictures look like, `tests/engine.json`, by which a test tells that pixels have
changed: `make prepared`, after raising `ENGINE` in `zesty_plum/web/render/address.py`."""

import json
from pathlib import Path

import cv2
import numpy as np

from tools import asked
from zesty_plum.core import scenes
from zesty_plum.core.bodies import shipped
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.web.render.address import ENGINE

KEPT = Path(__file__).parents[1] / "tests" / "engine.json"
WIDTH, CELLS = 240, (6, 4)  # pixels across, and cells of which the mean is kept


def looked_at() -> dict[str, list[float]]:
    """Means of cells and their deviations within, of pictures of every body: as shipped on all
    scenes, and with every dial at its end, whole and at 100 percent; 0 to 255."""
    out = {}
    for body in shipped().values():
        ends = {d.id: d.values[-1] for d in body.dials if d.id != "output"}
        for name in scenes.index():
            scene = scenes.load(name)
            made = develop(scene, body.interpret({}), body.sensor, WIDTH)
            out[f"{body.id} {name}"] = _cells(made.pixels)
        for close in (False, True):
            scene = scenes.load("workshop")
            made = develop(scene, body.interpret(ends), body.sensor, WIDTH, full_detail=close)
            out[f"{body.id} ends {'close' if close else 'whole'}"] = _cells(made.pixels)
    return out


def _cells(pixels: np.ndarray) -> list[float]:
    light = pixels.astype(np.float32)
    mean = cv2.resize(light, CELLS, interpolation=cv2.INTER_AREA)
    square = cv2.resize(light**2, CELLS, interpolation=cv2.INTER_AREA)
    spread = np.sqrt(np.maximum(square - mean**2, 0)).mean((0, 1))
    return [round(float(v), 2) for v in (*mean.ravel(), *spread)]


def main() -> None:
    """Write it."""
    told = {"engine": ENGINE, "pictures": looked_at()}
    lines = ",\n".join(f' "{k}": {json.dumps(v)}' for k, v in told["pictures"].items())
    KEPT.write_text(f'{{"engine": "{ENGINE}", "pictures": {{\n{lines}\n}}}}\n', encoding="utf-8")
    print(f"{len(told['pictures'])} pictures of engine {ENGINE}")


if __name__ == "__main__":
    asked(__doc__)
    main()
