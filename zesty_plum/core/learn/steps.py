"""How far a step of a dial goes, from pairs at other settings than the standard: the body that a
camera is like says what a dial does, and its pictures say how much of it."""

import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..bodies import Body, Dial, Step, Value
from ..bodies.whole import Known
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import develop
from ..look import Stage, about
from .align import ACROSS
from .detail import Detail
from .fit import LARGE
from .shot import Shot, averaged

TRIED = (
    -2.0,
    -1.0,
    -0.5,
    0.25,
    0.5,
    0.75,
    1.0,
    1.5,
    2.2,
    3.2,
)  # times the step of the body like it
FINER = 12  # halvings after that
GOLDEN = (math.sqrt(5) - 1) / 2
TELLS = 0.04  # share by which a dial has to lower what is left, to count as learnt


@dataclass(frozen=True)
class Set:
    """A pair at other settings than its style's standard."""

    shot: Shot
    style: str
    dials: Mapping[str, Value]
    detail: Detail | None = None


def side(dial: Dial, value: Value) -> int:
    """1 where a value lies above the dial's standard, -1 below, 0 at it."""
    return int(np.sign(dial.position(value) - dial.position(dial.default)))


def scaled(camera: Body, times: Mapping[tuple[str, int], float]) -> Body:
    """The body with what some dials add, above or below their standard, times a number."""

    def of(dial: Dial) -> Dial:
        choices = []
        for choice in dial.choices:
            factor = times.get((dial.id, side(dial, choice.value)), 1.0)
            choices.append(
                replace(choice, adds={k: round(v * factor, 6) for k, v in choice.adds.items()})
                if factor != 1
                else choice
            )
        return replace(dial, choices=tuple(choices))

    return replace(camera, dials=tuple(map(of, camera.dials)))


def fine(dial: Dial) -> bool:
    """Whether a dial works on texture, which small pictures do not show."""
    stages = {about()[n].stage for n in dial.touches}
    return Stage.NEIGHBOURS in stages


def _searched(cost: Callable[[float], float], most: float) -> tuple[float, float, float]:
    """The number with the least cost, that cost, and what none of it costs."""
    tried = sorted({min(t, most) for t in TRIED})
    costs = [cost(t) for t in tried]
    at = int(np.argmin(costs))
    low, high = tried[max(at - 1, 0)], tried[min(at + 1, len(tried) - 1)]
    if at == len(tried) - 1:
        high = most
    a, b = high - GOLDEN * (high - low), low + GOLDEN * (high - low)
    cost_a, cost_b = cost(a), cost(b)
    for _ in range(FINER):
        if cost_a < cost_b:
            high, b, cost_b = b, a, cost_a
            a = high - GOLDEN * (high - low)
            cost_a = cost(a)
        else:
            low, a, cost_a = a, b, cost_b
            b = low + GOLDEN * (high - low)
            cost_b = cost(b)
    return (low + high) / 2, min(cost_a, cost_b), cost(0.0)


