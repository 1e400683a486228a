"""How far a step of a dial goes, from pairs at other settings than the standard: the body that a
camera is like says what a dial does, and its pictures say how much of it."""

import math
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..base.arrays import Matrix
from ..bodies import Body, Choice, Dial, Step, Value
from ..bodies.file import MOST_TIMES
from ..bodies.whole import Known
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import Picture, develop
from ..develop.point import Curve
from ..develop.tone import Film
from ..look import Stage, about
from ..styles import plain
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
# Fields of the look along which a dial may move, with a change of each that is well seen: a dial of
# tone, and one of colour.
WAYS = (
    {"highlights": 0.3, "shadows": 0.3, "brights": 0.03, "darks": 0.03},
    {"saturation": 0.1, "density": 0.3},
)
ROUNDS = 4
CALM = 0.2  # how much a well seen change of a field costs, against what is left of colours
TELLS = 0.04  # share by which a dial has to lower what is left, to count as learnt


@dataclass(frozen=True)
class Set:
    """A pair at other settings than its style's standard; `twin` is one that shows the same at the
    standard, where there is one, so that what is left there anyway can be told apart."""

    shot: Shot
    style: str
    dials: Mapping[str, Value]
    detail: Detail | None = None
    twin: Shot | None = None


def alike(a: Shot, b: Shot) -> float:
    """Correlation of what two raws show, place by place, -1 to 1."""
    if a.light.shape != b.light.shape:
        return -1.0
    logs = [np.log2(np.maximum(averaged(s.light).mean(-1), 1e-4)) for s in (a, b)]
    return float(np.corrcoef(logs[0].ravel(), logs[1].ravel())[0, 1])


def side(dial: Dial, value: Value) -> int:
    """1 where a value lies above the dial's standard, -1 below, 0 at it."""
    return int(np.sign(dial.position(value) - dial.position(dial.default)))


