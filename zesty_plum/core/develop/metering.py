"""Meter: what each metering mode makes of a frame, as stops to add to a hand-metered exposure.

A scene is stored as a grey card at the subject would expose it, so `HAND` adds nothing. The other
modes err as built-in meters do: they take what they see for mid grey.
"""

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..base.late import library
from ..colour.spaces import LUMINANCE_2020
from ..look import Metering

cv2 = library("cv2")

GRID = (96, 64)  # cells that a frame is judged on
# share of the frame's error that whole-frame metering corrects: it knows snow and night from
# experience
BELIEF = 0.5
MOST = 2.5  # stops that any built-in mode moves either way
CENTRE_WIDTH = 0.18  # standard deviation of the centre's weight as a share of the frame
SPOT = 0.09  # diameter of the spot as a share of the frame's width
TOP_SHARE = 99.8  # percentile that counts as a highlight
MARGIN = 0.15  # stops kept below the clip point


def _cells(light: Array) -> Array:
    """Luminance of linear Rec.2020 light (h, w, 3) on a small grid."""
    small = cv2.resize(np.asarray(light, np.float32), GRID, interpolation=cv2.INTER_AREA)
    return np.asarray(np.maximum(small @ LUMINANCE_2020, 1e-6))


def _distance(at: tuple[float, float]) -> Array:
    """Distance of each cell from a point (x, y given as shares of the frame), in frame widths."""
    y, x = np.mgrid[0 : GRID[1], 0 : GRID[0]]
    return np.asarray(
        np.hypot((x + 0.5) / GRID[0] - at[0], ((y + 0.5) / GRID[1] - at[1]) * GRID[1] / GRID[0])
    )


def _for_highlights(light: Array, clip: float) -> float:
    """Stops that bring the brightest channel of the brightest things below the clip point. Never
    up: who asks for highlights to be held does not ask for a brighter picture."""
    small = cv2.resize(np.asarray(light, np.float32), GRID, interpolation=cv2.INTER_AREA)
    top = max(float(np.percentile(small.max(-1), TOP_SHARE)), 1e-6)
    return float(np.clip(clip - MARGIN - np.log2(top / MID_GREY), -MOST - 1, 0))


def meter(
    light: Array, mode: Metering, clip: float, spot: tuple[float, float] = (0.5, 0.5)
) -> float:
    """Stops that `mode` adds.

    Parameters
    ----------
    light : (h, w, 3) balanced linear Rec.2020, a hand-metered mid grey at 0.18.
    clip : stops from mid grey to the clip point, without any guard: a guard is kept, not spent.
    spot : where the spot lies, as shares of width and height.
    """
    if mode is Metering.HAND:
        return 0.0
    cells = _cells(light)
    if mode is Metering.HIGHLIGHTS:
        return _for_highlights(light, clip)
    if mode is Metering.SPOT:
        inside = _distance(spot) <= max(SPOT / 2, 0.75 / GRID[0])
        return float(np.clip(np.log2(MID_GREY / cells[inside].mean()), -MOST - 1, MOST + 1))
    weight = np.exp(-0.5 * (_distance((0.5, 0.5)) / CENTRE_WIDTH) ** 2)
    if mode is Metering.CENTRE:
        return float(np.clip(np.log2(MID_GREY / np.average(cells, weights=weight)), -MOST, MOST))
    mean = np.average(np.log2(cells / MID_GREY), weights=0.4 + weight)
    gain = -BELIEF * float(mean)
    over = float(np.percentile(cells, 97)) * 2.0**gain / MID_GREY
    # Highlight-aware: where more than a few cells would clip it gives way, by a stop at most.
    gain -= float(np.clip(np.log2(over) - clip, 0, 1))
    return float(np.clip(gain, -MOST, MOST))
