"""Time: while the shutter is open, what moves draws its light out along its way, and hands shake.

What moves lies over what stands still, and what it hides is filled in from beside it; water and
leaves move within their outline. A hand that is
held as still as most can blurs by 0.03 mm on a frame 36 mm wide in one over the focal length, the
rule that people go by; drifting is slower the longer it takes. Stabilisation takes stops off it.
"""

import math

import cv2
import numpy as np

from ..arrays import Array, Bytes8
from ..scenes.scene import Move, Scene

SHAKE = 0.03 / 36  # widths of the frame in one over the focal length in mm
SETTLES = 0.25  # seconds after which a hand has turned back as often as not
SHAKES_TOWARDS = 65.0  # degrees: breath and a finger on the release move a camera up and down most
LEAST = 0.35  # pixels of blur below which nothing shows
FEW = 256  # samples along a way at most, by doubling; longer ways have them further apart
GROWN = 2  # pixels by which what moves is taken larger, so that its rim goes with it
ENOUGH = 0.3  # share of a neighbourhood that has to be known to fill in from it alone


def shake(scene: Scene, time: float, steady: float) -> float:
    """Blur by hand in widths of the frame."""
    return float(scene.lens * SHAKE * time / math.sqrt(1 + time / SETTLES) / 2.0**steady)


def moves_at_all(scene: Scene, time: float, steady: float, frame: int) -> bool:
    """Whether anything shows in a picture that is part of one `frame` pixels wide."""
    ways = [move.way(time) / move.across for move in scene.moves]
    return max([shake(scene, time, steady), *ways]) * frame >= LEAST


def drawn_out(picture: Array, length: float, heading: float) -> Array:
    """A picture (h, w, n) averaged along a way of `length` pixels, its middle where it was;
    `heading` in degrees from the right against the clock."""
    if length < LEAST:
        return picture
    doublings = max(1, math.ceil(math.log2(min(max(length, 2.0), FEW))))
    many = 2**doublings
    step = length / many
    x, y = math.cos(math.radians(heading)) * step, -math.sin(math.radians(heading)) * step
    out = _shifted(picture, -x * (many - 1) / 2, -y * (many - 1) / 2)
    for k in range(doublings):
        out += _shifted(out, x * 2**k, y * 2**k)
        out *= np.float32(0.5)
    return out


def _shifted(picture: Array, x: float, y: float) -> Array:
    matrix = np.array([[1, 0, x], [0, 1, y]], np.float64)
    size = picture.shape[1], picture.shape[0]
    moved = cv2.warpAffine(picture, matrix, size, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(moved, np.float32)


def in_time(
    scene: Scene, light: Array, numbers: Bytes8 | None, time: float, steady: float, frame: int
) -> Array:
    """Light (h, w, 3) of a scene, or of a part of one `frame` pixels wide, as it falls while the
    shutter is open; `numbers` says what moves there, of any size."""
    out = light
    for k, move in enumerate(scene.moves, 1):
        length = move.way(time) / move.across * frame
        if numbers is not None and length >= LEAST:
            out = _moved(out, numbers == k, length, move)
    return drawn_out(out, shake(scene, time, steady) * frame, SHAKES_TOWARDS)


def _moved(light: Array, where: Array, length: float, move: Move) -> Array:
    """Light with one thing drawn out, within the part of the picture that it crosses."""
    height, width = light.shape[:2]
    grown = cv2.dilate(where.astype(np.uint8), np.ones((2 * GROWN + 1,) * 2, np.uint8))
    cover = cv2.resize(grown.astype(np.float32), (width, height), interpolation=cv2.INTER_AREA)
    rows, columns = np.flatnonzero(cover.any(1)), np.flatnonzero(cover.any(0))
    if not len(rows):
        return light
    far = math.ceil(length / 2) + 2
    part = (
        slice(max(0, rows[0] - far), rows[-1] + far + 1),
        slice(max(0, columns[0] - far), columns[-1] + far + 1),
    )
    here, share = light[part], cover[part][..., None]
    over = drawn_out(np.concatenate([here * share, share], 2), length, move.heading)
    out = light.copy()
    if move.within:
        out[part] = (1 - share) * here + share * over[..., :3] / np.maximum(over[..., 3:], 1e-4)
    else:
        out[part] = over[..., :3] + (1 - over[..., 3:]) * _filled(here, 1 - share)
    return out


def _filled(here: Array, known: Array) -> Array:
    """Light (h, w, 3) with what is not `known` (h, w, 1) filled in from as near as there is
    anything."""
    out, done, side = here * known, known, 3
    while side < 2 * max(here.shape[:2]) and float(done.min()) < 0.999:
        near = cv2.blur(known, (side, side))[..., None]
        beside = cv2.blur(here * known, (side, side)) / np.maximum(near, 1e-4)
        share = (1 - done) * np.clip(near / ENOUGH, 0, 1)
        out, done = out + share * beside, done + share
        side = 2 * side + 1
    return np.asarray(out / np.maximum(done, 1e-4), np.float32)
