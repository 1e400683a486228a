"""The light of a picture, guessed from the picture alone, as automatic white balance does."""

import numpy as np

from ..base.arrays import MID_GREY, Array
from .spaces import REC2020_TO_XYZ
from .white import mired_and_duv

DAYLIGHT_MIRED = 1e6 / 5300  # the daylight preset; a finished picture's own light counts as this
# What automatic balance believes of a light: outside these limits it stops, as cameras do.
AUTO_COOLEST, AUTO_WARMEST, AUTO_DUV = 1e6 / 7200, 1e6 / 2900, 0.008
ONE_LIGHT = 0.6  # natural log of a channel ratio; the spread of things under one light


def estimate_light(light: Array, power: float = 3.0) -> tuple[float, float]:
    """Guess the light of a picture as (mired, Duv): shades of grey (Finlayson and Trezzi 2004),
    kept to the main light.

    light : (..., 3) linear Rec.2020, not white balanced. Lamps and deep shadow are left out, and so
    are colours far from the commonest one, or a blue window would decide for a room full of lamps.
    Like a camera's, the guess errs under strong colour, and it is not believed outside plausible
    lights.
    """
    flat = np.maximum(light.reshape(-1, 3), 1e-6).astype(np.float64)
    brightest = flat.max(-1)
    inside = flat[(brightest < MID_GREY * 8) & (brightest > MID_GREY / 32)]
    if len(inside) < 16:
        inside = flat
    chroma = np.log(inside[:, [0, 2]] / inside[:, 1:2])
    for _ in range(3):
        near = np.abs(chroma - np.median(chroma, 0)).max(-1) < ONE_LIGHT
        if near.sum() < 16:
            break
        inside, chroma = inside[near], chroma[near]
    mean = np.mean(inside**power, 0) ** (1 / power)
    xyz = REC2020_TO_XYZ @ mean
    mired, duv = mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))
    if mired < DAYLIGHT_MIRED:
        # A frame of sky and sea is not lit by blue light: what looks cooler than daylight is
        # believed by half.
        mired = (mired + DAYLIGHT_MIRED) / 2
    return (
        float(np.clip(mired, AUTO_COOLEST, AUTO_WARMEST)),
        float(np.clip(duv, -AUTO_DUV, AUTO_DUV)),
    )
