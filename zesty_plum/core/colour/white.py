"""Whites of lights: where a colour temperature lies, how far off the line it is, and adapting from
one to another.

Temperatures go by reciprocal, in mired (a million over kelvin), because equal mired steps look
equal. Distance from the line of lights is Duv in CIE 1960 u, v: plus is greener, minus more
magenta.
"""

from functools import cache

import numpy as np

from ..base.arrays import Matrix
from .spaces import D65_XY, xy_to_xyz

# Black body below, daylight above; they lie 0.003 apart in v, so one blends into the other between
# these.
BLACK_BODY_UNTIL, DAYLIGHT_FROM = 265.0, 235.0  # mired, about 3770 K and 4255 K
WARMEST, COOLEST = 667.0, 40.0  # mired, 1500 K and 25000 K

CAT16: Matrix = np.array(
    [
        [0.401288, 0.650173, -0.051461],
        [-0.250268, 1.204414, 0.045854],
        [-0.002079, 0.048952, 0.953127],
    ]
)


def xy_to_uv(xy: tuple[float, float]) -> tuple[float, float]:
    """CIE 1931 x, y to CIE 1960 u, v."""
    x, y = xy
    d = -2 * x + 12 * y + 3
    return 4 * x / d, 6 * y / d


def uv_to_xy(uv: tuple[float, float]) -> tuple[float, float]:
    """CIE 1960 u, v to CIE 1931 x, y."""
    u, v = uv
    d = 2 * u - 8 * v + 4
    return 3 * u / d, 2 * v / d


def black_body_uv(kelvin: float) -> tuple[float, float]:
    """Chromaticity of a black body, 1000 to 15000 K (Krystek 1985; within 0.0001)."""
    t = kelvin
    u = (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t**2) / (
        1 + 8.42420235e-4 * t + 7.08145163e-7 * t**2
    )
    v = (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t**2) / (
        1 - 2.89741816e-5 * t + 1.61456053e-7 * t**2
    )
    return u, v


def daylight_uv(kelvin: float) -> tuple[float, float]:
    """Chromaticity of CIE daylight, 4000 to 25000 K (CIE 15)."""
    t = kelvin
    if t <= 7000:
        x = -4.6070e9 / t**3 + 2.9678e6 / t**2 + 0.09911e3 / t + 0.244063
    else:
        x = -2.0064e9 / t**3 + 1.9018e6 / t**2 + 0.24748e3 / t + 0.237040
    return xy_to_uv((x, -3.0 * x * x + 2.870 * x - 0.275))


def light_uv(mired: float) -> tuple[float, float]:
    """Chromaticity of the light that a colour temperature names."""
    mired = min(max(mired, COOLEST), WARMEST)
    if mired >= BLACK_BODY_UNTIL:
        return black_body_uv(1e6 / mired)
    if mired <= DAYLIGHT_FROM:
        return daylight_uv(1e6 / mired)
    t = (mired - DAYLIGHT_FROM) / (BLACK_BODY_UNTIL - DAYLIGHT_FROM)
    t = t * t * (3 - 2 * t)
    warm, cool = black_body_uv(1e6 / mired), daylight_uv(1e6 / mired)
    return cool[0] + t * (warm[0] - cool[0]), cool[1] + t * (warm[1] - cool[1])


def white_xy(mired: float, duv: float = 0.0) -> tuple[float, float]:
    """x, y of the light at `mired`, moved `duv` off the line (plus: greener)."""
    u, v = light_uv(mired)
    before, after = light_uv(mired - 1), light_uv(mired + 1)
    du, dv = after[0] - before[0], after[1] - before[1]
    length = float(np.hypot(du, dv))
    return uv_to_xy((u - duv * dv / length, v + duv * du / length))


@cache
def _line() -> tuple[Matrix, Matrix]:
    mired = np.arange(COOLEST, WARMEST + 0.5, 1.0)
    return mired, np.array([light_uv(float(m)) for m in mired])


def mired_and_duv(xy: tuple[float, float]) -> tuple[float, float]:
    """Nearest place on the line of lights, and the signed distance from it."""
    mired, line = _line()
    uv = np.array(xy_to_uv(xy))
    k = int(np.clip(((line - uv) ** 2).sum(1).argmin(), 1, len(mired) - 2))
    along = line[k + 1] - line[k - 1]
    t = float((uv - line[k - 1]) @ along / (along @ along))
    foot = line[k - 1] + t * along
    across = float((along[0] * (uv - foot)[1] - along[1] * (uv - foot)[0]) / np.hypot(*along))
    return float(mired[k - 1] + 2 * t), across


def adapt(source: tuple[float, float], target: tuple[float, float] = D65_XY) -> Matrix:
    """Matrix on XYZ that turns white `source` into `target`: CAT16 used as a von Kries transform
    (Li et al. 2017)."""
    gain = (CAT16 @ xy_to_xyz(target)) / (CAT16 @ xy_to_xyz(source))
    return np.asarray(np.linalg.inv(CAT16) @ np.diag(gain) @ CAT16, np.float64)
