"""What a look does to fine detail, on known test pieces: an edge for overshoot, a weave in noise
for what a filter keeps."""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np

from ..base.arrays import Array
from ..base.late import library
from ..colour.spaces import LUMA_709
from ..develop import local, photosites, point, reduce_noise, sense, soften
from ..develop.part import alone
from ..look import Look, Sensor

cv2 = library("cv2")

SIDE = 160
WIDTH = 960  # the frame that the test pieces are seen in
SLANT, LENS = np.radians(5), 0.7  # of the edge
FINE, REACH = 0.25, 20.0  # pixels between the places of the edge's profile, and how far it goes


@lru_cache(maxsize=4)
def _edge() -> tuple[Array, Array]:
    """An edge from 0.30 to 0.70 encoded, five degrees off upright, blurred by `LENS` pixels; and
    each pixel's distance from it."""
    y, x = np.mgrid[0:SIDE, 0:SIDE] - (SIDE - 1) / 2
    away = x * np.cos(SLANT) + y * np.sin(SLANT)
    risen = np.vectorize(lambda d: math.erf(d / LENS / math.sqrt(2)))(away)
    return (0.50 + 0.20 * risen).astype(np.float32), away


def _shaped(look: Look) -> Array:
    luma = _edge()[0].copy()
    local.shaped(luma, look, alone(luma.shape, WIDTH))
    return luma


def profile(look: Look, reach: int = 12) -> Array:
    """A row across the edge after the stages that look at neighbours, `reach` pixels to each
    side."""
    middle = SIDE // 2
    return _shaped(look)[middle, middle - reach : middle + reach]


def edge(look: Look) -> tuple[float, float]:
    """(overshoot, mtf50): largest overshoot beside the edge after the stages that look at
    neighbours, as a share of full scale, and the spatial frequency in cycles per pixel at which
    half the contrast is left, by the slanted edge (ISO 12233)."""
    own = {n: getattr(look, n) for stage in local.STAGES if stage.shape for n in stage.fields}
    return _edge_of(replace(Look(), **own))


@lru_cache(maxsize=64)
def _edge_of(look: Look) -> tuple[float, float]:
    luma, away = _shaped(look), _edge()[1]
    inner = slice(16, -16)  # where the square's own border plays no part
    luma, away = luma[inner, inner], away[inner, inner]
    over = float(max(luma.max() - 0.70, 0.30 - luma.min(), 0.0))
    places = np.round(away / FINE).astype(int)
    near = np.abs(places) <= REACH / FINE
    at = places[near] + round(REACH / FINE)
    profile = np.bincount(at, luma[near]) / np.bincount(at)
    line = np.diff(profile) * np.hanning(len(profile) - 1)
    contrast = np.abs(np.fft.rfft(line, 8192))
    frequency = np.fft.rfftfreq(8192, FINE)
    below = int(np.argmax(contrast / contrast[0] < 0.5))
    return over, float(
        np.interp(
            -0.5, -contrast[below - 1 : below + 1] / contrast[0], frequency[below - 1 : below + 1]
        )
    )


@lru_cache(maxsize=4)
def _weave() -> tuple[Array, Array]:
    """A fine cloth of 0.10 stops RMS about nothing, and a sensor's unit noise."""
    rng = np.random.default_rng(7)
    y, x = np.mgrid[0:SIDE, 0:SIDE]
    cloth = (
        np.sin(2 * np.pi * x / 3.6) * np.sin(2 * np.pi * y / 3.6)
        + 0.6 * cv2.GaussianBlur(rng.normal(size=(SIDE, SIDE)), (0, 0), 1.0) * 3
    )
    cloth = 0.10 * (cloth - cloth.mean()) / cloth.std()
    return cloth.astype(np.float32), photosites.unit_noise(SIDE, SIDE, 7)


def kept(look: Look, sensor: Sensor, iso: float) -> float:
    """Share of a fine cloth that the noise filter leaves at an ISO, in mid-tones at 100 percent.

    The slope of what comes out on what went in, noise apart: 1 is untouched.
    """
    if not look.noise_filter:
        return 1.0
    span = sensor.headroom + look.guard + 8  # stops over the shaper's scale, as in `point`
    return _kept(look.noise_filter, look.colour_filter, span, sensor, iso)


SKIN, CLOTH = (0.72, 0.55, 0.45), (0.55, 0.55, 0.55)  # encoded colours of test pieces


def softened(look: Look) -> tuple[float, float]:
    """Shares of fine texture that softening leaves in skin and outside it; 1 is untouched."""
    return _softened(look.softening) if look.softening else (1.0, 1.0)


@lru_cache(maxsize=16)
def _softened(softening: float) -> tuple[float, float]:
    cloth, left = 0.2 * _weave()[0], []  # an RMS of 2 % of full scale
    for colour in (SKIN, CLOTH):
        encoded = np.array(colour, np.float32) + cloth[..., None]
        luma = np.asarray(encoded @ LUMA_709, np.float32)
        soften.shape(luma, Look(softening=softening), alone(luma.shape, WIDTH, colours=encoded))
        left.append(float(((luma - luma.mean()) * cloth).mean() / (cloth * cloth).mean()))
    return left[0], left[1]


@lru_cache(maxsize=64)
def _kept(strength: float, colour: float, span: float, sensor: Sensor, iso: float) -> float:
    cloth, noise = _weave()
    low = float(np.log2(point.DARKEST))
    deviation = float(
        sense.noise_deviation(np.array([0.18], np.float32), sensor, iso, sensor.width)[0]
    ) / (0.18 * np.log(2) * span)
    middle = (np.log2(0.18) - low) / span
    picture = (middle + cloth[..., None] / span + deviation * noise).astype(np.float32)
    out = reduce_noise.reduce_noise(picture, deviation, strength, colour, mosaic=True)[..., 1]
    return float((out * cloth).mean() / (cloth * cloth).mean() * span)
