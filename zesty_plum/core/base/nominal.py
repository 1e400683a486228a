"""Apertures, times and ISO values as cameras print them: the conventional names of the third-stop
series.

The names are rounded by custom, not by rule (f/3.5 is 2**(11/6) = 3.56, 1/13 s is 2**(-11/3) =
1/12.7): ISO 2720, ISO 12232.
"""

import itertools
import math
from bisect import bisect

_TEN = (1.0, 1.25, 1.6, 2.0, 2.5, 3.2, 4.0, 5.0, 6.4, 8.0)


def _read(values: str) -> tuple[float, ...]:
    return tuple(map(float, values.split()))


APERTURES = _read(
    "1 1.1 1.2 1.4 1.6 1.8 2 2.2 2.5 2.8 3.2 3.5 4 4.5 5 5.6 6.3 7.1 8 9 10 11 13 14 16 18 20 22 "
    "25 29 32"
)
ISOS = (
    *(t * 10 for t in _TEN[7:]),
    *(t * 100 for t in _TEN),
    *(t * 1000 for t in _TEN),
    *_read("10000 12800 16000 20000 25600 32000 40000 51200 64000 80000 102400"),
)
FRACTIONS = (
    *_read("3 4 5 6 8 10 13 15 20 25 30 40 50 60 80 100 125 160 200 250 320 400 500 640 800"),
    *(t * 1000 for t in _TEN),
    *(t * 10000 for t in _TEN[:6]),
)
SECONDS = _read("0.4 0.5 0.6 0.8 1 1.3 1.6 2 2.5 3.2 4 5 6 8 10 13 15 20 25 30")
TIMES = (*(1 / f for f in reversed(FRACTIONS)), *SECONDS)


def nearest(series: tuple[float, ...], value: float) -> float:
    """The value of an ascending series nearest by ratio; beyond its ends the end."""
    middles = [math.sqrt(a * b) for a, b in itertools.pairwise(series)]
    return series[bisect(middles, value)]


def printed(aperture: float, time: float, iso: float, filter_stops: int = 0) -> str:
    """f-number, time, ISO and a grey filter in a camera's words: f/5.6, 1/250 s, ISO 200, ND8."""
    words = [f"f/{nearest(APERTURES, aperture):g}", f"{printed_time(time)} s"]
    words += [f"ISO {printed_iso(iso)}", *([f"ND{2**filter_stops}"] if filter_stops else [])]
    return ", ".join(words)


def printed_time(time: float) -> str:
    """Seconds in a camera's words: 1/250, or 0.6."""
    shown = nearest(TIMES, time)
    return f"{shown:g}" if shown in SECONDS else f"1/{round(1 / shown)}"


def printed_iso(iso: float) -> str:
    """ISO in a camera's words."""
    return f"{nearest(ISOS, iso):.0f}"


def printed_floor(iso: float) -> str:
    """The least ISO that a camera prints and that is not below `iso`, but for what rounding its own
    numbers makes: 2 %."""
    return f"{next((v for v in ISOS if v >= iso * 0.98), iso):.0f}"


def printed_kelvin(mired: float) -> str:
    """A colour temperature as bodies print it, to ten kelvin."""
    return f"{round(1e6 / mired, -1):.0f} K"


def in_thirds(stops: float) -> str:
    """Stops without a sign in whole ones and thirds: 1 1/3."""
    whole, rest = divmod(round(abs(stops) * 3), 3)
    parts = [str(whole)] if whole else []
    return " ".join([*parts, *([f"{rest}/3"] if rest else [])]) or "0"