def scaled(camera: Body, times: Mapping[tuple[str, int], float]) -> Body:
    """The body with what some dials add, above or below what they add at their standard, times a
    number."""

    def of(dial: Dial) -> Dial:
        if not {(dial.id, 1), (dial.id, -1)} & times.keys():
            return dial
        rest = dial.choice(dial.default).adds
        choices = []
        for choice in dial.choices:
            factor = times.get((dial.id, side(dial, choice.value)), 1.0)
            names = [*dict.fromkeys([*rest, *choice.adds])]
            more = {n: choice.adds.get(n, 0.0) - rest.get(n, 0.0) for n in names}
            made = {n: round(rest.get(n, 0.0) + factor * more[n], 6) for n in names}
            choices.append(replace(choice, adds={n: v for n, v in made.items() if v}))
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
    """Finds the steps of a body whose styles are brought already; `camera` has them then."""

    def __init__(self, camera: Body, style_dial: str, known: Known) -> None:
        self.camera, self._style, self._known = camera, style_dial, known
        self._found: dict[tuple[str, int], float] = {}
        self._pairs: Counter[str] = Counter()

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
        for name, way in list(self._found):
            if (name, -way) not in self._found:
                self._mirror(self.camera.dial(name), way)
        self.camera = replace(
            self.camera,
            steps=tuple(
                _step(self.camera.dial(n), self._found, many) for n, many in self._pairs.items()
            ),
        )

    def _one(self, key: tuple[str, int], sets: Sequence[Set]) -> None:
        dial = self.camera.dial(key[0])
        moved = {name for c in dial.choices for name in c.adds}
        if not moved:
            return
        self._pairs[dial.id] += len(sets)
        for ways in WAYS:
            if moved <= set(ways):
                return self._along(dial, key[1], sets, ways)
        use = self._texture if fine(dial) else self._colour
        costs = [c for c in map(use, sets) if c is not None]
        if not costs:
            return None

        def cost(times: float) -> float:
            made = scaled(self.camera, {key: times})
            return sum(each(made) for each in costs)

        best, least, none = _searched(cost, self._most(dial, key[1]))
        if none - least >= TELLS * none:
            self.camera = scaled(self.camera, {key: round(best, 3)})
            self._found[key] = round(best, 3)
        return None

    def _along(self, dial: Dial, way: int, sets: Sequence[Set], ways: Mapping[str, float]) -> None:
        """What a step changes in some fields of the look, by least squares on the changes of
        colours."""
        at, names = dial.position(dial.default), list(ways)
        bare = scaled(self.camera, {(dial.id, way): 0.0})
        put = np.zeros(len(names))

        def shown(one: Set, view: "_View", more: Matrix) -> Matrix:
            steps = dial.position(one.dials[dial.id]) - at
            look = self._look(bare, one)
            moved = {n: getattr(look, n) + m * steps for n, m in zip(names, more, strict=True)}
            return view.off(
                develop(one.shot.scene, replace(look, **moved), bare.sensor, view.width)
            )

        views = [_View(one, self.camera, self._style) for one in sets]
        seen = np.array([ways[n] for n in names])

        def left(more: Matrix) -> float:
            off = sum(float((shown(o, v, more) ** 2).sum()) for o, v in zip(sets, views))
            return off + CALM * float(((more / seen) ** 2).sum())

        start = least = left(put)
        for _ in range(ROUNDS):
            square, down = np.diag(CALM / seen**2), -CALM / seen**2 * put
            for one, view in zip(sets, views, strict=True):
                steps = abs(dial.position(one.dials[dial.id]) - at)
                off = shown(one, view, put)
                slopes = np.stack(
                    [
                        (shown(one, view, put + s * e) - off) / s
                        for s, e in zip(seen / steps, np.eye(len(names)), strict=True)
                    ],
                    1,
                )
                square += slopes.T @ slopes
                down -= slopes.T @ off
            step = np.linalg.solve(square, down)
            for share in (1.0, 0.5, 0.25, 0.1):
                asked = dict(zip(names, put + share * step, strict=True))
                trial = np.array(list(self._held(dial, way, asked).values()))
                now = left(trial)
                if now < least:
                    put, least = trial, now
                    break
            else:
                break
        if start - least < TELLS * start:
            return
        like = dial.choices[at + way].adds
        rest = dial.choice(dial.default).adds
        main = max(like, key=lambda n: abs(like[n]), default=names[0])
        theirs = like.get(main, 0.0) - rest.get(main, 0.0)
        ours = put[names.index(main)] * way
        times = float(np.clip(ours / theirs, -MOST_TIMES, MOST_TIMES)) if theirs else 1.0
        self._found[dial.id, way] = round(times, 3)
        self.camera = _set_steps(self.camera, dial, way, dict(zip(names, put, strict=True)))

    def _held(self, dial: Dial, way: int, each: Mapping[str, float]) -> dict[str, float]:
        """Steps that a look can still hold at the end of the dial, field by field."""
        out = dict(each)
        for name in out:
            for _ in range(30):
                if self._known.holds(_set_steps(self.camera, dial, way, out), [name]):
                    break
                out[name] *= 0.9
            else:
                out[name] = 0.0
        return out

    def _mirror(self, dial: Dial, way: int) -> None:
        """Let a dial that was seen on one side only go as far on the other."""
        at = dial.position(dial.default)
        here, rest = dial.choices[at + way].adds, dial.choices[at].adds
        each = {n: (here.get(n, 0.0) - rest.get(n, 0.0)) * way for n in {**rest, **here}}
        self.camera = _set_steps(self.camera, dial, -way, self._held(dial, -way, each))

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
        view = _View(one, self.camera, self._style)

        def cost(made: Body) -> float:
            picture = develop(one.shot.scene, self._look(made, one), made.sensor, view.width)
            return float((view.off(picture) ** 2).mean())

        return cost

    def _texture(self, one: Set) -> Callable[[Body], float] | None:
        detail = one.detail
        if detail is None:
            return None
        return lambda made: detail.off(self._look(made, one), made.sensor)


class _View:
    """A pair's colours, against which pictures are held: what is left at the standard anyway is
    taken off where a twin shows it."""

    def __init__(self, one: Set, camera: Body, style_dial: str) -> None:
        shot = one.shot
        self.width = min(ACROSS, shot.scene.size[0])
        whole, self._good = encoded_to_lab(shot.cells), shot.good
        if one.twin:
            standard = camera.interpret({style_dial: one.style})
            there = develop(one.twin.scene, standard, camera.sensor, self.width)
            anyway = encoded_to_lab(one.twin.cells) - encoded_to_lab(averaged(there.encoded))
            whole, self._good = whole - anyway, self._good & one.twin.good
        self._aim = whole[self._good]
        chroma = np.hypot(self._aim[:, 1], self._aim[:, 2])
        self._scale = np.stack([np.ones_like(chroma), *[1 + 0.03 * chroma] * 2], 1)
        weight = shot.even[self._good]
        self._weight = np.sqrt(weight / weight.sum())[:, None]

    def off(self, picture: Picture) -> Matrix:
        """Differences of a developed picture (n,), weighted; large ones count by their root."""
        off = (encoded_to_lab(averaged(picture.encoded))[self._good] - self._aim) / self._scale
        far = np.sqrt((off * off).sum(1, keepdims=True))
        return np.asarray((off * self._weight / np.sqrt(np.maximum(far / LARGE, 1))).ravel())


