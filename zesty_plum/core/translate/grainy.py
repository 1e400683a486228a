"""Grain of a finished picture, told from its even places: how strong and how coarse, if the picture
has its own size still. It is grain where brightness has it and colour has not."""

import math
from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array
from ..base.late import library
from ..bodies import Body, Dial, Value
from ..develop import grain as make_grain
from ..scenes.scene import Scene

cv2 = library("cv2")

LEAST_WIDTH = 2000  # pixels across, from which a picture may have its own size
MOST_WIDTH = 3000  # pixels of its middle that are looked at, however large it is
BLOCK, EVEN = 24, 0.04  # pixels a side, and share of blocks that are looked at: the most even
MIDDLE = (0.25, 0.8)  # encoded levels of those
LEAST = 0.006  # RMS of full scale from which it is seen, and can be told
NEUTRAL = 0.8  # of it, that colour may have; noise of single channels gives it 1.4
WIDTHS = (0.8, 1.6, 3.2)


@dataclass(frozen=True)
class Grain:
    """rms : of full scale, at mid grey. coarse : how much of it is left after blurs (3,)."""

    rms: float
    coarse: Array


def found(picture: Scene) -> Grain | None:
    """Its grain, or None where there is none or its size does not tell."""
    if not picture.finished or picture.size[0] < LEAST_WIDTH:
        return None
    encoded = np.asarray(picture.frame.middle(MOST_WIDTH), np.float32)
    luma = encoded @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    blocks = _even(luma)
    if len(blocks) < 12:
        return None
    # What is laid on falls off towards black and white, as 4 y (1 - y).
    level = [float(luma[b].mean()) for b in blocks]
    rms, coarse = _measured([luma[b] / (4 * y * (1 - y)) for b, y in zip(blocks, level)])
    colour = (encoded - luma[..., None])[..., ::2]
    off = np.median([_flat(colour[b]).std((0, 1)).mean() for b in blocks])
    if rms < LEAST or off > NEUTRAL * rms:
        return None
    return Grain(rms, coarse)


def _even(luma: Array) -> list[tuple[slice, slice]]:
    """Places of the blocks whose coarse structure is least, at middle levels."""
    small = cv2.resize(luma, None, fx=1 / 6, fy=1 / 6, interpolation=cv2.INTER_AREA)
    step, side = BLOCK, BLOCK // 6
    places, rough = [], []
    for y in range(0, luma.shape[0] - step, step):
        for x in range(0, luma.shape[1] - step, step):
            part = small[y // 6 : y // 6 + side, x // 6 : x // 6 + side]
            if MIDDLE[0] < float(part.mean()) < MIDDLE[1]:
                places.append((slice(y, y + step), slice(x, x + step)))
                rough.append(float(part.std()))
    order = np.argsort(rough)[: max(12, int(EVEN * len(rough)))]
    return [places[k] for k in order]


def _flat(block: Array) -> Array:
    """A block without its slope."""
    rows, columns = block.shape[:2]
    y, x = np.mgrid[-1 : 1 : rows * 1j, -1 : 1 : columns * 1j]
    ways = np.stack([np.ones(rows * columns), x.ravel(), y.ravel()], 1)
    flat = block.reshape(rows * columns, -1)
    left = flat - ways @ np.linalg.lstsq(ways, flat, rcond=None)[0]
    return np.asarray(left.reshape(block.shape))


def _measured(blocks: list[Array]) -> tuple[float, Array]:
    """RMS, and shares of it that are left after blurs."""
    flat = [_flat(b).astype(np.float32) for b in blocks]
    rms = float(np.median([f.std() for f in flat]))
    left = [
        np.median([cv2.GaussianBlur(f, (0, 0), w)[6:-6, 6:-6].std() for f in flat]) for w in WIDTHS
    ]
    return rms, np.asarray(left) / max(rms, 1e-6)


def put(grain: Grain, camera: Body, dials: dict[str, Value]) -> dict[str, Value]:
    """Dials with the grain of a picture, as near as the body has it: its size, then how strong it
    is."""
    out = dict(dials)
    for dial in camera.dials:
        if {"grain", "grain_size"} <= dial.touches:
            return {**out, dial.id: _both(grain, camera, dial)}
    strong = [d for d in camera.dials if "grain" in d.touches]
    for dial in strong:  # so that its size counts
        out[dial.id] = max(dial.values, key=lambda v: camera.interpret({dial.id: v}).grain)
    for dial in camera.dials:
        if "grain_size" in dial.touches:
            sizes = {v: camera.interpret({**out, dial.id: v}).grain_size for v in dial.values}
            out[dial.id] = min(sizes, key=lambda v: _unlike(grain, sizes[v]))
    kept = _of_size(camera.interpret(out).grain_size)[0]
    for dial in strong:
        each = {v: camera.interpret({**out, dial.id: v}).grain for v in dial.values}
        out[dial.id] = min(each, key=lambda v: abs(each[v] * kept - grain.rms))
    return out


def _both(grain: Grain, camera: Body, dial: Dial) -> Value:
    """The place of a dial that moves strength and size together."""
    away = dict[Value, float]()
    for value in dial.values:
        look = camera.interpret({dial.id: value})
        if look.grain:
            kept = look.grain * _of_size(look.grain_size)[0]
            away[value] = _unlike(grain, look.grain_size) + abs(math.log2(kept / grain.rms))
    return min(away, key=lambda v: away[v])


def _unlike(grain: Grain, size: float) -> float:
    """How far the coarseness of grain is from that of a size, in octaves."""
    coarse = _of_size(size)[1]
    return float(np.abs(np.log2(np.maximum(coarse, 1e-3) / np.maximum(grain.coarse, 1e-3))).sum())


def _of_size(size: float) -> tuple[float, Array]:
    """The same of grain of RMS 1."""
    field = make_grain.unit_grain(10 * BLOCK, 10 * BLOCK, size, 1.0, 1)
    steps = range(0, 10 * BLOCK, BLOCK)
    return _measured([field[y : y + BLOCK, x : x + BLOCK] for y in steps for x in steps])
