"""What the choices of a blind round went by, in measures and in dials, and nothing that chance may
have made."""

from collections.abc import Callable, Sequence
from statistics import NormalDist

import numpy as np

from ..base.arrays import Array
from ..measure.report import Report
from ..recipe import Recipe
from ..seen import FIGURES, Figure, amount
from ..styles import style
from .ranking import Choice, Ranking

MOST_MEASURES, MOST = 3, 5
FEWEST = 5  # choices between prints that differ in a measure, before it is spoken of
PRIOR = 2.0  # deviation of a preference before anything was answered, in log odds
FARTHEST = 5.0  # just visible changes beyond which a difference counts for no more
CONFIDENCE = 0.90


def in_common(
    ranking: Ranking,
    recipes: Sequence[Recipe],
    choices: Sequence[Choice],
    measured: Callable[[int, int], Report],
) -> list[str]:
    """Sentences on the measures that the choices went by, and on dials and styles that the upper
    half shares. `measured` gives the report of a look on a scene, by their numbers."""
    order = [p.look for p in ranking.places]
    if len(order) < 2:
        return []
    sentences = preferences(choices, measured)
    half = max(1, len(order) // 2)
    if half > 1:
        upper, lower = order[:half], order[-half:]
        sentences += _shared([recipes[k] for k in upper], [recipes[k] for k in lower])
    return sentences[:MOST]


def preferences(choices: Sequence[Choice], measured: Callable[[int, int], Report]) -> list[str]:
    """What made one print be chosen over the other, the plainest first: each measure fitted to the
    choices by logistic regression, beside those found before it, and told where its interval leaves
    no doubt about the side."""
    won = np.array([c.won for c in choices])
    left = {
        figure.at: np.array([_difference(figure, c, measured) for c in choices])
        for figure in FIGURES
        if figure.liked
    }
    known, said = np.zeros((len(choices), 0)), list[str]()
    for _ in range(MOST_MEASURES):
        fits = {at: _fit(np.column_stack([known, x]), won) for at, x in left.items() if _tells(x)}
        sure = {at: f for at, f in fits.items() if f[0] - f[1] > 0 or f[0] + f[1] < 0}
        if not sure:
            break
        at = max(sure, key=lambda k: abs(sure[k][0]) / sure[k][1])
        said.append(_sentence(at, left[at], choices, measured, sure[at]))
        known = np.column_stack([known, left.pop(at)])
    return said


def _difference(figure: Figure, choice: Choice, measured: Callable[[int, int], Report]) -> float:
    """Just visible changes by which the left print has more of a figure than the right one."""
    mine, other = (measured(k, choice.scene).value(figure.at) for k in (choice.left, choice.right))
    if mine is None or other is None:
        return 0.0
    size = figure.size(other, mine)
    return float(np.clip(size, -FARTHEST, FARTHEST)) if abs(size) >= 1 else 0.0


def _tells(x: Array) -> bool:
    return int((x != 0).sum()) >= FEWEST


def _fit(x: Array, won: Array) -> tuple[float, float]:
    """Slope of the last column (n, k) of a logistic regression with a weak prior, and half of its
    interval (Laplace)."""
    scaled = x / np.maximum(np.sqrt((x**2).mean(0)), 1e-9)
    slope = np.zeros(x.shape[1])
    inverse = np.eye(x.shape[1]) * PRIOR**2
    for _ in range(40):
        p = 1 / (1 + np.exp(-(scaled @ slope)))
        curved = (scaled.T * (p * (1 - p))) @ scaled + np.eye(x.shape[1]) / PRIOR**2
        inverse = np.linalg.inv(curved)
        step = inverse @ (scaled.T @ (won - p) - slope / PRIOR**2)
        slope = slope + np.clip(step, -1, 1)
        if np.abs(step).max() < 1e-9:
            break
    half = NormalDist().inv_cdf(0.5 + CONFIDENCE / 2) * np.sqrt(inverse[-1, -1])
    return float(slope[-1]), float(half)


def _sentence(
    at: str,
    x: Array,
    choices: Sequence[Choice],
    measured: Callable[[int, int], Report],
    fit: tuple[float, float],
) -> str:
    figure = next(f for f in FIGURES if f.at == at)
    sign = 1 if fit[0] > 0 else -1
    differ = [(c, v) for c, v in zip(choices, x, strict=True) if v]
    went = sum(c.won if v * sign > 0 else 1 - c.won for c, v in differ)
    apart = [
        abs(
            (measured(c.left, c.scene).value(at) or 0) - (measured(c.right, c.scene).value(at) or 0)
        )
        for c, _ in differ
    ]
    by = figure.by.format(much=amount(float(np.mean(apart)), figure.unit))
    low, high = (1 / (1 + np.exp(-(abs(fit[0]) + way * fit[1]))) for way in (-1, 1))
    assert figure.liked is not None
    return (
        f"You preferred the {figure.liked[sign < 0]} of two, by {by} on average: in {went:g} of "
        f"{len(differ)} choices where they differed in it. {100 * low:.0f} to {100 * high:.0f} % "
        "of the next ones would go that way."
    )


def _shared(upper: Sequence[Recipe], lower: Sequence[Recipe]) -> list[str]:
    """What all of the preferred have and none of the others."""
    sentences = []
    styles, others = ({style(r.look.style).name for r in group} for group in (upper, lower))
    if len(styles) == 1 and not styles & others:
        sentences.append(f"All of those you preferred are in {styles.pop()}.")
    if len({r.body for r in (*upper, *lower)}) > 1:
        return sentences
    for dial in upper[0].camera.dials:
        those, rest = ({r.dials[dial.id] for r in group} for group in (upper, lower))
        if dial.id != "style" and len(those) == 1 and not those & rest:
            place = dial.choice(those.pop()).label
            sentences.append(
                f"All of those you preferred have {dial.label} at {place}, none of the others."
            )
    return sentences
