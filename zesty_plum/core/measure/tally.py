"""Sums and histograms of a picture's colours by region, in one compiled pass; percentiles are read off the histograms."""

from dataclasses import dataclass

import numba
import numpy as np

from ..arrays import Array, Bytes8

BINS = 1024
# Largest value that a histogram tells apart: L*, C*ab, CIEDE2000, and responses to noise in L* and in a*, b*.
MOST = np.array([101.0, 180.0, 100.0, 60.0, 60.0], np.float32)
LIGHTNESS, CHROMA, APART, NOISE, COLOUR_NOISE = range(5)


@numba.njit(nogil=True, cache=True)
def _count(labels: Bytes8, values: Array, most: Array, histograms: Array) -> None:
    """`values` (n, 5) into histograms (labels, 5, BINS), places by square root so that small ones are told apart."""
    for i in range(labels.size):
        for k in range(5):
            at = int(np.sqrt(max(values[i, k], np.float32(0)) / most[k]) * BINS)
            histograms[labels[i], k, min(at, BINS - 1)] += 1


@numba.njit(nogil=True, cache=True)
def marked(mask: Bytes8, marks: Bytes8, counts: Array) -> None:
    """How many pixels of each label carry each mark, into (labels, 3); the mask may have another size than the marks."""
    height, width = marks.shape
    rows, columns = mask.shape
    for y in range(height):
        row = y * rows // height
        for x in range(width):
            counts[mask[row, x * columns // width], marks[y, x]] += 1


@dataclass(frozen=True, eq=False)
class Tally:
    """Of one region or several: histograms (5, BINS), and sums (6,) of L*, a*, b*, C*ab, CIEDE2000 and what is full."""

    histograms: Array
    sums: Array
    count: int

    def percentile(self, kind: int, share: float) -> float:
        """Value below which `share` percent of the pixels lie; between the places of the histogram in proportion."""
        heights = np.cumsum(self.histograms[kind])
        at = np.interp(share / 100 * heights[-1], np.concatenate([[0], heights]), np.arange(BINS + 1))
        return float((at / BINS) ** 2 * MOST[kind])

    def mean(self, kind: int) -> float:
        """Mean of one of the sums, in their order."""
        return float(self.sums[kind] / max(self.count, 1))

    def __add__(self, other: "Tally") -> "Tally":
        return Tally(self.histograms + other.histograms, self.sums + other.sums, self.count + other.count)


def tally(labels: Bytes8, lab: Array, apart: Array, noise: tuple[Array, Array], full: Array, regions: int) -> list[Tally]:
    """One tally for each label 0 to `regions` of a small picture (h, w)."""
    flat = labels.reshape(-1)
    chroma = np.hypot(lab[..., 1], lab[..., 2])
    values = np.stack([lab[..., 0], chroma, apart, *noise], -1).reshape(-1, 5).astype(np.float32)
    histograms = np.zeros((regions + 1, 5, BINS), np.int32)
    _count(flat, values, MOST, histograms)
    parts = (lab[..., 0], lab[..., 1], lab[..., 2], chroma, apart, full)
    sums = np.stack([np.bincount(flat, np.asarray(part, np.float64).reshape(-1), regions + 1) for part in parts], 1)
    counts = np.bincount(flat, minlength=regions + 1)
    return [Tally(histograms[k], sums[k], int(counts[k])) for k in range(regions + 1)]
