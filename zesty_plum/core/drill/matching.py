"""Match it by hand: bring one picture to the other, in few steps."""

import random
from collections.abc import Sequence
from dataclasses import dataclass

from ..bodies import Body, Dial, Value
from ..develop.appearance import appearance, colour_distance
from ..recipe import Recipe, make
from ..seen import SAME

EASIEST, HARDEST = 1, 4  # dials that are off
FARTHEST = 3  # steps of a dial
TURNED = ("shift_mired", "shift_duv", "highlights", "shadows", "saturation", "exposure")


@dataclass(frozen=True)
class Match:
    """A question: the body, the scene, the dials that may be turned, and where they stand in the
    picture to be matched."""

    body: str
    scene: str
    dials: tuple[str, ...]
    target: tuple[tuple[str, Value], ...]

    @property
    def wanted(self) -> Recipe:
        """The recipe to be matched."""
        return make("The other", self.body, dict(self.target))

    @property
    def shortest(self) -> int:
        """Steps of the shortest way, from as shipped."""
        return apart(self.wanted, make("Yours", self.body, {}), self.dials)


def turning(camera: Body) -> list[Dial]:
    """Dials that show at a glance and go in steps."""
    return [
        d for d in camera.dials
        if not (d.named or d.taking or d.fine) and d.touches & set(TURNED) and len(d.values) > 4
    ]  # fmt: skip


def ask(seed: int, number: int, scenes: Sequence[str], camera: Body, level: int) -> Match:
    """Question `number` of a level: so many dials are off, each by a few steps."""
    draw = random.Random(f"match-{seed}-{number}-{level}")
    every = turning(camera)
    off = draw.sample(every, min(max(EASIEST, level), HARDEST, len(every)))
    offered = draw.sample([d for d in every if d not in off], min(2, len(every) - len(off)))
    target: list[tuple[str, Value]] = []
    for dial in off:
        at = dial.position(dial.default)
        steps = [s for s in range(-FARTHEST, FARTHEST + 1) if s and 0 <= at + s < len(dial.values)]
        target.append((dial.id, dial.values[at + draw.choice(steps)]))
    shown = [d.id for d in camera.dials if d in off or d in offered]
    return Match(camera.id, scenes[draw.randrange(len(scenes))], tuple(shown), tuple(target))


def apart(one: Recipe, two: Recipe, dials: Sequence[str]) -> int:
    """Steps between two recipes, over some dials."""
    camera = one.camera
    return sum(
        abs(camera.dial(d).position(one.dials[d]) - camera.dial(d).position(two.dials[d]))
        for d in dials
    )


def matches(one: Recipe, two: Recipe) -> tuple[bool, float]:
    """Whether two recipes look the same to the eye, and mean CIEDE2000 on patches."""
    off = colour_distance(*(appearance(r.look, r.camera.sensor) for r in (one, two)))[0]
    return off < SAME, off


def told(match: Match, steps: int, off: float) -> str:
    """How it went, in words."""
    least = match.shortest
    way = f"{steps} {'step' if steps == 1 else 'steps'}"
    if off < SAME:
        if steps <= least:
            return f"The same to the eye in {way}: there is no shorter way."
        return f"The same to the eye in {way}; the shortest way takes {least}."
    camera = match.wanted.camera
    where = ", ".join(
        f"{camera.dial(k).label} {camera.dial(k).choice(v).label}" for k, v in match.target
    )
    return f"Still CIEDE2000 {off:.1f} apart after {way}. It was {where}."
