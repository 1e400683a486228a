"""How small a change somebody sees, from right and wrong answers: the next question is the one that
tells most (QUEST+, Watson 2017, Journal of Vision 17(3):10).

Sizes are in octaves (log2) of a unit. A question of size x is answered right with the chance

    g + (1 - g - lapse) (1 - exp(-2^(slope (x - t))))

a Weibull function of a threshold t, a slope, a rate of lapses, and a rate g of guessing right. All
four are unknown; what is believed of them is a table over a grid, multiplied by the chance of each
answer. The next size is the one after whose answer the table is expected to hold least entropy.
"""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Table = NDArray[np.float64]
STEPS = 45  # of the threshold's grid
SLOPES = (0.8, 1.5, 3.0)
LAPSES = (0.01, 0.05, 0.12)
SURE = 0.95  # of the interval that is told


@dataclass(frozen=True)
class Scale:
    """Sizes that can be asked, octaves, from the smallest to the largest; where a careful eye is
    expected, and how far others are from it; and chances of guessing right that are thought of."""

    low: float
    high: float
    expected: float
    spread: float = 1.6
    guesses: tuple[float, ...] = (0.25,)


@dataclass(frozen=True)
class Threshold:
    """The size that is seen, octaves: the middle of what is believed, and the interval that holds
    it with 95 in 100."""

    middle: float
    low: float
    high: float
    answers: int


@lru_cache(maxsize=32)
def _grid(scale: Scale) -> tuple[Table, ...]:
    thresholds = np.linspace(scale.low - 0.5, scale.high + 0.5, STEPS)
    axes = np.meshgrid(thresholds, SLOPES, LAPSES, scale.guesses, indexing="ij")
    return tuple(a.ravel() for a in axes)


@lru_cache(maxsize=4096)
def _chances(scale: Scale, size: float) -> Table:
    """Chance of a right answer, for every entry of the grid."""
    t, slope, lapse, guess = _grid(scale)
    seen = 1 - np.exp(-np.exp2(np.clip(slope * (size - t), -40, 8)))
    return np.asarray(guess + (1 - guess - lapse) * seen)


@dataclass
class Quest:
    """What is believed of a person, and what to ask next."""

    scale: Scale
    belief: Table = field(init=False)
    answers: int = 0

    def __post_init__(self) -> None:
        t = _grid(self.scale)[0]
        prior = np.exp(-0.5 * ((t - self.scale.expected) / self.scale.spread) ** 2)
        self.belief = prior / prior.sum()

    def told(self, size: float, right: bool) -> None:
        """An answer to a question of a size."""
        chance = _chances(self.scale, round(size, 4))
        self.belief = self.belief * (chance if right else 1 - chance)
        self.belief = self.belief / self.belief.sum()
        self.answers += 1

    def ask(self, sizes: Sequence[float]) -> float:
        """Of some sizes the one whose answer is expected to tell most."""
        return min(sizes, key=lambda x: (round(self._entropy(x), 6), x))

    def _entropy(self, size: float) -> float:
        """Expected entropy after an answer, nats."""
        chance = _chances(self.scale, round(size, 4))
        out = 0.0
        for each in (self.belief * chance, self.belief * (1 - chance)):
            whole = float(each.sum())
            if whole > 0:
                share = each[each > 0] / whole
                out -= whole * float((share * np.log(share)).sum())
        return out

    @property
    def threshold(self) -> Threshold:
        """What is believed of the threshold."""
        many = len(SLOPES) * len(LAPSES) * len(self.scale.guesses)
        share = self.belief.reshape(STEPS, many).sum(1)
        at = np.linspace(self.scale.low - 0.5, self.scale.high + 0.5, STEPS)
        half = (at[1] - at[0]) / 2
        edges = np.concatenate([[at[0] - half], at + half])
        grown = np.concatenate([[0.0], np.cumsum(share)])
        tail = (1 - SURE) / 2
        low, middle, high = np.interp([tail, 0.5, 1 - tail], grown, edges)
        return Threshold(float(middle), float(low), float(high), self.answers)


def replayed(scale: Scale, answers: Iterable[tuple[float, bool]]) -> Quest:
    """What is believed after some answers, in any order."""
    made = Quest(scale)
    for size, right in answers:
        made.told(size, right)
    return made


def octaves(size: float) -> float:
    """A size of a unit in octaves."""
    return math.log2(max(size, 1e-9))
