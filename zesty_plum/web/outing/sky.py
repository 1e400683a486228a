"""A day's light as a drawing: bands, the sun's path, what the light is called, and now."""

from dataclasses import dataclass
from datetime import datetime, time

from ...core.outing.daylight import STEP, band, moment, told
from ...core.outing.lights import out_of_doors
from ...core.reckon import sun
from ...store.outings import Outing

WIDE, HIGH, HORIZON = 1240, 96, 58  # of the drawing
ROOM = 60  # across, that a label wants
FIRST, LAST = 5, 24  # hours that are drawn at least


@dataclass(frozen=True)
class Sky:
    """The line of time: hours from and to, bands (from, to, name), the sun's path, hours, and marks
    in words (place, words) in the drawing; rise and set; and where now is, if it is that day."""

    first: int
    last: int
    bands: tuple[tuple[float, float, str], ...]
    path: str
    hours: tuple[tuple[float, str], ...]
    labels: tuple[tuple[float, str], ...]
    rise: str
    set: str
    rises: float
    sets: float
    now: float | None
    told: str = ""

    def at(self, minutes: float) -> float:
        """Where a minute of the day is drawn."""
        return WIDE * (minutes - self.first * 60) / ((self.last - self.first) * 60)


def sky(outing: Outing, now: str) -> Sky:
    """The light of a day from an hour before its first shoot, or from five, to its last."""
    first = max(0, min([FIRST, *(r.shoot.starts // 60 - 1 for r in outing.rows)]))
    last = max([LAST, *(-(-r.shoot.ends // 60) for r in outing.rows)])
    at = outing.place
    span = (last - first) * 60
    every = range(first * 60, last * 60 + 1, STEP)
    names = [band(outing.said, m) for m in every]
    x = [WIDE * (m - first * 60) / span for m in every]
    bands: list[tuple[float, float, str]] = []
    for place, name in zip(x, names, strict=True):
        if bands and bands[-1][2] == name:
            bands[-1] = (bands[-1][0], place, name)
        else:
            bands.append((bands[-1][1] if bands else 0.0, place, name))
    heights = [sun.position(at, moment(outing.said, m))[0] for m in every]
    y = [min(HIGH - 6.0, HORIZON - 0.8 * h) for h in heights]
    path = " ".join(f"{a:.1f},{max(6.0, b):.1f}" for a, b in zip(x, y, strict=True))
    day = sun.day(at, outing.on)
    ticks = [(WIDE * (h - first) * 60 / span, f"{h % 24:02d}") for h in range(first, last + 1)]
    here = datetime.strptime(f"{now}+0000", "%Y-%m-%dT%H:%M:%SZ%z").astimezone(at.clock)
    passed = (here.replace(tzinfo=None) - datetime.combine(outing.on, time())).total_seconds() / 60

    def drawn(moment_: datetime | None) -> float:
        if moment_ is None:
            return -1.0
        return WIDE * (moment_.hour * 60 + moment_.minute - first * 60) / span

    return Sky(
        first,
        last,
        tuple(bands),
        path,
        tuple(ticks),
        _labels(outing, bands),
        day.rise.strftime("%H:%M") if day.rise else "",
        day.set.strftime("%H:%M") if day.set else "",
        drawn(day.rise),
        drawn(day.set),
        WIDE * (passed - first * 60) / span if first * 60 <= passed <= last * 60 else None,
        told(outing.said),
    )


def _labels(outing: Outing, bands: list[tuple[float, float, str]]) -> tuple[tuple[float, str], ...]:
    """What the light of the wider bands is called; by day with the weather and its colour."""
    out = []
    for begin, end, name in bands:
        words = name
        if name == "day":
            low, high = out_of_doors(name, outing.said.weather).kelvins
            words = f"{outing.said.weather}, {low} to {high} K"
        if end - begin > max(ROOM, 7 * len(words)):
            out.append(((begin + end) / 2, words))
    return tuple(out)
