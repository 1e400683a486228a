"""The sun on a day at a place: rise and set, how high and where it stands, and the bands of light.

Positions come from `astral`, whose sums are those of the NOAA solar calculator (after Meeus), to a
minute or so; a horizon of hills or houses is not in them.
"""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from astral import Depression, Observer, SunDirection, sun

from ..base.errors import PlumError
from .light import checked

LOW = 6.0  # degrees, below which the sun is low and its light warm
NAMES = ("night", "dawn", "low sun", "day", "low sun", "dusk", "night")
KELVINS = {
    "night": (0, 0),
    "dawn": (7000, 20000),
    "low sun": (2500, 4500),
    "day": (5000, 6500),
    "dusk": (7000, 20000),
}


@dataclass(frozen=True)
class Place:
    """Where: degrees north and east, and a zone by its name, as Europe/Berlin."""

    latitude: float
    longitude: float
    zone: str

    @property
    def clock(self) -> ZoneInfo:
        """Its zone; PlumError where there is none of that name."""
        try:
            return ZoneInfo(self.zone)
        except (ZoneInfoNotFoundError, ValueError, OSError) as error:
            raise PlumError(
                f"There is no time zone '{self.zone[:40]}'. Give one as Europe/Lisbon."
            ) from error

    @property
    def observer(self) -> Observer:
        """As astral has it."""
        checked("A latitude", self.latitude, -90, 90)
        checked("A longitude", self.longitude, -180, 180)
        return Observer(self.latitude, self.longitude)


def date_of(text: str) -> date:
    """A day as it is written."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError as error:
        raise PlumError(f"'{text[:20]}' is no day. Write it as 2026-11-07.") from error


@dataclass(frozen=True)
class Day:
    """A day's light by local time: civil dawn, rise, the end of the low sun, its begin in the
    evening, set, civil dusk; None where the sun does not come or go. `up`: whether it is above the
    horizon at noon."""

    dawn: datetime | None
    rise: datetime | None
    high: datetime | None
    low: datetime | None
    set: datetime | None
    dusk: datetime | None
    up: bool


def day(at: Place, on: date) -> Day:
    """The light of a day."""
    seen, clock = at.observer, at.clock

    def when(of: str, elevation: float | None = None) -> datetime | None:
        try:
            if elevation is not None:
                way = SunDirection.RISING if of == "up" else SunDirection.SETTING
                return sun.time_at_elevation(seen, elevation, on, way, clock)
            if of in ("dawn", "dusk"):
                found = getattr(sun, of)(seen, on, Depression.CIVIL, clock)
            else:
                found = getattr(sun, of)(seen, on, clock)
        except ValueError:
            return None
        return found if isinstance(found, datetime) else None

    noon = sun.noon(seen, on, clock)
    return Day(
        when("dawn"),
        when("sunrise"),
        when("up", LOW),
        when("down", LOW),
        when("sunset"),
        when("dusk"),
        sun.elevation(seen, noon) > 0,
    )


def position(at: Place, moment: datetime) -> tuple[float, float]:
    """Degrees above the horizon, and bearing from north over east."""
    return sun.elevation(at.observer, moment), sun.azimuth(at.observer, moment)


def band(at: Place, moment: datetime) -> str:
    """The band of light at a moment, by how high the sun stands."""
    height, _ = position(at, moment)
    later, _ = position(at, moment + timedelta(minutes=4))
    if height < -6:
        return "night"
    if height < -0.833:
        return "dawn" if later > height else "dusk"
    return "low sun" if height < LOW else "day"
