"""What is measured of a look in a scene: the figures by name, and a way to ask for one by its
path."""

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import Any

SCREEN = 1920  # pixels across a picture when its noise is judged: a screen that it fills


@dataclass(frozen=True)
class Figures:
    """Of one region or of the frame.

    share : of the frame. clipped, crushed : shares of its pixels. lightness : mean L*. lights,
    darks : L* of its lightest and darkest tenth. spread : stops of display light between its 5th
    and 95th percentile. chroma, chroma_high : mean and 95th percentile of C*ab. a, b : mean a* and
    b*. colour : mean distance in a*, b* from what a grey of the same lightness comes out as, so
    that a cast is not taken for colour.
    hue : of the mean colour in degrees. from_plain, from_plain_high : CIEDE2000 from the reference,
    mean and 95th percentile, None where they were not worked out.
    noise, colour_noise : standard deviation of noise in L* and in a*, b* (root of the sum of
    squares) of a grey as light as the region's mean, on a screen `SCREEN` pixels wide. full : share
    where one channel is at an end of its range and the colour far from grey, so that chroma has no
    room left.
    """

    share: float
    clipped: float
    crushed: float
    lightness: float
    lights: float
    darks: float
    spread: float
    chroma: float
    chroma_high: float
    colour: float
    a: float
    b: float
    hue: float
    from_plain: float | None
    from_plain_high: float | None
    noise: float
    colour_noise: float
    full: float


@dataclass(frozen=True)
class Cast:
    """How far grey things are from grey: mean a*, b* as displayed, and of their balanced light,
    whatever the style makes of it: plus mired is too warm, plus Duv too green. `shown` and
    `shown_duv` are the same of what is displayed, style and all; `unmeant` and `unmeant_duv` of the
    light again, less what a shift that somebody chose is wished to do."""

    a: float
    b: float
    mired: float
    duv: float
    shown: float
    shown_duv: float
    unmeant: float
    unmeant_duv: float


@dataclass(frozen=True)
class Curve:
    """Of the look's tone, whatever the picture: contrast at mid grey (log display light per log
    scene light), stops from black to white that it holds, encoded mid grey, and the fewest code
    values of a stop, from three below to two above mid grey, at 8 and 10 bits, as written and after
    a grade that gives Plain's contrast back. `stretch` : how many of a screen's 255 steps one code
    value of the look's own output becomes then, where it is most. `middle` : units of L* from a
    stop below mid grey to a stop above, bias included; `reach` : the same from three below to two
    above, without it."""

    contrast: float
    stops: float
    grey: float
    middle: float
    reach: float
    codes_8: float
    codes_10: float
    graded_8: float
    graded_10: float
    stretch: float


@dataclass(frozen=True)
class Skin:
    """All skins of a scene together: hue from the skin line in degrees (plus is yellower), chroma,
    lightness, and stops of scene light by which they are darker than as shipped (through Plain's
    contrast)."""

    off_line: float
    chroma: float
    lightness: float
    darker: float


@dataclass(frozen=True)
class Detail:
    """What the look does to fine detail: overshoot and MTF50 of an edge, share of a cloth that the
    noise filter keeps, shares of fine texture that softening leaves in skin and outside it, RMS of
    grain at mid grey as a share of full scale and how many photosites it is across."""

    overshoot: float
    mtf50: float
    kept: float
    skin_kept: float
    rest_kept: float
    grain: float
    grain_size: float


@dataclass(frozen=True)
class Blur:
    """What time does, in pixels of a picture `SCREEN` wide: to people and animals, to everything by
    hand; and the time in seconds."""

    people: float
    hand: float
    time: float


@dataclass(frozen=True)
class Flags:
    """What is so of the look, as numbers: whether the style is monochrome, how many times as full
    as in Plain it makes colours, and the stops that bias and metering are above a grey card at the
    subject."""

    monochrome: float
    vivid: float
    bias: float


@dataclass(frozen=True)
class Report:
    """All figures of a look in a scene."""

    frame: Figures
    regions: dict[str, Figures]
    cast: Cast | None
    skin: Skin | None
    curve: Curve
    iso: float | None
    blur: Blur | None
    detail: Detail
    flags: Flags

    def as_dict(self) -> dict[str, Any]:
        """Plain numbers for JSON."""
        return asdict(self)

    def values(self, path: str) -> Iterable[tuple[str, float]]:
        """(region or group, value) of a figure by its path, such as 'frame.chroma' or
        'regions.skin*.noise', where a star ends the beginning of several names; nothing where the
        scene has no such thing."""
        group, _, name = path.partition(".")
        if group == "regions":
            wanted, _, name = name.rpartition(".")
            begins = wanted.removesuffix("*") if wanted.endswith("*") else None
            for region, found in self.regions.items():
                if region == wanted or (begins is not None and region.startswith(begins)):
                    yield region, float(getattr(found, name))
            return
        part = getattr(self, group)
        if part is not None:
            yield group, float(getattr(part, name) if name else part)

    def value(self, path: str) -> float | None:
        """The value of a figure of the whole; None where the scene has no such thing."""
        return next((value for _, value in self.values(path)), None)
