"""Light and exposure: exposure values, grey filters, hands, movement, exposure index."""

import math
from dataclasses import dataclass

from ..base.errors import PlumError

INCIDENT = 2.5  # lux at EV 0, ISO 100: C = 250 of ISO 2720
SOLD = (1, 2, 3, 4, 6, 8, 10)  # stops of grey filters that are sold
MOST = 1e9


def checked(name: str, value: float, low: float, high: float = MOST) -> float:
    """A number within its range; PlumError says which that is."""
    if not math.isfinite(value) or not low <= value <= high:
        top = f" to {high:g}" if high < MOST else " or more"
        raise PlumError(f"{name} is a number from {low:g}{top}, not {value:g}.")
    return value


def ev100(aperture: float, seconds: float, iso: float = 100.0) -> float:
    """Exposure value at ISO 100 of settings that expose right: log2(N^2 / t) - log2(ISO / 100)
    (ISO 2720)."""
    checked("An aperture", aperture, 0.5, 128)
    checked("A time", seconds, 1e-6, 86400)
    checked("An ISO", iso, 1, 1e7)
    return math.log2(aperture**2 / seconds) - math.log2(iso / 100)


def lux(ev: float) -> float:
    """Light on the subject, lux."""
    return float(INCIDENT * 2.0**ev)


def time_for(ev: float, aperture: float, iso: float) -> float:
    """Seconds that expose right."""
    return float(aperture**2 / 2.0 ** (ev + math.log2(iso / 100)))


def stops_of(factor: float) -> float:
    """Stops of a filter's factor: log2."""
    return math.log2(checked("A factor", factor, 1))


def density_of(factor: float) -> float:
    """Optical density of a filter's factor: log10."""
    return math.log10(checked("A factor", factor, 1))


@dataclass(frozen=True)
class Filter:
    """stops : that bring the light down to the exposure; sold : the filter in a bag nearest below
    it, in stops; rest : what is left to the aperture."""

    stops: float
    sold: int
    rest: float


def filter_for(ev: float, aperture: float, iso: float, seconds: float) -> Filter:
    """The grey filter that exposes right in a light."""
    stops = ev + math.log2(iso / 100) - math.log2(aperture**2 / seconds)
    sold = max((s for s in SOLD if s <= stops + 1 / 6), default=0)
    return Filter(stops, sold, stops - sold)


def by_hand(focal: float, crop: float = 1.0, stabilised: float = 0.0) -> float:
    """Slowest time that hands hold still, seconds: one over focal length times crop, a stop slower
    for each stop of stabilisation. A rule of thumb, older than any standard."""
    checked("A focal length", focal, 1, 5000)
    checked("A crop factor", crop, 0.1, 20)
    checked("Stops of stabilisation", stabilised, 0, 12)
    return float(2.0**stabilised / (focal * crop))


def blur(speed: float, distance: float, focal: float, seconds: float, photosite: float) -> float:
    """How far what crosses the frame moves while it is open, in photosites. speed : m/s; distance :
    m; focal : mm; photosite : micrometres. speed x time x f / (distance - f)."""
    f = checked("A focal length", focal, 1, 5000) / 1000
    if distance <= f:
        raise PlumError("The subject is nearer than the focal length. Give metres and millimetres.")
    return (
        speed * seconds * f / (distance - f) / (checked("A photosite", photosite, 0.3, 50) * 1e-6)
    )


@dataclass(frozen=True)
class Index:
    """Stops of room above and below mid grey at an exposure index."""

    above: float
    below: float


def at_index(base: float, above: float, index: float, below: float = 8.0) -> Index:
    """Room at an index, for a file that is recorded at the base ISO: what goes up above comes from
    below. log2(index / base) stops move."""
    checked("A base ISO", base, 1, 1e7)
    checked("An index", index, 1, 1e7)
    moved = math.log2(index / base)
    return Index(above + moved, below - moved)


def guard_iso(base: float, stops: float) -> float:
    """The least ISO of a guard: base x 2^stops."""
    return float(base * 2.0**stops)
