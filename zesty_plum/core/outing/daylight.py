"""The light of a day at its place: what each minute's is called, which light a shoot is in, and
where the sun stands for it."""

import itertools
from dataclasses import replace
from datetime import datetime, time, timedelta

from ..reckon import sun
from .day import Day
from .lights import FIXED, Light, out_of_doors
from .shoot import Shoot
from .sunlight import row

STEP = 10  # minutes from look to look at the sun


def moment(day: Day, minutes: int) -> datetime:
    """A minute of a day by the clocks of its place."""
    return datetime.combine(day.on, time(), day.where.clock) + timedelta(minutes=minutes)


def band(day: Day, minutes: int) -> str:
    """The band of light of a minute."""
    return sun.band(day.where, moment(day, minutes))


def told(day: Day) -> str:
    """Sunrise and sunset, and clocks that change, in sentences."""
    found = sun.day(day.where, day.on)
    if found.rise and found.set:
        words = f"Sunrise {found.rise:%H:%M}, sunset {found.set:%H:%M}."
    elif found.rise or found.set:
        words = f"Sunrise {found.rise:%H:%M}." if found.rise else f"Sunset {found.set:%H:%M}."
    else:
        words = "The sun does not set." if found.up else "The sun does not rise."
    begin, end = (moment(day, m).utcoffset() or timedelta() for m in (0, 24 * 60))
    if begin != end:
        way = "forward" if end > begin else "back"
        words += f" The clocks go {way} that night: plan by the new time."
    return words


def light_of(day: Day, shoot: Shoot) -> Light:
    """The light of a shoot: the sun's at its middle, or the kind that it is in."""
    if shoot.light != "out":
        made = FIXED[shoot.light]
    else:
        middle = band(day, (shoot.starts + shoot.ends) // 2)
        made = out_of_doors(middle, shoot.weather or day.weather)
    return replace(made, kelvins=(shoot.kelvin, shoot.kelvin)) if shoot.kelvin else made


def sun_of(day: Day, shoot: Shoot) -> str:
    """Where the sun stands in the middle of a shoot out of doors, and how the light changes
    meanwhile; empty under a roof and by night."""
    if shoot.light != "out":
        return ""
    middle = moment(day, (shoot.starts + shoot.ends) // 2)
    words = row(*sun.position(day.where, middle), shoot.looking)
    names = [(m, band(day, m)) for m in range(shoot.starts, shoot.ends + 1, STEP)]
    for (_, before), (minute, after) in itertools.pairwise(names):
        if before != after:
            words += f" From about {moment(day, minute):%H:%M} {after}."
    return words.strip()
