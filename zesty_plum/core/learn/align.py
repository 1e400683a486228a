"""Laying the picture that a camera made over its raw: the frame may be smaller, moved, and freed
of the lens's distortion."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base.arrays import Array, Mask, Matrix
from ..base.late import library

cv2 = library("cv2")

ACROSS = 720  # pixels at which two pictures are laid over each other
COARSE = 240
SCALES = np.arange(0.84, 1.121, 0.02)  # of the frame, that are tried
ALIKE = 0.45  # correlation of structure from which two pictures show the same
EACH = 6  # pixels from one to the next at which moves are looked at
SAME = 0.15  # pixels at `ACROSS` within which a frame counts as the raw's own


@dataclass(frozen=True)
class Aligned:
    """A finished picture on the raw's pixels: encoded (h, w, 3); where it has something to show
    (h, w); how well structures agree, -1 to 1; largest move of a pixel, as a share of the
    width."""

    shown: Array
    inside: Mask
    alike: float
    moved: float


def structure(luma: Array, wide: float) -> Array:
    """Brightness (h, w) with its slow changes taken away and its contrast made even, so that a
    curve makes no difference."""
    smooth = cv2.GaussianBlur(luma, (0, 0), wide / 3)
    base = cv2.GaussianBlur(luma, (0, 0), wide)
    off = smooth - base
    spread = np.sqrt(cv2.GaussianBlur(off * off, (0, 0), 2 * wide))
    return np.asarray(off / (spread + 0.15 * float(spread.mean()) + 1e-6), np.float32)


def correlation(a: Array, b: Array, where: Array) -> float:
    """Of two structures (h, w), where a weight counts."""
    both = float((where * a * b).sum())
    size = float(np.sqrt((where * a * a).sum() * (where * b * b).sum()))
    return both / size if size > 0 else 0.0


def _small(luma: Array, across: int) -> Array:
    height, width = luma.shape
    size = across, max(1, round(height * across / width))
    return np.asarray(cv2.resize(luma, size, interpolation=cv2.INTER_AREA), np.float32)


def _warped(picture: Array, across: Matrix, size: tuple[int, int]) -> Any:
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(picture, across, size, flags=flags, borderMode=cv2.BORDER_REPLICATE)


def _first(raw: Array, made: Array) -> Matrix:
    """The best of many scales and moves, from raw pixels to the picture's (2, 3), both `COARSE`
    across."""
    (height, width), (rows, columns) = raw.shape, made.shape
    window = cv2.createHanningWindow((width, height), cv2.CV_32F)
    best, found = -2.0, np.eye(2, 3)
    for scale in SCALES:
        middle = np.array(
            [[scale, 0, (columns - scale * width) / 2], [0, scale, (rows - scale * height) / 2]]
        )
        lies = _warped(made, middle, (width, height))
        (x, y), _ = cv2.phaseCorrelate(raw, lies, window)
        if abs(x) > 0.12 * width or abs(y) > 0.12 * height:
            x = y = 0.0
        for dx, dy in ((0.0, 0.0), (x, y)):
            trial = middle.copy()
            trial[:, 2] += scale * np.array([dx, dy])
            lies = _warped(made, trial, (width, height))
            inside = _warped(np.ones_like(made), trial, (width, height))
            now = correlation(raw, lies, window * inside)
            now -= 0.02 * abs(scale - 1) + 0.001 * bool(dx or dy)
            if now > best:
                best, found = now, trial
    return found


def _refined(raw: Array, made: Array, across: Matrix) -> Matrix:
    """The same more exactly, on larger pictures."""
    stop = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 30, 1e-4)
    try:
        _, better = cv2.findTransformECC(
            raw, made, across.astype(np.float32), cv2.MOTION_AFFINE, stop, None, 5
        )
    except cv2.error:  # it does not come to rest, as where the two show different things
        return across
    return np.asarray(better, np.float64)


def _bent(raw: Array, made: Array, across: Matrix) -> tuple[Array, Array]:
    """Where in the picture each raw pixel lies (h, w) twice: the affine way, and on top of it one
    that grows with the square and the fourth power of the distance from the middle, as far as the
    two pictures ask for it."""
    height, width = raw.shape
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    u, v = (x - width / 2) / (width / 2), (y - height / 2) / (width / 2)
    far = u * u + v * v
    fields = [np.ones_like(u), u, v]
    ways = np.stack(
        [np.stack([f, 0 * f], -1) for f in fields]
        + [np.stack([0 * f, f], -1) for f in fields]
        + [np.stack([u * far**k, v * far**k], -1) for k in (1, 2)],
        -1,
    )  # (h, w, 2, 8)
    put_first = across.astype(np.float32)
    map_x = put_first[0, 0] * x + put_first[0, 1] * y + put_first[0, 2]
    map_y = put_first[1, 0] * x + put_first[1, 1] * y + put_first[1, 2]
    flow_of = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)
    byte = _eight(raw)
    steep = cv2.GaussianBlur(
        cv2.Sobel(raw, cv2.CV_32F, 1, 0) ** 2 + cv2.Sobel(raw, cv2.CV_32F, 0, 1) ** 2, (0, 0), 3
    )
    rim = max(4, width // 60)
    for _ in range(3):
        lies = cv2.remap(made, map_x, map_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        flow = flow_of.calc(byte, _eight(lies), None)
        inside = _inside(map_x, map_y, made.shape, rim)
        few = (slice(rim, -rim, EACH), slice(rim, -rim, EACH))
        weight = np.repeat((steep * inside)[few].ravel(), 2)
        a = ways[few].reshape(-1, 8).astype(np.float64)
        b = flow[few].ravel().astype(np.float64)
        put = np.zeros(8)
        for _ in range(6):
            off = (b - a @ put).reshape(-1, 2)
            share = weight / (1 + np.repeat((off**2).sum(1), 2) / 0.25)
            square = (a * share[:, None]).T @ a
            calm = 1e-3 * np.trace(square) * np.diag([0, 0, 0, 0, 0, 0, 1, 1])
            put = np.linalg.solve(square + calm, a.T @ (share * b))
        move = ways @ put.astype(np.float32)
        map_x, map_y = map_x + move[..., 0], map_y + move[..., 1]
    return map_x, map_y


def _eight(structured: Array) -> Any:
    return np.clip(128 + 40 * structured, 0, 255).astype(np.uint8)


def _inside(map_x: Array, map_y: Array, shape: tuple[int, ...], rim: float = 0.5) -> Mask:
    rows, columns = shape[:2]
    across = (map_x >= rim) & (map_x <= columns - 1 - rim)
    return np.asarray(across & (map_y >= rim) & (map_y <= rows - 1 - rim))


def lay(luma: Array, made: Array) -> Aligned:
    """Lay a finished picture (any size, encoded) over a raw's brightness (h, w), which is encoded
    too; both are upright."""
    height, width = luma.shape
    grey = np.ascontiguousarray(made @ np.array([0.2126, 0.7152, 0.0722], np.float32))
    coarse = [structure(_small(each, COARSE), 6.0) for each in (luma, grey)]
    across = _first(*coarse)
    up, over = width / COARSE, grey.shape[1] / COARSE
    fine = structure(luma, 6.0)
    size = width, max(1, round(grey.shape[0] * width / grey.shape[1]))
    even = cv2.resize(grey, size, interpolation=cv2.INTER_AREA if over > up else cv2.INTER_LINEAR)
    drawn = structure(np.asarray(even, np.float32), 6.0)
    at = across.copy()
    half = 0.5 * up - 0.5  # middles of pixels stay middles
    at[:, 2] = up * across[:, 2] + half * (1 - across[:, :2].sum(1))
    map_x, map_y = _bent(fine, drawn, _refined(fine, drawn, at))
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    off = float(np.percentile(np.hypot(map_x - x, map_y - y), 95))
    if off < SAME and drawn.shape == fine.shape:
        map_x, map_y = x, y
    lies = cv2.remap(drawn, map_x, map_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    inside = _inside(map_x, map_y, drawn.shape)
    colours = cv2.resize(made, size, interpolation=cv2.INTER_AREA)
    shown = cv2.remap(colours, map_x, map_y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    alike = correlation(fine, lies, inside.astype(np.float32))
    return Aligned(np.asarray(shown, np.float32), inside, alike, off / width)
