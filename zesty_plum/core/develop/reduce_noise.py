"""Reduce noise, before tone, on an encoding that is even to the eye: brightness and colour apart,
edges kept.

A guided filter (He, Sun and Tang 2010) of the picture by itself: where the local variance is well
above the noise it is kept, where it is not the mean takes over. The threshold is in multiples of
the noise present, so a clean frame is hardly touched, and a large multiple at high ISO smears
texture, as in a camera.
"""

from collections.abc import Callable

import numpy as np

from ..base import bands
from ..base.arrays import Array
from ..base.late import library
from . import photosites, small_loops

cv2 = library("cv2")

FIELDS = ("noise_filter", "colour_filter")  # of a look
# colour noise is uglier than brightness noise and its detail matters less: equal strengths act
# twice
COLOUR_MORE = 2.0
ENOUGH = 1200  # pixels each way to estimate noise on

# Brightness (1:2:1), and red and blue against it; `small_loops.keep_and_offset` does both ways.
TO_PLANES = np.array([[0.25, 0.5, 0.25], [0.75, -0.5, -0.25], [-0.25, -0.5, 0.75]], np.float32)
# Deviation of noise in the planes at half size within the window, over that of a channel: of a
# finished picture, whose noise was estimated on its finest detail, and of a mosaic (`photosites`)
# at 100 percent; of averages of many photosites colour has more, up to FAR.
FINISHED = 0.7 * np.sqrt((TO_PLANES**2).sum(1))
MOSAIC, FAR = np.array([0.48, 0.40, 0.40]), 0.80


def of_planes(pitch: float) -> Array:
    """Deviation of a mosaic's noise in the planes over that of a photosite (3,), at `pitch` pixels
    a photosite."""
    many = 1 / pitch
    if many < photosites.FEW:
        return MOSAIC
    return np.array([MOSAIC[0], *[FAR - 0.72 / many] * 2])


def acting(pitch: float) -> Array:
    """Share of the filter's work on each plane (3,) that is left once its result is averaged to
    `pitch` pixels a photosite: what it takes lies within some photosites, and what averages keep
    beyond. The same for every strength; fitted to filtering at 100 percent and averaging."""
    many = 1 / pitch
    if many < photosites.FEW:
        return np.ones(3, np.float32)
    return np.exp(-0.13 * (many + np.array([-0.8, 0.6, 0.6]))).astype(np.float32)


def reduce_noise(
    encoded: Array,
    deviation: Array | float | Callable[[Array], Array],
    strength: float,
    colour_strength: float | None = None,
    pitch: float = 1.0,
    mosaic: bool = False,
    overwrite: bool = False,
) -> Array:
    """Return `encoded` (h, w, 3) with noise taken out, as a camera does at 100 percent and a
    picture of `pitch` pixels a photosite shows it.

    deviation : noise present, in units of `encoded`: a number, a map of any size over the same
        picture, or a function of brightness that gives it.
    strength, colour_strength : thresholds over it for brightness and for colour, equal if one is
    left out; 0 does nothing.
    mosaic : whether the noise is that of a mosaic of colours.

    Statistics are taken at half size and applied at full size (He and Sun 2015).
    """
    colour_strength = strength if colour_strength is None else colour_strength
    if max(strength, colour_strength) <= 0:
        return encoded
    squares = np.array([strength**2, *[(COLOUR_MORE * colour_strength) ** 2] * 2])
    height, width = encoded.shape[:2]
    half = max(1, width // 2), max(1, height // 2)
    planes = _halved(encoded, half)
    if callable(deviation):
        # How strong the noise is varies slowly, so an eighth of the size is enough to know it.
        few = (max(1, width // 8), max(1, height // 8))
        deviation = deviation(cv2.resize(planes[0], few, interpolation=cv2.INTER_AREA))
    noise = np.atleast_2d(np.asarray(deviation, np.float32))
    variance = np.maximum(noise**2, 1e-12)
    variance = cv2.resize(variance.astype(np.float32), half, interpolation=cv2.INTER_LINEAR)
    guided = np.empty((6, *planes.shape[1:]), np.float32)
    each = (of_planes(pitch) if mosaic else FINISHED) ** 2
    shares = np.maximum(each * squares, 1e-9).astype(np.float32)
    share = acting(pitch)
    bands.run(
        lambda top, end: small_loops.guide(planes, variance, shares, share, top, end, guided),
        half[1],
    )
    out = encoded if overwrite else encoded.copy()
    rows = out.reshape(height, 3 * width)
    bands.run(
        lambda top, end: small_loops.keep_and_offset(rows[top:end], guided, top, height), height
    )
    return out


def _halved(encoded: Array, half: tuple[int, int]) -> Array:
    """Planes (3, h2, w2) of a picture, at half its size or, of a row of pixels, at its own."""
    height, width = encoded.shape[:2]
    out = np.empty((3, half[1], half[0]), np.float32)
    if min(height, width) < 2:
        small = cv2.resize(encoded, half, interpolation=cv2.INTER_LINEAR)
        out[:] = np.moveaxis(cv2.transform(small, TO_PLANES), -1, 0)
        return out
    rows = np.ascontiguousarray(encoded).reshape(height, 3 * width)
    bands.run(lambda top, end: small_loops.halved(rows, TO_PLANES, top, out[:, top:end]), half[1])
    return out


def present(encoded: Array) -> float:
    """Estimate the noise of a finished picture, for which no ISO is known.

    Median absolute response to a mask that ignores planes and edges (Immerkaer 1996), turned into a
    standard deviation.
    """
    # The middle is enough, and the frame may be large.
    top, left = (max(0, (n - ENOUGH) // 2) for n in encoded.shape[:2])
    grey = encoded[top : top + ENOUGH, left : left + ENOUGH].mean(-1, dtype=np.float32)
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    response = np.abs(cv2.filter2D(grey, -1, mask))[1:-1, 1:-1]
    return float(np.median(response) / 0.6745 / 6 * np.sqrt(3))
