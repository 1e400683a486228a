"""The numbers of a style: its tone curve, and what it does to hues. The stages in `develop` act on
them."""

from dataclasses import dataclass

from ..base.arrays import MID_GREY

HUES = 12  # hue centres of a style's table, every 30 degrees of Oklch hue from 0


@dataclass(frozen=True, slots=True)
class Tone:
    """contrast : slope at mid grey, log display light per log scene light. grey : display light of
    mid grey.
    toe : slope deep in the shadows over the slope at mid grey. black : display light of no light.
    keep_hue : share of the curve that is applied to all channels by one factor. hold_hue : 1
    where colours keep the hue they came with up to white; 0 where each channel follows the curve by
    itself, which has an exact inverse, but turns skin to yellow and sky to cyan.
    log_stops, log_grey, log_offset : a log-like curve instead, see `log_encoded`; the fields above
    but `keep_hue` rest.
    """

    contrast: float = 1.25
    grey: float = MID_GREY
    toe: float = 1.0
    black: float = 0.0
    keep_hue: float = 0.0
    hold_hue: float = 1.0
    log_stops: float = 0.0
    log_grey: float = 0.4
    log_offset: float = 0.012


@dataclass(frozen=True, slots=True)
class Colouring:
    """turn : degrees, chroma and lightness : factors, each one number for every hue centre (12,).
    mono : weights of red, green and blue display light for a monochrome picture, or None. toning :
    Oklab a and b that a monochrome picture takes on in its shadows and in its lights (4,),
    strongest a third of the way from each end.
    """

    turn: tuple[float, ...] = (0.0,) * HUES
    chroma: tuple[float, ...] = (1.0,) * HUES
    lightness: tuple[float, ...] = (1.0,) * HUES
    mono: tuple[float, float, float] | None = None
    toning: tuple[float, float, float, float] | None = None

    @property
    def neutral(self) -> bool:
        """Whether nothing but saturation would change a colour."""
        return not any(self.turn) and set(self.chroma) == {1.0} and set(self.lightness) == {1.0}

    @property
    def strongest(self) -> float:
        """Largest factor on chroma."""
        return max(self.chroma)
