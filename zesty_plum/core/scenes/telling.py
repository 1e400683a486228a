"""Where a picture tells most at 100 percent: a place with an edge, with texture and with an even
tone together, neither black nor white."""

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..base.late import library

cv2 = library("cv2")

NEAR = 9  # pixels a side over which detail is judged
EVEN, THREADS, EDGE = 0.05, (0.08, 0.35), 0.5  # deviations in stops of what counts as each
WANTED = (0.25, 0.25, 0.04)  # shares of a crop beyond which more of each tells no more
FROM, TO = -4.5, 2.5  # stops from mid grey between which tones tell something


def place(light: Array, width: int, height: int) -> tuple[float, float]:
    """Middle (x, y), as shares, of the most telling crop `width` by `height` of light (h, w, 3)."""
    rows, columns = light.shape[:2]
    width, height = min(width, columns), min(height, rows)
    stops = np.log2(np.maximum(light.mean(-1), 1e-5) / MID_GREY).astype(np.float32)
    mean = cv2.blur(stops, (NEAR, NEAR))
    deviation = np.sqrt(np.maximum(cv2.blur(stops * stops, (NEAR, NEAR)) - mean * mean, 0))
    lit = (mean > FROM) & (mean < TO)
    kinds = (
        lit & (deviation < EVEN),
        lit & (deviation > THREADS[0]) & (deviation < THREADS[1]),
        lit & (deviation > EDGE),
    )
    score = np.ones(stops.shape, np.float32)
    for kind, enough in zip(kinds, WANTED, strict=True):
        share = cv2.blur(kind.astype(np.float32), (width, height))
        score *= np.minimum(share / enough, 1) + 0.02
    # Only crops that lie inside, and of equals the one nearest the middle.
    y, x = np.mgrid[0:rows, 0:columns]
    inside = (abs(x - (columns - 1) / 2) <= (columns - width) / 2) & (
        abs(y - (rows - 1) / 2) <= (rows - height) / 2
    )
    off = np.hypot((x + 0.5) / columns - 0.5, (y + 0.5) / rows - 0.5)
    at = int(np.argmax(np.where(inside, score * (1 - 0.1 * off), -1)))
    return (at % columns + 0.5) / columns, (at // columns + 0.5) / rows
