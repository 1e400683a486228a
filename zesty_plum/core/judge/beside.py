"""How one picture looks beside another, in words that are computed: what people would see, and
nothing below that."""

from collections.abc import Mapping

from ..measure.report import Report
from ..seen import FIGURES

A_CAREFUL_EYE: Mapping[str, float] = {}
OTHER_LIGHT = 60.0  # mired of a cast on greys, from which on it is all that is seen of colour


# Figures that are taken from the picture itself, and so hold for a graded one too.
FROM_PICTURE = ("frame.", "cast.shown", "skin.lightness", "skin.off_line")


def in_words(
    standard: Report, other: Report, graded: bool = False, eye: Mapping[str, float] = A_CAREFUL_EYE
) -> list[str]:
    """What the other is, beside the standard, the most visible first; empty when nobody would see a
    difference. Of `graded` pictures only what is measured on them is said. `eye` has just visible
    changes of one person by figure, as multiples of a careful eye's."""
    found: list[tuple[float, str]] = []
    mono = [bool(report.flags.monochrome) for report in (standard, other)]
    if mono[0] != mono[1]:
        found.append((float("inf"), "without colour" if mono[1] else "in colour"))
    for figure in FIGURES:
        if figure.beside is None or (figure.in_colour and any(mono)):
            continue
        if graded and not figure.at.startswith(FROM_PICTURE):
            continue
        was, now = standard.value(figure.at), other.value(figure.at)
        if was is None or now is None:
            continue
        size = abs(figure.size(was, now)) / eye.get(figure.at, 1.0)
        if size >= 1 and _plain_to_see(figure.at, standard, other):
            found.append((size, figure.filled(figure.beside, was, now)))
    return [words for _, words in sorted(found, key=lambda pair: -pair[0])]


def _plain_to_see(at: str, standard: Report, other: Report) -> bool:
    """Whether an eye would put it so. Under a strong cast nobody judges how full colours are, or a
    touch of green; and what the locus of lamps calls greener has to look greener."""
    one, two = standard.cast, other.cast
    if one is None or two is None or at not in ("frame.colour", "cast.shown_duv"):
        return True
    if max(abs(one.shown), abs(two.shown), abs(one.shown - two.shown)) > OTHER_LIGHT:
        return False
    return at == "frame.colour" or (two.a - one.a) * (one.shown_duv - two.shown_duv) >= 0


def price(now: Report, then: Report, meant: tuple[str, ...] = ()) -> str:
    """The gravest thing that a change costs elsewhere, in words; empty when there is none worth
    saying. More that is only good, such as fewer clipped places, is no price, nor is what is
    `meant`."""
    for figure in FIGURES:
        if figure.cost is None or figure.at in meant:
            continue
        was, after = now.value(figure.at), then.value(figure.at)
        if was is None or after is None:
            continue
        size = figure.size(was, after)
        if abs(size) >= 1 and figure.cost[size < 0]:
            return figure.filled(figure.cost, was, after)
    return ""
