"""How one picture looks beside another, in words that are computed: what people would see, and
nothing below that."""

from ..measure.report import Report
from ..seen import FIGURES


def in_words(standard: Report, other: Report) -> list[str]:
    """What the other is, beside the standard, the most visible first; empty when nobody would see a
    difference."""
    found: list[tuple[float, str]] = []
    mono = [bool(report.flags.monochrome) for report in (standard, other)]
    if mono[0] != mono[1]:
        found.append((float("inf"), "without colour" if mono[1] else "in colour"))
    for figure in FIGURES:
        if figure.beside is None or (figure.in_colour and any(mono)):
            continue
        was, now = standard.value(figure.at), other.value(figure.at)
        if was is None or now is None:
            continue
        size = abs(figure.size(was, now))
        if size >= 1:
            found.append((size, figure.filled(figure.beside, was, now)))
    return [words for _, words in sorted(found, key=lambda pair: -pair[0])]


def price(now: Report, then: Report) -> str:
    """The gravest thing that a change costs elsewhere, in words; empty when there is none worth
    saying. More that is only good, such as fewer clipped places, is no price."""
    for figure in FIGURES:
        if figure.cost is None:
            continue
        was, after = now.value(figure.at), then.value(figure.at)
        if was is None or after is None:
            continue
        size = figure.size(was, after)
        if abs(size) >= 1 and figure.cost[size < 0]:
            return figure.filled(figure.cost, was, after)
    return ""
