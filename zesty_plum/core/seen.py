"""What people can see: every figure that is put into words, one row each.

A row holds where the figure stands in a report, its unit, the change that is just seen side by side
and where that number comes from, and the words for more and for less of it. Comparisons, steps,
names, what is liked, and the price of a remedy all read it here; what they differ in is only how
many just visible changes it takes before they speak.
"""

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from .base.nominal import printed_iso

# Just visible changes, side by side, for a careful eye.
MIRED = 5.0  # of a light on greys; filters for lamps are sold in steps of about this size
DUV = 0.0012  # of a light on greys, from green to magenta: a MacAdam ellipse of about one step
LIGHT = 2.0  # of L*, on a whole picture or a face: twice the threshold of two fields that touch
HUE = 2.0  # degrees of CIELAB hue on skin, which is judged most strictly
SHARE = 0.05  # of chroma, contrast or sharpness: Weber's share for pictures, not for flat fields
FACE = 0.12  # stops on a face: two units of L* at L* 60 through a contrast of 1.28
GRAIN = 0.006  # RMS of full scale: below it grain is taken for smooth paper
AREA = 0.01  # share of a frame without tone
STOPS = 0.3  # of what a curve holds from black to white, or of how far tones lie apart
NOISE = 0.35  # deviation in L*, on a screen that the picture fills
HALO = 0.004  # overshoot of an edge, as a share of full scale: a code value of 255
DETAIL = 0.04  # share of fine cloth
ISO = 0.26  # share by which an ISO rises: a third of a stop, the step that cameras print
BLUR = 2.0  # pixels of a screen, of what moves or shakes
BAND = 2.0  # steps of a screen's 255 that one code value becomes, from which on skies show bands

# How many just visible changes it takes.
STEP_FROM = 0.25  # to tell what a step does: who asks wants to know also what is hardly seen
NAME_FROM = 2.0  # to make a name
LITTLE, MUCH = 1.5, 3.0  # below which it is "a little", from which on "much"

# What remains between two looks, in mean CIEDE2000, and the words for it.
SAME = 0.8
REMAINS = (
    (SAME, "To the eye the same."),
    (2.0, "A small difference, seen side by side."),
    (5.0, "A visible difference: the same idea, not the same picture."),
    (float("inf"), "Far off: this body cannot do this look."),
)


class Unit(StrEnum):
    """What a figure is counted in."""

    SHARE = "share"
    STOPS = "stops"
    MIRED = "mired"
    DUV = "duv"
    LIGHTNESS = "lightness"
    DEGREES = "degrees"
    ISO = "iso"
    PIXELS = "pixels"
    NUMBER = "number"
    FLAG = "flag"


def amount(value: float, unit: str) -> str:
    """The size of a figure in words."""
    size = abs(value)
    match unit:
        case Unit.SHARE:
            return f"{100 * size:.1f} %" if size < 0.0995 else f"{100 * size:.0f} %"
        case Unit.STOPS:
            return f"{size:.1f} {'stop' if 0.95 <= size < 1.05 else 'stops'}"
        case Unit.MIRED:
            return f"{size:.0f} mired"
        case Unit.DUV:
            return f"{size:.3f}" if size >= 0.005 else f"{size:.4f}"
        case Unit.DEGREES:
            return f"{size:.1f} degrees"
        case Unit.LIGHTNESS:
            return f"{size:.1f} units of lightness"
        case Unit.ISO:
            return printed_iso(size)
        case Unit.PIXELS:
            return f"{size:.0f} {'pixel' if 0.5 <= size < 1.5 else 'pixels'}"
    return f"{size:.2f}" if size < 2 else f"{size:.1f}"


def how(size: float) -> str:
    """'much ', 'a little ' or nothing, for a number of just visible changes."""
    return "much " if size >= MUCH else "a little " if size < LITTLE else ""


Pair = tuple[str, str]


class Reports(Protocol):
    """What figures are read from (`measure.report`)."""

    def value(self, path: str) -> float | None:
        """The value of a figure by its place; None where the scene has no such thing."""