def _set_steps(camera: Body, dial: Dial, way: int, each: Mapping[str, float]) -> Body:
    """The body with what each step of a dial on one side adds."""
    at = dial.position(dial.default)
    rest = dial.choices[at].adds

    def of(place: int, choice: Choice) -> Choice:
        if (place - at) * way <= 0:
            return choice
        made = {n: rest.get(n, 0.0) + m * (place - at) for n, m in each.items()}
        return replace(choice, adds={n: round(v, 6) for n, v in made.items() if abs(v) > 1e-6})

    own = camera.dial(dial.id)
    choices = tuple(of(k, c) for k, c in enumerate(own.choices))
    return _with(camera, replace(own, choices=choices))


def _with(camera: Body, dial: Dial) -> Body:
    return replace(camera, dials=tuple(dial if d.id == dial.id else d for d in camera.dials))


def _step(dial: Dial, times: Mapping[tuple[str, int], float], many: int) -> Step:
    """What was found of a dial whose steps are as they were learnt."""
    found = [times[dial.id, way] for way in (1, -1) if (dial.id, way) in times]
    pairs = f"from {many} pair{'s' if many > 1 else ''}"
    if not found:
        what = f"Its pairs show no effect of {dial.spoken}, so it is left as it was; {pairs}."
        return Step(dial.id, 1.0, many, what)
    at = dial.position(dial.default)
    said = []
    for place, word in ((at + 1, "up"), (at - 1, "down")):
        if 0 <= place < len(dial.choices):
            here, rest = dial.choices[place].adds, dial.choices[at].adds
            more = {n: here.get(n, 0.0) - rest.get(n, 0.0) for n in {**rest, **here}}
            said.append(f"a step {word}: {_told(more)}")
    words = "; ".join(said)
    whole = f"{words[:1].upper()}{words[1:]}; {pairs}."
    return Step(dial.id, round(sum(found) / len(found), 3), many, whole)


# Of a field: its scale, how it is printed, and the words for more and for less of it.
_UNITS: dict[str, tuple[float, str, str, str]] = {
    "exposure": (1, "{:.2f} stops", "brighter", "darker"),
    "saturation": (100, "{:.0f} %", "more colour", "less colour"),
    "shift_mired": (1, "{:.1f} mired", "warmer", "cooler"),
    "shift_duv": (1000, "{:.1f} thousandths of Duv", "greener", "more magenta"),
    "phase": (1, "{:.1f} degrees", "of hue one way", "of hue the other way"),
    "clarity": (100, "{:.0f} %", "more local contrast", "less local contrast"),
    "sharpness": (100, "{:.0f} %", "more fine detail", "less fine detail"),
    "noise_filter": (1, "{:.1f} times the noise", "smoothed more", "smoothed less"),
    "grain": (100, "{:.1f} %", "more grain", "less grain"),
    "density": (1, "{:.2f}", "more density", "less density"),
    "guard": (1, "{:.1f} stops", "more room", "less room"),
}


def _tone_told(adds: Mapping[str, float]) -> str:
    """Where a change of tone moves greys most, and by how much."""
    tone = plain().tone
    curves = [
        Curve(
            tone,
            Film(brights=adds.get("brights", 0.0) * now, darks=adds.get("darks", 0.0) * now),
            adds.get("highlights", 0.0) * now,
            adds.get("shadows", 0.0) * now,
            3.0,
        )
        for now in (0, 1)
    ]
    light = 0.18 * np.exp2(np.linspace(-6, 2.8, 120))
    before, after = (116 * np.cbrt(np.maximum(c.display(light), 1e-6)) - 16 for c in curves)
    at = int(np.argmax(np.abs(after - before)))
    where = "dark" if before[at] < 35 else "middle" if before[at] < 65 else "bright"
    off = float(after[at] - before[at])
    return f"{where} tones {abs(off):.1f} L* {'brighter' if off > 0 else 'darker'}"


def _told(adds: Mapping[str, float]) -> str:
    if adds and set(adds) <= set(WAYS[0]):
        return _tone_told(adds)
    words = []
    for name, value in adds.items():
        if name in _UNITS:
            scale, shown, more, less = _UNITS[name]
            words.append(f"{shown.format(abs(value * scale))} {more if value > 0 else less}")
    return " and ".join(words) or ", ".join(f"{v:+.2g} {n}" for n, v in adds.items())
