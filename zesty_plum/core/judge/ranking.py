"""Which of several looks a person prefers, from choices between two: Bradley and Terry's model.

The chance that i is chosen over j is s(a_i - a_j), s the logistic function (Bradley and Terry
1952). "Can't tell" counts as half a choice for each. A weak prior (normal, deviation `PRIOR`) keeps
strengths finite after few choices, and the curvature of the posterior at its top gives intervals
(Laplace). The next pair is the one whose answer is expected to say most.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

PRIOR = 1.5
CONFIDENCE = 0.90
DRAWS = 4000
REPEAT_EVERY = 6  # every so many questions one is asked again, sides changed


@dataclass(frozen=True)
class Choice:
    """An answer: `left` and `right` are numbers of looks, `scene` of the scene; `won` 1 for left, 0
    for right, 0.5 for neither."""

    left: int
    right: int
    scene: int
    won: float


@dataclass(frozen=True)
class Place:
    """One look in the ranking: strength with the ends of its interval, and the chance that it is
    the best."""

    look: int
    strength: float
    low: float
    high: float
    best: float


@dataclass(frozen=True)
class Ranking:
    """Places, the most preferred first; `sure` is the chance that the first really is before the
    second."""

    places: list[Place]
    sure: float


def _fit(count: int, choices: Sequence[Choice]) -> tuple[np.ndarray, np.ndarray]:
    """Strengths (n,) and their covariance (n, n), by Newton's method; the posterior is concave, so
    it has one top."""
    a = np.zeros(count)
    left = np.array([c.left for c in choices], int)
    right = np.array([c.right for c in choices], int)
    won = np.array([c.won for c in choices])
    hessian = np.eye(count) / PRIOR**2
    for _ in range(40):
        p = 1 / (1 + np.exp(-(a[left] - a[right])))
        gradient = -a / PRIOR**2
        np.add.at(gradient, left, won - p)
        np.add.at(gradient, right, p - won)
        w = p * (1 - p)
        hessian = np.eye(count) / PRIOR**2
        np.add.at(hessian, (left, left), w)
        np.add.at(hessian, (right, right), w)
        np.add.at(hessian, (left, right), -w)
        np.add.at(hessian, (right, left), -w)
        step = np.linalg.solve(hessian, gradient)
        a = a + np.clip(step, -1, 1)
        if np.abs(step).max() < 1e-9:
            break
    # Only differences are told by choices: the mean is taken out of both.
    middle = np.eye(count) - 1 / count
    return middle @ a, middle @ np.linalg.inv(hessian) @ middle


def rank(count: int, choices: Sequence[Choice], seed: int = 1) -> Ranking:
    """Rank `count` looks by the choices."""
    strength, covariance = _fit(count, choices)
    half = NormalDist().inv_cdf(0.5 + CONFIDENCE / 2) * np.sqrt(np.maximum(np.diag(covariance), 0))
    drawn = np.random.default_rng(seed).multivariate_normal(
        strength, covariance, DRAWS, method="svd"
    )
    best = np.bincount(drawn.argmax(1), minlength=count) / DRAWS
    order = np.argsort(-strength, kind="stable")
    places = [
        Place(
            int(k),
            float(strength[k]),
            float(strength[k] - half[k]),
            float(strength[k] + half[k]),
            float(best[k]),
        )
        for k in order
    ]
    if count < 2:
        return Ranking(places, 1.0)
    one, two = order[:2]
    apart = strength[one] - strength[two]
    spread = covariance[one, one] + covariance[two, two] - 2 * covariance[one, two]
    return Ranking(places, NormalDist().cdf(float(apart / np.sqrt(max(spread, 1e-12)))))


def length(count: int) -> int:
    """Questions of a round: enough that every look meets most others, and no more than people have
    patience for."""
    return int(min(48, max(6, 3 * count + count * (count - 1) // 4)))


def ask(count: int, scenes: int, choices: Sequence[Choice], seed: int) -> tuple[int, int, int]:
    """The next question: left, right, scene. The same for the same answers and seed.

    First every look is shown once; then the pair whose answer says most is asked: the expected gain
    of information is about p (1 - p) times the variance of the difference. Pairs seen least are
    preferred among equals. Now and then an earlier question comes again with sides changed, to see
    how steady the answers are.
    """
    dice = np.random.default_rng([seed, len(choices)])
    number = len(choices)
    if number and number % REPEAT_EVERY == 0:
        earlier = choices[int(dice.integers(max(1, number - 2)))]
        return earlier.right, earlier.left, earlier.scene
    seen = np.zeros((count, count))
    for c in choices:
        seen[c.left, c.right] += 1
        seen[c.right, c.left] += 1
    pairs = list(itertools.combinations(range(count), 2))
    strength, covariance = _fit(count, choices)

    def worth(pair: tuple[int, int]) -> tuple[float, float]:
        i, j = pair
        p = 1 / (1 + np.exp(-(strength[i] - strength[j])))
        spread = covariance[i, i] + covariance[j, j] - 2 * covariance[i, j]
        unseen = (seen[i].sum() == 0) + (seen[j].sum() == 0)
        return (unseen, p * (1 - p) * spread / (1 + seen[i, j]) + 1e-6 * dice.random())

    i, j = max(pairs, key=worth)
    if dice.random() < 0.5:
        i, j = j, i
    return int(i), int(j), _scene(int(i), int(j), scenes, choices, dice)


def _scene(
    i: int, j: int, scenes: int, choices: Sequence[Choice], dice: np.random.Generator
) -> int:
    """The scene that a pair was seen on least, and then all questions: they go round all scenes."""
    pair, every = np.zeros(scenes), np.zeros(scenes)
    for c in choices:
        every[c.scene] += 1
        pair[c.scene] += {c.left, c.right} == {i, j}
    order = dice.permutation(scenes)
    return int(min(order, key=lambda k: (pair[k], every[k])))


def steady(choices: Sequence[Choice]) -> tuple[int, int]:
    """Of how many repeated questions the answers agreed: (agreed, repeated)."""
    first: dict[tuple[int, int, int], float] = {}
    agreed = repeated = 0
    for c in choices:
        key = (min(c.left, c.right), max(c.left, c.right), c.scene)
        won = c.won if c.left < c.right else 1 - c.won
        if key in first:
            repeated += 1
            agreed += first[key] == won
        else:
            first[key] = won
    return agreed, repeated


def alike(one: Ranking, two: Ranking) -> float:
    """Kendall's tau between two rankings of the same looks: 1 the same order, 0 unrelated, -1 the
    reverse."""
    at = [{p.look: k for k, p in enumerate(ranking.places)} for ranking in (one, two)]
    pairs = list(itertools.combinations(sorted(at[0]), 2))
    same = sum((at[0][i] < at[0][j]) == (at[1][i] < at[1][j]) for i, j in pairs)
    return 2 * same / len(pairs) - 1 if pairs else 1.0
