"""The scene colour behind a developed one: a look's point stages turned round by damped
Gauss-Newton steps.

No closed form survives hue tables and gamut mapping, but the forward way is smooth and, for flat
styles, close to the identity in logarithms, so a dozen steps from the grey curve's inverse suffice.
Colours that the look cannot make end at the nearest one it can.
"""

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..colour.spaces import REC2020_TO_SRGB, apply_matrix
from .point import Point

SMALL = MID_GREY * 2.0**-9  # keeps black on the logarithmic scale
STEPS, NUDGE = 14, 0.004
DAMPING = 2e-4


def undo(made: Point, encoded: Array) -> Array:
    """Balanced linear Rec.2020 (n, 3) whose development by `made` is nearest `encoded` (n, 3)."""
    top = np.log2(made.clip + SMALL)
    stops = np.linspace(np.log2(SMALL), top, 2048)
    grey = made.grey_curve(np.exp2(stops) - SMALL)
    start = np.interp(encoded, grey, stops)  # per channel, in the display's primaries
    back = np.asarray(np.linalg.inv(REC2020_TO_SRGB), np.float64)
    light = np.maximum(apply_matrix((np.exp2(start) - SMALL).astype(np.float32), back), 0)
    x = np.log2(light + SMALL).astype(np.float64)

    def forward(at: Array) -> Array:
        return made.develop(np.maximum(np.exp2(at) - SMALL, 0).astype(np.float32)).astype(
            np.float64
        )

    now = forward(x)
    for _ in range(STEPS):
        miss = encoded - now
        slopes = np.stack(
            [(forward(x + NUDGE * axis) - now) / NUDGE for axis in np.eye(3)], -1
        )  # (n, 3 out, 3 in)
        normal = np.swapaxes(slopes, 1, 2) @ slopes + DAMPING * np.eye(3)
        step = np.linalg.solve(normal, np.swapaxes(slopes, 1, 2) @ miss[..., None])[..., 0]
        tried = np.clip(x + np.clip(step, -1, 1), np.log2(SMALL), top)
        then = forward(tried)
        better = ((encoded - then) ** 2).sum(-1) < (miss**2).sum(-1)
        x = np.where(better[:, None], tried, x)
        now = np.where(better[:, None], then, now)
        if not better.any():
            break
    return np.maximum(np.exp2(x) - SMALL, 0).astype(np.float32)