@dataclass(frozen=True, slots=True)
class Figure:
    """One row: `at` is the figure's place in a report, `least` the change that is just seen,
    counted as a share of what was where `relative`; `in_colour` that it says nothing of monochrome
    pictures; `beyond` the figure whose own change is taken off, for parts of a frame.

    Words are pairs, for more and for less, filled with {much} (the change), {share} (the same as a
    share of what was), {was}, {now} and {how} (much, a little): `beside` another picture, a `step`
    of a dial, `cost` of a remedy, `liked` ones against others with what `by` counts, and a `name`.
    """

    at: str
    unit: Unit
    least: float
    source: str
    beside: Pair | None = None
    step: Pair | None = None
    cost: Pair | None = None
    liked: Pair | None = None
    by: str = "{much}"
    name: Pair | None = None
    relative: bool = False
    in_colour: bool = False
    beyond: str = ""

    def moved(self, before: "Reports", after: "Reports") -> tuple[float, float, float] | None:
        """How far it moves from one report to another in just visible changes, with its sign, and
        its values; of a part of the frame what it moves `beyond` all of it. None where a scene has
        no such thing."""
        was, now = before.value(self.at), after.value(self.at)
        if was is None or now is None:
            return None
        size = self.size(was, now)
        if self.beyond:
            whole = (after.value(self.beyond) or 0.0) - (before.value(self.beyond) or 0.0)
            apart = (now - was - whole) / self.least
            size = 0.0 if apart * size <= 0 else apart if abs(apart) < abs(size) else size
        return size, was, now

    def size(self, was: float, now: float) -> float:
        """The change in just visible ones, with its sign."""
        change = now / max(abs(was), 1e-6) - 1 if self.relative else now - was
        return change / self.least

    def filled(self, pair: Pair, was: float, now: float) -> str:
        """The words for a change."""
        size = self.size(was, now)
        return pair[size < 0].format(
            much=amount(now - was, self.unit),
            share=f"{100 * abs(now - was) / max(abs(was), 1e-6):.0f} %",
            was=amount(was, self.unit),
            now=amount(now, self.unit),
            how=how(abs(size)),
        )


