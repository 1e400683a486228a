"""Balance: which light becomes neutral, and the matrix that makes it so."""

import numpy as np

from ..arrays import MID_GREY, Array, Matrix
from ..colour.spaces import D65_XY, REC2020_TO_XYZ, SRGB_TO_XYZ
from ..colour.white import adapt, mired_and_duv, white_xy
from ..look import Balance, Look

DAYLIGHT_MIRED = 1e6 / 5300  # the daylight preset; a finished picture's own light counts as this
# What automatic balance believes of a light: outside these limits it stops, as cameras do.
AUTO_COOLEST, AUTO_WARMEST, AUTO_DUV = 1e6 / 7200, 1e6 / 2900, 0.008
ONE_LIGHT = 0.6  # natural log of a channel ratio; the spread of things under one light
# Keep-warm corrects fully down to 4000 K and only this share of what lies beyond.
WARM_FROM, WARM_SHARE = 250.0, 0.45


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


def keep_warm(mired: float) -> float:
    """The light that keep-warm balances for when the scene's is `mired`."""
    return mired if mired <= WARM_FROM else WARM_FROM + WARM_SHARE * (mired - WARM_FROM)


def assumed_light(
    look: Look, auto: tuple[float, float], card: tuple[float, float]
) -> tuple[float, float]:
    """The light (mired, Duv) that a look takes for neutral.

    auto, card : what the automatic estimate and a grey card say of the scene.
    """
    if look.balance is Balance.GREY_CARD:
        mired, duv = card
    elif look.balance is Balance.FIXED:
        mired, duv = look.light_mired, 0.0
    elif look.balance is Balance.KEEP_WARM:
        mired, duv = keep_warm(auto[0]), auto[1]
    else:
        mired, duv = auto
    # To look warmer, take the light for cooler than it is; to look greener, for more magenta.
    return mired - look.shift_mired, duv - look.shift_duv


def balance_matrix(light: tuple[float, float], finished: bool) -> Matrix:
    """Matrix that balances linear Rec.2020, or for a finished picture its own linear sRGB, in
    place."""
    adaptation = adapt(white_xy(*light), D65_XY)
    if finished:
        # Put the picture back under its light, then balance: the daylight preset leaves it as it
        # is.
        adaptation = adaptation @ adapt(D65_XY, white_xy(DAYLIGHT_MIRED))
    space = SRGB_TO_XYZ if finished else REC2020_TO_XYZ
    return np.asarray(np.linalg.inv(space) @ adaptation @ space, np.float64)
