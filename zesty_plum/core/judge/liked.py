"""What the preferred looks of a blind round have in common, in dials and in measures, and nothing
that chance may have made."""

from collections.abc import Sequence

import numpy as np

from ..measure.report import Report
from ..recipe import Recipe
from ..seen import FIGURES, Figure, amount
from ..styles import style
from .ranking import Ranking

MOST_MEASURES, MOST = 3, 5
MANY = 6  # looks from which on a clear tendency is told even where single ones cross over


def in_common(ranking: Ranking, recipes: Sequence[Recipe], measured: Sequence[Report]) -> list[str]:
    """Sentences on how the upper half differs from the lower, and on dials and styles that the
    upper half shares."""
    order = [p.look for p in ranking.places]
    if len(order) < 2:
        return []
    half = max(1, len(order) // 2)
    upper, lower = order[:half], order[-half:]
    found = [_tendency(figure, measured, upper, lower) for figure in FIGURES if figure.liked]
    told = sorted((f for f in found if f), key=lambda pair: -pair[0])[:MOST_MEASURES]
    sentences = [words for _, words in told]
    if half > 1:
        sentences += _shared([recipes[k] for k in upper], [recipes[k] for k in lower])
    return sentences[:MOST]


def _tendency(
    figure: Figure, measured: Sequence[Report], upper: Sequence[int], lower: Sequence[int]
) -> tuple[float, str] | None:
    """How much one figure sets the preferred apart, and the sentence; None where it does not.

    Told only where the two halves do not overlap, or hardly: a few odd ones must not make a rule.
    """
    values = [report.value(figure.at) for report in measured]
    known = [v for v in values if v is not None]
    if figure.liked is None or len(known) < len(values):
        return None
    above, below = ([known[k] for k in group] for group in (upper, lower))
    now, was = float(np.mean(above)), float(np.mean(below))
    size = figure.size(was, now)
    split = min(above) > max(below) or max(above) < min(below)
    clear = len(upper) + len(lower) >= MANY and abs(now - was) > 2 * float(np.std(known))
    if abs(size) < 1 or not (split or clear):
        return None
    by = figure.by.format(much=amount(now - was, figure.unit))
    return abs(size), f"The ones you preferred are {figure.liked[size < 0]}, by {by}."


def _shared(upper: Sequence[Recipe], lower: Sequence[Recipe]) -> list[str]:
    """What all of the preferred have and none of the others."""
    sentences = []
    styles, others = ({style(r.look.style).name for r in group} for group in (upper, lower))
    if len(styles) == 1 and not styles & others:
        sentences.append(f"All of them are in {styles.pop()}.")
    if len({r.body for r in (*upper, *lower)}) > 1:
        return sentences
    for dial in upper[0].camera.dials:
        those, rest = ({r.dials[dial.id] for r in group} for group in (upper, lower))
        if dial.id != "style" and len(those) == 1 and not those & rest:
            place = dial.choice(those.pop()).label
            sentences.append(f"All of them have {dial.label} at {place}; none of the others has.")
    return sentences