# All rows; those whose price is told come gravest first.
FIGURES = (
    Figure(
        "skin.darker",
        Unit.STOPS,
        FACE,
        "two units of L* at L* 60, through Plain's contrast",
        step=("darkens faces by {much}", "lightens faces by {much}"),
        cost=("faces get {much} darker", "faces get {much} lighter"),
    ),
    Figure(
        "iso",
        Unit.ISO,
        ISO,
        "a third of a stop, as cameras print ISO",
        cost=("the ISO goes from {was} to {now}", ""),
        relative=True,
    ),
    Figure(
        "frame.crushed",
        Unit.SHARE,
        AREA,
        "an area of a tenth of the frame's width each way",
        step=("closes {now} of the frame to black instead of {was}",) * 2,
        cost=("{now} of the frame closes to black", ""),
    ),
    Figure(
        "frame.clipped",
        Unit.SHARE,
        AREA,
        "an area of a tenth of the frame's width each way",
        beside=("clips {much} more of the frame", "clips {much} less of the frame"),
        step=("clips {now} of the frame instead of {was}",) * 2,
        cost=("{now} of the frame clips", ""),
        liked=("more clipped", "less clipped"),
        by="{much} of the frame",
    ),
    Figure(
        "frame.colour",
        Unit.NUMBER,
        SHARE,
        "Weber's share of mean chroma about the picture's own grey",
        beside=("{how}fuller colours", "{how}quieter colours"),
        step=("adds {share} of colour", "takes {share} of colour"),
        cost=("colour gets {share} stronger", "colour gets {share} weaker"),
        liked=("fuller in colour", "quieter in colour"),
        by="{much} of chroma",
        name=("Full", "Quiet"),
        relative=True,
        in_colour=True,
    ),
    Figure(
        "frame.lightness",
        Unit.LIGHTNESS,
        LIGHT,
        "twice the threshold of two fields that touch (CIE L*)",
        beside=("{how}lighter", "{how}darker"),
        step=("lightens the picture by {much}", "darkens the picture by {much}"),
        cost=("the whole picture gets {much} lighter", "the whole picture gets {much} darker"),
        liked=("lighter", "darker"),
        name=("Bright", "Low"),
    ),
    Figure(
        "cast.mired",
        Unit.MIRED,
        MIRED,
        "the step of correction filters; one step of a careful eye on greys",
        step=("warms greys by {much}", "cools greys by {much}"),
        in_colour=True,
    ),
    Figure(
        "cast.shown",
        Unit.MIRED,
        MIRED,
        "the same, of greys as they are displayed",
        beside=("{how}warmer", "{how}cooler"),
        liked=("warmer", "cooler"),
        name=("Warm", "Cool"),
        in_colour=True,
    ),
    Figure(
        "cast.shown_duv",
        Unit.DUV,
        DUV,
        "about one step of a MacAdam ellipse",
        beside=("{how}greener", "{how}more magenta"),
        in_colour=True,
    ),
    Figure(
        "cast.duv",
        Unit.DUV,
        DUV,
        "about one step of a MacAdam ellipse",
        step=("moves greys {much} Duv towards green", "moves greys {much} Duv towards magenta"),
        in_colour=True,
    ),
    Figure(
        "curve.contrast",
        Unit.NUMBER,
        SHARE,
        "Weber's share of contrast",
        step=("raises contrast at mid grey to {now}", "lowers contrast at mid grey to {now}"),
        relative=True,
    ),
    Figure(
        "curve.middle",
        Unit.LIGHTNESS,
        SHARE,
        "Weber's share of contrast, where the picture's middle lies on the curve",
        beside=("{how}firmer in the middle", "{how}softer in the middle"),
        liked=("firmer", "softer"),
        by="{much} between two stops",
        name=("Firm", "Soft"),
        relative=True,
    ),
    Figure(
        "frame.lights",
        Unit.LIGHTNESS,
        LIGHT,
        "twice the threshold of two fields that touch (CIE L*)",
        beside=("{how}brighter highlights", "{how}softer highlights"),
    ),
    Figure(
        "frame.darks",
        Unit.LIGHTNESS,
        LIGHT,
        "twice the threshold of two fields that touch (CIE L*)",
        beside=("{how}more open shadows", "{how}deeper shadows"),
    ),
    Figure(
        "curve.stops",
        Unit.STOPS,
        STOPS,
        "a third of a stop, as cameras step",
        step=("holds {much} more from black to white", "holds {much} less from black to white"),
    ),
    Figure(
        "frame.spread",
        Unit.STOPS,
        STOPS,
        "a third of a stop, as cameras step",
        step=("spreads tones by {much} more", "draws tones together by {much}"),
    ),
    Figure(
        "skin.off_line",
        Unit.DEGREES,
        HUE,
        "preferred skin is judged to two degrees of hue",
        beside=("skin {how}yellower", "skin {how}redder"),
        step=("turns skin {much} towards yellow", "turns skin {much} towards red"),
        in_colour=True,
    ),
    Figure(
        "skin.lightness",
        Unit.LIGHTNESS,
        LIGHT,
        "twice the threshold of two fields that touch (CIE L*)",
        beside=("skin {how}lighter", "skin {how}darker"),
    ),
    *(
        Figure(
            f"regions.{region}.lightness",
            Unit.LIGHTNESS,
            LIGHT,
            "twice the threshold of two fields that touch (CIE L*)",
            step=(f"lightens {what} by {{much}}", f"darkens {what} by {{much}}"),
            beyond="frame.lightness",
        )
        for region, what in (("foliage", "leaves"), ("sky", "the sky"), ("red", "reds"))
    ),
    Figure(
        "detail.grain",
        Unit.SHARE,
        GRAIN,
        "what is told from smooth paper at reading distance",
        beside=("{how}more grain", "{how}less grain"),
        step=("adds {much} of grain", "takes {much} of grain"),
        liked=("grainier", "cleaner"),
        by="{much} of grain",
        name=("Grainy", ""),
    ),
    Figure(
        "detail.mtf50",
        Unit.NUMBER,
        SHARE,
        "Weber's share of the frequency at half contrast (ISO 12233)",
        beside=("{how}crisper", "{how}softer detail"),
        step=("makes fine detail {share} crisper", "makes fine detail {share} softer"),
        relative=True,
    ),
    Figure(
        "detail.overshoot",
        Unit.SHARE,
        HALO,
        "one code value of 255 beside an edge",
        step=("makes edges overshoot by {now} of full scale",) * 2,
    ),
    Figure(
        "detail.kept",
        Unit.SHARE,
        DETAIL,
        "Weber's share of a fine cloth's contrast",
        step=("keeps {now} of fine detail",) * 2,
    ),
    Figure(
        "detail.skin_kept",
        Unit.SHARE,
        DETAIL,
        "Weber's share of a fine texture's contrast",
        beside=("{how}more texture in skin", "{how}smoother skin"),
        step=("keeps {now} of skin's texture",) * 2,
    ),
    Figure(
        "blur.people",
        Unit.PIXELS,
        BLUR,
        "two pixels of a screen that the picture fills",
        beside=("people {how}more blurred", "people {how}sharper"),
        step=("blurs people by {now}", "blurs people by {now} instead of {was}"),
        cost=("people blur by {now}", ""),
    ),
    Figure(
        "frame.noise",
        Unit.NUMBER,
        NOISE,
        "a third of a unit of L*, on a screen that the picture fills",
        step=("shows {share} more noise", "shows {share} less noise"),
    ),
)
