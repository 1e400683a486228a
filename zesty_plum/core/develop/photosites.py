"""Photosites and pixels: what noise is like behind a mosaic of coloured filters, and what is left
of fine things when a picture is shown smaller than the sensor.

Each photosite sees one colour; the other two of a pixel are worked out from its neighbours. That
makes noise of neighbouring pixels alike, and as there are only half as many green photosites as
pixels and a quarter of each other, averaging takes less of it away than of independent noise: by
1.4 times less in green and twice less in red and blue. Ours are the linear filters of Malvar, He
and Cutler (2004), whose noise is within a tenth of what LibRaw's demosaicing by hue leaves at 100
percent and averaged 4 by 4 and 8 by 8 (tests/core/test_photosites.py).

A picture `pitch` pixels a photosite is one of which a pixel averages 1 / pitch photosites each way.
"""

import math
from functools import lru_cache

import numpy as np

from ..base.arrays import Array
from ..base.late import library

cv2 = library("cv2")

_GREEN = np.array(
    [[0, 0, -1, 0, 0], [0, 0, 2, 0, 0], [-1, 2, 4, 2, -1], [0, 0, 2, 0, 0], [0, 0, -1, 0, 0]]
)
_BESIDE = np.array(
    [[0, 0, 0.5, 0, 0], [0, -1, 0, -1, 0], [-1, 4, 5, 4, -1], [0, -1, 0, -1, 0], [0, 0, 0.5, 0, 0]]
)
_ACROSS = np.array(
    [
        [0, 0, -1.5, 0, 0],
        [0, 2, 0, 2, 0],
        [-1.5, 0, 6, 0, -1.5],
        [0, 2, 0, 2, 0],
        [0, 0, -1.5, 0, 0],
    ]
)
# From this many photosites a pixel on, noise is drawn by its law; below, it is the mosaic's own.
FEW = 1.5
# Deviation over that of independent noise once many are averaged, how fast it is reached, and the
# share that the three colours have in common; fitted to the mosaic's own field within 3 %.
FAR, SOON, SHARED = np.array([2.0, 2**0.5, 2.0]), np.array([1.3, 0.55, 1.3]), 0.8
SMALLEST = 0.5  # deviation in pixels below which a sampled Gaussian would lose its width


def demosaiced(mosaic: Array) -> Array:
    """The three colours (h, w, 3) of a mosaic (h, w) whose rows go red, green and green, blue."""
    seen = np.ascontiguousarray(mosaic, np.float32)
    green, level, upright, across = (
        cv2.filter2D(seen, -1, mask / 8) for mask in (_GREEN, _BESIDE, _BESIDE.T, _ACROSS)
    )
    out = np.repeat(seen[..., None], 3, -1)
    red, blue = (slice(0, None, 2),) * 2, (slice(1, None, 2),) * 2
    red_row, blue_row = (
        (slice(0, None, 2), slice(1, None, 2)),
        (slice(1, None, 2), slice(0, None, 2)),
    )
    for place in (red, blue):
        out[(*place, 1)] = green[place]
    for colour, own, other in ((0, red_row, blue_row), (2, blue_row, red_row)):
        out[(*own, colour)] = level[own]
        out[(*other, colour)] = upright[other]
    out[(*blue, 0)], out[(*red, 2)] = across[blue], across[red]
    return out


@lru_cache(maxsize=3)
def unit_noise(height: int, width: int, seed: int, pitch: float = 1.0) -> Array:
    """Noise (height, width, 3) of a sensor whose photosites have a deviation of 1, averaged to
    pixels of `pitch`, times the photosites a side of a pixel; the same for the same seed. It can be
    laid below itself without a seam if its height is even."""
    rng = np.random.default_rng([seed, 1])
    many = 1 / pitch
    if many < FEW:
        mosaic = np.pad(rng.standard_normal((height, width), dtype=np.float32), 4, mode="wrap")
        return np.ascontiguousarray(demosaiced(mosaic)[4:-4, 4:-4])
    alike = SHARED / many
    noise = rng.standard_normal((height, width, 3), dtype=np.float32)
    noise *= np.float32(np.sqrt(1 - alike))
    noise += np.float32(np.sqrt(alike)) * rng.standard_normal((height, width, 1), dtype=np.float32)
    return noise * (FAR - SOON / many).astype(np.float32)


# Dark current of photosites at 25 degrees: most have a little, e-/s as log-normal with this median
# and spread; one in some thousands is hot, by this mean.
DARK, UNEVEN, HOT, HOTTEST = 0.06, 0.9, 1 / 2500, 40.0
DOUBLES = 6.5  # degrees by which dark current doubles


@lru_cache(maxsize=2)
def dark_current(height: int, width: int, pitch: float = 1.0) -> Array:
    """Electrons a second (height, width, 3) that photosites gather in the dark at 25 degrees, less
    their mean: the same pattern every time, as it is the sensor's own."""
    rng = np.random.default_rng(77)
    many = 1 / pitch
    if many < FEW:
        current = DARK * np.exp(UNEVEN * rng.standard_normal((height, width), dtype=np.float32))
        hot = rng.random((height, width), dtype=np.float32) < HOT
        current[hot] += rng.exponential(HOTTEST, int(hot.sum())).astype(np.float32)
        current -= DARK * np.float32(math.exp(UNEVEN**2 / 2))
        return np.ascontiguousarray(demosaiced(np.pad(current, 4, mode="wrap"))[4:-4, 4:-4])
    shape, each = (height, width, 3), np.array([0.25, 0.5, 0.25]) * many**2
    spread = DARK * math.exp(UNEVEN**2 / 2) * math.sqrt(math.exp(UNEVEN**2) - 1)
    current = spread / np.sqrt(each) * rng.standard_normal(shape, dtype=np.float32)
    many_hot = rng.poisson(HOT * each, shape)
    current = current + rng.gamma(np.maximum(many_hot, 1e-6), HOTTEST) * (many_hot > 0) / each
    return current.astype(np.float32)


def blurred(image: Array, deviation: float) -> Array:
    """An image (h, w) or (h, w, n) under a Gaussian of a deviation in pixels, however small: three
    taps of the same variance where samples of the Gaussian would lose it."""
    if deviation >= SMALLEST:
        return np.asarray(cv2.GaussianBlur(image, (0, 0), deviation))
    side = deviation * deviation / 2
    taps = np.array([side, 1 - 2 * side, side])
    return np.asarray(cv2.sepFilter2D(image, -1, taps, taps))


def averaged(deviation: float, pitch: float) -> tuple[float, float]:
    """Of unit noise under a Gaussian of `deviation` photosites, averaged 1 / pitch photosites a
    side: its deviation, and that in pixels of a Gaussian under which neighbours are as alike."""
    many = 1 / pitch
    if many < FEW:
        return 1.0, deviation * pitch
    apart = np.arange(-2 * math.ceil(many), 2 * math.ceil(many) + 1)
    alike = np.exp(-((apart / (2 * deviation)) ** 2))
    own, next_to = (
        float((np.maximum(many - abs(apart - shift), 0) / many**2 * alike).sum())
        for shift in (0, many)
    )
    # Three taps a, 1 - 2 a, a make neighbours alike by 2 a (1 - 2 a) / ((1 - 2 a)^2 + 2 a^2).
    common = next_to / own
    side = common / (1 + 2 * common + math.sqrt(1 - 2 * common * common))
    return own, math.sqrt(2 * side)
