"""How far the bake is from the formula it stands for, in CIEDE2000: styles as shipped and harsh
looks in every scene."""

from collections.abc import Iterator

import numpy as np

from benchmarks.rendering import HERON
from benchmarks.timing import Row
from zesty_plum.core import scenes
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.spaces import linear_srgb_to_lab, srgb_decode
from zesty_plum.core.develop import table
from zesty_plum.core.develop.taking import make_point
from zesty_plum.core.styles import styles

HARSH: list[dict[str, object]] = [
    {"style": "bunting", "highlights": 2, "shadows": -2, "colour": 3},
    {"style": "bunting", "highlights": 3, "shadows": -3, "colour": 4},
    {"highlights": 3, "shadows": -3},
    {"highlights": -3, "shadows": 3},
    {"shadows": -3, "colour": 4},
    {"white_balance": "lamps", "colour": 4},
    {"white_balance": "shade", "colour": 3, "shadows": -2},
    {"style": "linen", "highlights": 3, "shadows": -3, "shift_amber": 50, "shift_green": 0},
    {"style": "ink", "highlights": 3, "shadows": -3},
]


def apart(scene_id: str, dials: dict[str, object], every: int = 4) -> tuple[float, float, float]:
    """CIEDE2000 at the 99th percentile over the frame, its shadows, its full colours (0 where they
    are fewer than 100 pixels).

    `every` so manyth pixel is looked at.
    """
    scene = scenes.load(scene_id)
    made = make_point(scene, HERON.interpret(dials), HERON.sensor)
    light = scene.pixels[::every, ::every].reshape(-1, 3) @ np.array(made.matrix, np.float32).T
    lab = linear_srgb_to_lab(srgb_decode(made.develop(np.clip(light, 0, made.clip))))
    baked = np.ascontiguousarray(made.to_shaper(light)[None])
    table.bake(made).apply(baked, np.empty(baked.shape[:2], np.float32))
    away = ciede2000(linear_srgb_to_lab(srgb_decode(baked[0])), lab)
    parts = (lab[:, 0] > -1, lab[:, 0] < 20, np.hypot(lab[:, 1], lab[:, 2]) > 50)
    frame, shadows, colours = (
        float(np.percentile(away[p], 99)) if p.sum() >= 100 else 0.0 for p in parts
    )
    return frame, shadows, colours


MOST = {"styles as shipped": 0.5, "harsh looks": 1.3}  # CIEDE2000 that nobody sees; that hardly


def run(quick: bool) -> Iterator[Row]:
    """The worst of each kind, as a share of what is let pass, with where it is."""
    every, some = (8, ["workshop"]) if quick else (4, list(scenes.index()))
    kinds: dict[str, list[dict[str, object]]] = {
        "styles as shipped": [{"style": s} for s in styles()],
        "harsh looks": HARSH,
    }
    for kind, looks in kinds.items():
        values = {(s, str(d)): apart(s, d, every) for d in looks for s in some}
        for k, part in enumerate(("frame", "shadows alone", "full colours alone")):
            scene_id, dials = max(values, key=lambda key: values[key][k])
            worst, most = values[scene_id, dials][k], MOST[kind]
            name = f"bake and formula, {kind}, {part}"
            yield Row(name, f"CIEDE2000 {worst:.2f}", worst / most, f"{most:g}; {scene_id}", 1.0)
