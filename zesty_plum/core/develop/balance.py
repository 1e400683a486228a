"""Balance: which light becomes white, what a shift makes of that white, and the matrix that does
both.

A shift moves the white that is aimed at, not the light that is taken for the scene's. So a grey
card comes out in the same colour under every lamp, and a step looks the same everywhere (a shift of
the light itself would show 2.7 units of CIEDE2000 a step at 2500 K and 1.1 at 9500 K, and turn
warm to violet under warm lamps).
"""

from functools import lru_cache

import numpy as np

from ..base.arrays import Matrix
from ..colour.light import DAYLIGHT_MIRED
from ..colour.spaces import D65_XY, REC2020_TO_XYZ, SRGB_TO_XYZ, xy_to_xyz
from ..colour.white import adapt, mired_and_duv, white_xy
from ..look import Balance, Look

# Keep-warm corrects fully down to 4000 K and only this share of what lies beyond.
WARM_FROM, WARM_SHARE = 250.0, 0.45
WHITE = mired_and_duv(D65_XY)  # of the display
Light = tuple[float, float]  # mired and Duv


def keep_warm(mired: float) -> float:
    """The light that keep-warm balances for when the scene's is `mired`."""
    return mired if mired <= WARM_FROM else WARM_FROM + WARM_SHARE * (mired - WARM_FROM)


def assumed_light(look: Look, auto: Light, card: Light) -> Light:
    """The light that a look takes for the scene's, before its shift.

    auto, card : what the automatic estimate and a grey card say of the scene.
    """
    if look.balance is Balance.GREY_CARD:
        return card
    if look.balance is Balance.FIXED:
        return look.light_mired, 0.0
    if look.balance is Balance.KEEP_WARM:
        return keep_warm(auto[0]), auto[1]
    return auto


def _white(shift: Light) -> tuple[float, float]:
    """x, y of the display's white, moved warmer by mired and greener by Duv."""
    if not any(shift):
        return D65_XY
    return white_xy(WHITE[0] + shift[0], WHITE[1] + shift[1])


def neutral_light(look: Look, auto: Light, card: Light) -> Light:
    """The light under which a grey card comes out neutral: the assumed one, and the other way by
    the shift."""
    light = white_xy(*assumed_light(look, auto, card))
    shift = look.shift_mired, look.shift_duv
    xyz = np.linalg.solve(adapt(light, _white(shift)), xy_to_xyz(D65_XY))
    return mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))


def look_matrix(look: Look, auto: Light, card: Light, finished: bool = False) -> Matrix:
    """`balance_matrix` of a look where the automatic estimate and a grey card say these lights."""
    light = assumed_light(look, auto, card)
    return balance_matrix(light, finished, (look.shift_mired, look.shift_duv))


@lru_cache(maxsize=64)  # a picture asks for its own twice, a strip for one
def balance_matrix(light: Light, finished: bool = False, shift: Light = (0.0, 0.0)) -> Matrix:
    """Matrix that balances linear Rec.2020, or for a finished picture its own linear sRGB, in
    place, read-only; a shift of (mired, Duv) is warmer and greener than white."""
    adaptation = adapt(white_xy(*light), _white(shift))
    if finished:
        # Put the picture back under its light, then balance: the daylight preset leaves it as it
        # is.
        adaptation = adaptation @ adapt(D65_XY, white_xy(DAYLIGHT_MIRED))
    space = SRGB_TO_XYZ if finished else REC2020_TO_XYZ
    made = np.asarray(np.linalg.inv(space) @ adaptation @ space, np.float64)
    made.flags.writeable = False
    return made