class Learner:
    """Finds the steps of a body whose styles are brought already; `bias` are the colours by which
    each style's standard pictures differ from what it renders, by pair."""

    def __init__(self, camera: Body, style_dial: str, known: Known) -> None:
        self.camera, self._style, self._known = camera, style_dial, known
        self.times: dict[tuple[str, int], float] = {}
        self.steps: list[Step] = []

    def learn(self, sets: Sequence[Set], done: Callable[[str], None]) -> None:
        """Dial by dial, those first whose pairs differ in nothing else."""
        by_dial: dict[tuple[str, int], list[Set]] = defaultdict(list)
        for one in sets:
            for name, value in one.dials.items():
                by_dial[name, side(self.camera.dial(name), value)].append(one)
        order = sorted(by_dial, key=lambda key: min(len(s.dials) for s in by_dial[key]))
        for key in order:
            done(f"Finding the steps of {self.camera.dial(key[0]).spoken}")
            least = min(len(one.dials) for one in by_dial[key])
            self._one(key, [one for one in by_dial[key] if len(one.dials) == least])
        # A dial that was seen on one side only goes as far on the other.
        for name, way in list(self.times):
            self.times.setdefault((name, -way), self.times[name, way])

    def _one(self, key: tuple[str, int], sets: Sequence[Set]) -> None:
        dial = self.camera.dial(key[0])
        if not any(c.adds for c in dial.choices):
            return
        use = self._texture if fine(dial) else self._colour
        costs = [c for c in map(use, sets) if c is not None]
        if not costs:
            return

        def cost(times: float) -> float:
            made = scaled(self.camera, self.times | {key: times})
            return sum(each(made) for each in costs)

        best, least, none = _searched(cost, self._most(dial, key[1]))
        if none - least < TELLS * none:
            self.steps.append(Step(dial.id, 1.0, len(sets), _unseen(dial)))
            return
        self.times[key] = round(best, 3)
        self.steps.append(
            Step(dial.id, round(best, 3), len(sets), self._moves(dial, key, len(sets)))
        )

    def _most(self, dial: Dial, way: int) -> float:
        """Times a dial's step that a look can still hold."""
        most = 4.0
        for _ in range(20):
            made = scaled(self.camera, {(dial.id, way): most, (dial.id, -way): most})
            if self._known.holds(made, dial.touches):
                return most
            most *= 0.88
        return most

    def _look(self, made: Body, one: Set) -> Any:
        return made.interpret({**one.dials, self._style: one.style})

    def _colour(self, one: Set) -> Callable[[Body], float] | None:
        shot = one.shot
        aim = encoded_to_lab(shot.cells)[shot.good]
        weight = shot.even[shot.good]
        chroma = np.hypot(aim[:, 1], aim[:, 2])
        width = min(ACROSS, shot.scene.size[0])

        def cost(made: Body) -> float:
            picture = develop(shot.scene, self._look(made, one), made.sensor, width)
            got = encoded_to_lab(averaged(picture.encoded))[shot.good]
            off = (got - aim) / np.stack([np.ones_like(chroma), *[1 + 0.03 * chroma] * 2], 1)
            far = np.sqrt((off**2).sum(1))
            return float(
                (weight * np.where(far < LARGE, far * far / LARGE / 2, far - LARGE / 2)).mean()
            )

        return cost

    def _texture(self, one: Set) -> Callable[[Body], float] | None:
        detail = one.detail
        if detail is None:
            return None
        return lambda made: detail.off(self._look(made, one), made.sensor)

    def _moves(self, dial: Dial, key: tuple[str, int], many: int) -> str:
        """A sentence on a step."""
        made = scaled(self.camera, self.times)
        at = [c for c in made.dial(dial.id).choices if side(dial, c.value) == key[1]]
        near = at[0] if key[1] > 0 else at[-1]
        return f"{near.label}: {_told(near.adds)}; from {many} pair{'s' if many > 1 else ''}."


def _unseen(dial: Dial) -> str:
    return f"Its pairs show no effect of {dial.spoken}, so it is left as it was."


_UNITS: dict[str, tuple[str, float]] = {
    "exposure": ("{:+.2f} stops of exposure", 1),
    "shadows": ("{:+.2f} stops in the shadows", 1),
    "highlights": ("{:+.0f} % of the way of the highlights", 100),
    "saturation": ("{:+.0f} % of chroma", 100),
    "shift_mired": ("{:+.1f} mired warmer", 1),
    "shift_duv": ("{:+.4f} Duv greener", 1),
    "phase": ("{:+.1f} degrees of hue", 1),
    "clarity": ("{:+.0f} % of local contrast", 100),
    "sharpness": ("{:+.0f} % of fine detail", 100),
    "noise_filter": ("{:+.1f} times the noise", 1),
    "grain": ("{:+.1f} % of grain", 100),
    "density": ("{:+.2f} of density", 1),
    "guard": ("{:+.1f} stops of room", 1),
}


def _told(adds: Mapping[str, float]) -> str:
    words = [
        _UNITS[name][0].format(value * _UNITS[name][1])
        for name, value in adds.items()
        if name in _UNITS
    ]
    return ", ".join(words) or ", ".join(f"{v:+.2g} {n.replace('_', ' ')}" for n, v in adds.items())
