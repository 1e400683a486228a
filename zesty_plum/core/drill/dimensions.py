"""What can move in a picture: fields of a look, in the unit that people speak of, with the sizes
that are asked."""

import math
from dataclasses import dataclass, replace

from ..look import Look
from ..seen import DUV, MIRED, amount
from .quest import Scale

GUESSES = (0.02, 0.1, 0.2, 0.3)  # somebody may also say that nothing moved
OCTAVES = 0.25  # between two sizes that are asked


@dataclass(frozen=True)
class Dimension:
    """A dial's worth of look: its field, its unit, the smallest and largest size that is asked,
    what a careful eye is expected to see, words for more and for less, and what to look at. `fine`
    shows at 100 percent only; `share` sizes are shares of what is there."""

    id: str
    label: str
    field: str
    unit: str
    least: float
    most: float
    expected: float
    more: str
    less: str
    look_at: str
    fine: bool = False
    share: bool = False

    @property
    def scale(self) -> Scale:
        """Sizes in octaves."""
        return Scale(
            math.log2(self.least), math.log2(self.most), math.log2(self.expected), guesses=GUESSES
        )

    @property
    def sizes(self) -> list[float]:
        """Sizes that are asked, octaves, the smallest first."""
        low, high = self.scale.low, self.scale.high
        many = round((high - low) / OCTAVES)
        return [low + (high - low) * k / many for k in range(many + 1)]

    def moved(self, look: Look, size: float, up: bool) -> Look:
        """A look with it moved by a size of its unit."""
        at = getattr(look, self.field)
        if self.share:
            return replace(look, **{self.field: at * (1 + size if up else 1 - size)})
        return replace(look, **{self.field: at + (size if up else -size)})

    def words(self, size: float, up: bool) -> str:
        """How far it went, in its unit."""
        if self.unit == "share":
            told = f"{100 * size:.0f} %" if size >= 0.095 else f"{100 * size:.1f} %"
        elif self.unit == "stops":
            told = f"{size:.2f} stops"
        else:
            told = amount(size, self.unit)
        return f"{told} {self.more if up else self.less}"


_WHITE = "Look at what should be grey or white, then at skin."
DIMENSIONS = (
    Dimension("warm", "Warm, cool", "shift_mired", "mired", 1.5, 60, MIRED * 1.6, "warmer",
              "cooler", _WHITE),
    Dimension("green", "Green, pink", "shift_duv", "duv", 0.0004, 0.02, DUV * 2, "greener",
              "pinker", _WHITE),
    Dimension("exposure", "Exposure", "exposure", "stops", 0.03, 1.2, 0.14, "brighter", "darker",
              "Look at the middle greys: all of it moves, lights and darks alike."),
    Dimension("highlights", "Highlights", "highlights", "share", 0.04, 1.0, 0.3, "harder",
              "softer", "Look at the lights only: rims, clouds, white cloth. What is below mid "
              "grey stays."),
    Dimension("shadows", "Shadows", "shadows", "stops", 0.06, 1.6, 0.4, "lifted", "deeper",
              "Look at the darkest places only: coats, corners, hair. What is above mid grey "
              "stays."),
    Dimension("colour", "Colour", "saturation", "share", 0.015, 0.6, 0.08, "fuller", "paler",
              "Look at the fullest colours; greys stay grey.", share=True),
    Dimension("sharp", "Sharpness", "sharpness", "share", 0.05, 1.2, 0.25, "sharper", "softer",
              "Look at edges and fine cloth at 100 %: rims grow or go.", fine=True),
    Dimension("grain", "Grain", "grain", "share", 0.003, 0.06, 0.01, "grainier", "smoother",
              "Look at even, middle tones at 100 %: walls, skin, sky.", fine=True),
)  # fmt: skip
BY_ID = {d.id: d for d in DIMENSIONS}
# Figures that people read in words, and the dial by which somebody learns to see them.
SEEN_AS = {
    "cast.mired": "warm", "cast.shown": "warm", "cast.duv": "green", "cast.shown_duv": "green",
    "frame.lightness": "exposure", "skin.lightness": "exposure", "skin.darker": "exposure",
    "frame.lights": "highlights", "frame.darks": "shadows", "frame.colour": "colour",
    "detail.grain": "grain", "detail.mtf50": "sharp", "detail.overshoot": "sharp",
    "detail.kept": "sharp",
}  # fmt: skip
