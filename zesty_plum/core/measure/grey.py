"""What is grey in a picture: what grey things come out as, how far that is from grey, and how full
a look makes colours about it."""

from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..colour.spaces import (
    REC2020_TO_XYZ,
    SRGB_TO_XYZ,
    linear_srgb_to_lab,
    srgb_decode,
    srgb_encode,
)
from ..colour.white import mired_and_duv, white_xy
from ..develop import balance
from ..develop.point import Point, as_tuple
from ..develop.taking import make_point
from ..look import Look, Sensor, Stage, about
from ..scenes.scene import Scene
from ..styles import style
from .report import Cast

GREYS, DARKEST = 101, -9.0  # steps of L* at which greys are worked out, and stops of the darkest
WISH_MIRED, WISH_DUV = 28.0, 0.006  # shifts up to which they are taken to be meant
WHITE = 0.98  # display light from which on nothing is left to be seen of a cast


def greys(scene: Scene, look: Look, sensor: Sensor) -> Array:
    """a* and b* (GREYS, 2) of what grey things come out as, at even steps of L*: a grey card in the
    scene's light, from black to clipping, through the look."""
    made = make_point(scene, look, sensor)
    stops = np.linspace(DARKEST, made.white + 1, GREYS, dtype=np.float32)
    light = MID_GREY * np.exp2(stops)[:, None]
    if scene.finished:
        encoded = made.finish(srgb_encode(np.minimum(light, 1.0) * np.ones(3, np.float32)))
    else:
        x, y = white_xy(*scene.card_light)
        card = np.linalg.inv(REC2020_TO_XYZ) @ np.array([x / y, 1.0, (1 - x - y) / y])
        matrix = np.array(made.matrix)
        balanced = (light * card) @ matrix.T * 2.0**look.exposure
        encoded = made.develop(np.clip(balanced, 0, made.clip).astype(np.float32))
    lab = linear_srgb_to_lab(srgb_decode(encoded).astype(np.float32))
    order = np.argsort(lab[:, 0], kind="stable")
    steps = np.linspace(0, 100, GREYS)
    return np.stack([np.interp(steps, lab[order, 0], lab[order, k]) for k in (1, 2)], -1).astype(
        np.float32
    )


def _grey_light(scene: Scene, found: bool) -> Array:
    """What light grey things send into the camera (3,): those that the scene has, or a card."""
    if found and scene.mask is not None:
        inside = scene.mask[::4, ::4] == scene.regions["neutral"]
        return np.asarray(scene.frame.sparse[inside].mean(0))
    if scene.finished:
        return np.full(3, MID_GREY)
    x, y = white_xy(*scene.card_light)
    return np.asarray(np.linalg.inv(REC2020_TO_XYZ) @ [x / y, 1.0, (1 - x - y) / y]) * MID_GREY


def _wished(chosen: float, most: float) -> float:
    """What of a shift is taken for a wish: all of a moderate one, nothing of one far out."""
    return chosen if abs(chosen) <= most else 0.0


def cast_of(scene: Scene, look: Look, sensor: Sensor, shown: Array | None) -> Cast | None:
    """Of what is grey: its light after balance, before tone and colour make more or less of its
    cast, and the mean of its displayed colours `shown` (n, 3), encoded, or where the scene has
    nothing grey those of a card. None for a monochrome style."""
    if style(look.style).monochrome:
        return None
    made = make_point(scene, look, sensor)
    light = np.array(made.matrix) @ _grey_light(scene, shown is not None)
    xyz = (SRGB_TO_XYZ if scene.finished else REC2020_TO_XYZ) @ np.maximum(light, 1e-6)
    mired, duv = mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))
    if shown is None:
        exposed = (light * 2.0**look.exposure).astype(np.float32)[None]
        shown = made.develop(np.clip(exposed, 0, made.clip))
    display = srgb_decode(np.clip(shown, 0, 1)).mean(0)
    if display.min() > WHITE:
        mired, duv = balance.WHITE  # at white no cast is left to be seen
    a, b = linear_srgb_to_lab(display[None].astype(np.float32))[0, 1:]
    seen = SRGB_TO_XYZ @ np.maximum(display, 1e-6)
    mired_shown, duv_shown = mired_and_duv((seen[0] / seen.sum(), seen[1] / seen.sum()))
    off = float(mired - balance.WHITE[0]), float(duv - balance.WHITE[1])
    return Cast(
        a=float(a),
        b=float(b),
        mired=off[0],
        duv=off[1],
        shown=float(mired_shown - balance.WHITE[0]),
        shown_duv=float(duv_shown - balance.WHITE[1]),
        unmeant=off[0] - _wished(look.shift_mired, WISH_MIRED),
        unmeant_duv=off[1] - _wished(look.shift_duv, WISH_DUV),
    )


def fullness(look: Look) -> float:
    """How many times as full as in Plain a look makes colours."""
    return _chroma(look) / _chroma(Look())


def _chroma(look: Look) -> float:
    """Mean chroma of hues all round, as far from grey as cloth and leaves are, through a look in
    neutral light."""
    seen = {n: getattr(look, n) for n, a in about().items() if a.stage is Stage.TABLE}
    return _chroma_of(replace(Look(), **seen))


@lru_cache(maxsize=64)
def _chroma_of(look: Look) -> float:
    hue = np.radians(np.arange(0, 360, 20))
    wheel = np.stack([np.cos(hue - k) for k in (0, 2 * np.pi / 3, 4 * np.pi / 3)], -1)
    made = Point(look, style(look.style), 4.0, as_tuple(np.eye(3)), False)
    encoded = made.develop((MID_GREY * (1 + 0.45 * wheel)).astype(np.float32))
    lab = linear_srgb_to_lab(srgb_decode(encoded).astype(np.float32))
    return float(np.hypot(lab[:, 1], lab[:, 2]).mean())
