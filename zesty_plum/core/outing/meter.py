"""What a meter is misled by, and where a grey card and skin lie in the file of a look, so that a
zebra can be set."""

import math
from dataclasses import dataclass

import numpy as np

from ..base.arrays import MID_GREY
from ..base.nominal import in_thirds
from ..develop import point
from ..look import Look, Metering, Sensor
from ..styles import style

# What a frame is mostly, with how much of the light it sends back, and of how much of the frame a
# meter that looks at all of it takes that to be. Fresh snow sends back 0.8 to 0.9 (Warren 1982),
# white cloth about as much; black of night next to nothing.
AROUNDS = {
    "snow": (0.85, 0.5),
    "white cloth": (0.8, 0.35),
    "black of night": (0.01, 0.6),
    "a lit stage": (0.01, 0.5),
}
SKIN = (1 / 3, 1.0)  # stops above mid grey of its lights


@dataclass(frozen=True)
class Levels:
    """Per cent of the file's range: a grey card, and skin from and to."""

    grey: float
    skin: tuple[float, float]


def misled(around: str) -> float:
    """Stops by which a meter that looks at the whole frame exposes wrong, plus is too dark: log2
    of what it sees on the mean, over mid grey."""
    back, share = AROUNDS[around]
    return math.log2((share * back + (1 - share) * MID_GREY) / MID_GREY)


def levels(look: Look, sensor: Sensor, rated: float = 0.0) -> Levels:
    """Where things lie in the file that a look writes, with its bias, and `rated` stops more by an
    exposure index."""
    white = sensor.headroom + look.guard
    made = point.Point(look, style(look.style), white, point.as_tuple(np.eye(3)), False)
    stops = np.array([0.0, *SKIN], np.float32) + np.float32(look.exposure + rated)
    light = np.minimum(MID_GREY * np.exp2(stops), made.clip)
    grey, low, high = (100 * float(v) for v in made.grey_curve(light.astype(np.float32)))
    return Levels(grey, (low, high))


def rows(look: Look, sensor: Sensor, around: str, rated: float) -> list[tuple[str, str]]:
    """Metering and zebra in words."""
    found = levels(look, sensor, rated)
    out = []
    if around:
        out.append(("Metering", _around(look, around)))
    words = f"A grey card reads {found.grey:.0f} %, the lights of skin {found.skin[0]:.0f} to "
    words += f"{found.skin[1]:.0f} %; 100 is clipping. Of this slot's curve."
    out.append(("Zebra", words))
    return out


def _around(look: Look, around: str) -> str:
    off = misled(around)
    more = f"{'+' if off > 0 else '−'}{in_thirds(abs(off))}"
    if look.metering is Metering.HAND:
        return f"Metered by hand, {around} misleads nobody: keep the reading, bias as it stands."
    if look.metering is Metering.HIGHLIGHTS:
        if off > 0:
            return (
                f"Metered for highlights, {around} stays white; look at faces, they may want more."
            )
        return f"Metered for highlights, lamps in {around} make it dark: faces may want more."
    if look.metering is Metering.FRAME:
        side = "too dark" if off > 0 else "too bright"
        return (
            f"The whole frame of {around} comes out {side}: bias about {more}, then look at white."
        )
    where = "spot" if look.metering is Metering.SPOT else "centre"
    return f"The {where} on a face is right without a bias; on {around} it wants about {more}."
