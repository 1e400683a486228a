"""Sums and histograms of a picture's colours by region, in one compiled pass; percentiles are read
off the histograms."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..base.arrays import Array, Bytes8
from ..base.loops import loop

Counts = NDArray[np.int64]

BINS = 1024
# Largest value that a histogram tells apart: L*, C*ab, CIEDE2000.
MOST = np.array([101.0, 180.0, 100.0], np.float32)
LIGHTNESS, CHROMA, APART = range(3)


@loop
def _count(
    labels: Bytes8,
    lab: Array,
    apart: Array,
    full: Array,
    greys: Array,
    most: Array,
    histograms: Array,
    sums: Array,
) -> None:
    """Into histograms (labels, 3, BINS), places by square root so that small values are told apart,
    and sums (labels, 8)."""
    last = len(greys) - 1
    for i in range(labels.size):
        light, a, b, label = lab[i, 0], lab[i, 1], lab[i, 2], labels[i]
        chroma = np.sqrt(a * a + b * b)
        values = (light, chroma, apart[i])
        for k in range(3):
            at = int(np.sqrt(max(values[k], np.float32(0)) / most[k]) * BINS)
            histograms[label, k, min(at, BINS - 1)] += 1
        for k, value in enumerate((light, a, b, chroma, apart[i])):
            sums[label, k] += value
        sums[label, 5] += full[i]
        level = min(max(int(light * last / 100 + np.float32(0.5)), 0), last)
        from_a, from_b = a - greys[level, 0], b - greys[level, 1]
        sums[label, 6] += np.sqrt(from_a * from_a + from_b * from_b)
        sums[label, 7] += 1


@loop
def marked(mask: Bytes8, marks: Bytes8, counts: Array) -> None:
    """How many pixels of each label carry each mark, into (labels, 3); the mask may have another
    size than the marks."""
    height, width = marks.shape
    rows, columns = mask.shape
    beside = np.empty(width, np.int64)
    for x in range(width):
        beside[x] = x * columns // width
    for y in range(height):
        row = mask[y * rows // height]
        for x in range(width):
            counts[row[beside[x]], marks[y, x]] += 1


@dataclass(frozen=True, eq=False)
class Tally:
    """Of one region or several: histograms (3, BINS), and sums (7,) of L*, a*, b*, C*ab, CIEDE2000,
    what is full, and how far colours are from the picture's own grey."""

    histograms: Array
    sums: Array
    count: int

    @cached_property
    def _heights(self) -> Counts:
        """How many pixels lie below each place of each histogram (3, BINS + 1)."""
        heights = np.zeros((len(self.histograms), BINS + 1), np.int64)
        np.cumsum(self.histograms, axis=1, out=heights[:, 1:])
        return heights

    def percentile(self, kind: int, share: float) -> float:
        """Value below which `share` percent of the pixels lie; between the places of the histogram
        in proportion."""
        heights = self._heights[kind]
        wanted = share / 100 * heights[-1]
        above = min(int(np.searchsorted(heights, wanted, side="right")), BINS)
        below, top = int(heights[above - 1]), int(heights[above])
        at = above - 1 + (wanted - below) / max(top - below, 1)
        return float((at / BINS) ** 2 * MOST[kind])

    def mean(self, kind: int) -> float:
        """Mean of one of the sums, in their order."""
        return float(self.sums[kind] / max(self.count, 1))

    def __add__(self, other: "Tally") -> "Tally":
        return Tally(
            self.histograms + other.histograms, self.sums + other.sums, self.count + other.count
        )


def tally(
    labels: Bytes8, lab: Array, apart: Array, full: Array, regions: int, greys: Array
) -> list[Tally]:
    """One tally for each label 0 to `regions` of a small picture (h, w); `greys` (n, 2) are a* and
    b* of the picture's greys at even steps of L* from 0 to 100."""
    flat, size = labels.reshape(-1), labels.size
    histograms, sums = np.zeros((regions + 1, 3, BINS), np.int32), np.zeros((regions + 1, 8))
    _count(
        flat,
        lab.reshape(size, 3),
        apart.reshape(size),
        full.reshape(size),
        greys,
        MOST,
        histograms,
        sums,
    )
    return [Tally(histograms[k], sums[k, :7], int(sums[k, 7])) for k in range(regions + 1)]
