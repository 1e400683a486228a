"""Balance: which light becomes neutral, and the matrix that makes it so."""

import numpy as np

from ..arrays import Matrix
from ..colour.light import DAYLIGHT_MIRED
from ..colour.spaces import D65_XY, REC2020_TO_XYZ, SRGB_TO_XYZ
from ..colour.white import adapt, white_xy
from ..look import Balance, Look

# Keep-warm corrects fully down to 4000 K and only this share of what lies beyond.
WARM_FROM, WARM_SHARE = 250.0, 0.45


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
