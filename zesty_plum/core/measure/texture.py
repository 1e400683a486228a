"""What a look does to fine detail, on known test pieces: an edge for overshoot, a weave in noise for what a filter keeps."""

from functools import lru_cache

import cv2
import numpy as np

from ..arrays import Array
from ..develop import clarity, detail, point, reduce_noise, sense
from ..look import Look, Sensor

SIDE = 160
WIDTH = 960  # the frame that the test pieces are seen in


@lru_cache(maxsize=4)
def _edge() -> Array:
    """A soft step from 0.30 to 0.70 encoded, as a lens gives it: blurred by 0.7 pixels."""
    step = np.full((SIDE, SIDE), 0.30, np.float32)
    step[:, SIDE // 2 :] = 0.70
    return np.asarray(cv2.GaussianBlur(step, (0, 0), 0.7), np.float32)


def overshoot(look: Look) -> float:
    """Largest overshoot beside the edge after clarity and sharpness, as a share of full scale."""
    luma = _edge().copy()
    if look.clarity:
        clarity.clarify(luma, clarity.base(luma, WIDTH), look.clarity, 0, len(luma))
    if look.sharpness:
        detail.sharpen(luma, look.sharpness)
    row = luma[SIDE // 2]
    return float(max(row.max() - 0.70, 0.30 - row.min(), 0.0))


@lru_cache(maxsize=4)
def _weave() -> tuple[Array, Array]:
    """A fine cloth of 0.10 stops RMS about nothing, and unit noise."""
    rng = np.random.default_rng(7)
    y, x = np.mgrid[0:SIDE, 0:SIDE]
    cloth = (
        np.sin(2 * np.pi * x / 3.6) * np.sin(2 * np.pi * y / 3.6)
        + 0.6 * cv2.GaussianBlur(rng.normal(size=(SIDE, SIDE)), (0, 0), 1.0) * 3
    )
    cloth = 0.10 * (cloth - cloth.mean()) / cloth.std()
    return cloth.astype(np.float32), rng.normal(size=(SIDE, SIDE, 3)).astype(np.float32)


def kept(look: Look, sensor: Sensor, iso: float, width: int = WIDTH) -> float:
    """Share of a fine cloth that the noise filter leaves at an ISO, in mid-tones of a picture `width` pixels wide.

    The slope of what comes out on what went in, noise apart: 1 is untouched.
    """
    if not look.noise_filter:
        return 1.0
    cloth, noise = _weave()
    span = sensor.headroom + look.guard + 8  # stops over the shaper's scale, as in `point`
    low = float(np.log2(point.DARKEST))
    deviation = float(sense.noise_deviation(np.array([0.18], np.float32), sensor, iso, width)[0]) / (0.18 * np.log(2) * span)
    middle = (np.log2(0.18) - low) / span
    picture = (middle + cloth[..., None] / span + deviation * noise).astype(np.float32)
    out = reduce_noise.reduce_noise(picture, deviation, look.noise_filter, look.colour_filter)[..., 1]
    return float((out * cloth).mean() / (cloth * cloth).mean() * span)
