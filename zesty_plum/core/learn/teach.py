"""From a folder of pairs to a body: everything that was learnt, put into the list of a body that
the camera is like."""

import secrets
import statistics
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..bodies import Body, Dial, Value, known
from ..bodies.dial import Choice
from ..bodies.file import dumps, loads
from ..bodies.trimmed import with_dials
from ..look import Look
from ..styles import lent, taught
from ..styles.learnt import Sure, of_numbers
from . import detail, fit, pairs
from .naming import called, renamed, slug
from .pairs import LeftOut, Settings
from .reading import HandOut, read_all
from .shot import Shot
from .steps import Learner, Set, alike, fine
from .sure import Taught, errors, joined, predicted, teach
from .wanted import wanted

LEAST_PAIRS = 3
WRONG, TIMES = 6.0, 3.0  # mean CIEDE2000, and times that of most, from which a pair is a wrong one
SAME_SHOT = 0.985  # correlation of two raws from which they show the same
LOOKED_AT = 2  # standard pairs whose texture is looked at
MOST_STYLES = 12
SHARPER, CALMER = np.linspace(-0.5, 1.6, 10), np.linspace(0, 5, 8)
Told = Callable[[str, int, int], None]


@dataclass(frozen=True)
class Shown:
    """A pair at standard settings: the camera's picture and what was predicted for it from the
    others (h, w, 3), encoded, and how far they are apart."""

    name: str
    style: str
    camera: Array
    predicted: Array
    mean: float


@dataclass(frozen=True)
class Calibration:
    """A body that was learnt, and what of."""

    body: Body
    used: tuple[str, ...]
    left_out: tuple[LeftOut, ...]
    shown: tuple[Shown, ...]

    @property
    def sure(self) -> Sure:
        """Of its main style."""
        found = self.body.styles[0].sure
        assert found is not None
        return found


def calibrate(
    folder: Path,
    like: Body,
    name: str = "",
    settings: Settings | None = None,
    told: Told = lambda what, done, of: None,
    hand_out: HandOut = map,
    keep: Path | None = None,
) -> Calibration:
    """Learn a body from a folder of pairs; PlumError where they cannot teach one. `settings` says
    what was set for each, if their folders do not; `hand_out` has them read, `keep` is a folder for
    what was read."""
    found, left = pairs.find(folder)
    found, others = pairs.one_camera(found)
    found = pairs.by_folder(found, like)
    missing: list[LeftOut] = []
    if settings is not None:
        found, missing = settings(found)
    lesson = _Lesson(like, name or folder.resolve().name, found, [*left, *others, *missing], told)
    lesson.read(hand_out, keep)
    return lesson.taught()


def with_styles(body: Body, choices: tuple[Choice, ...]) -> Body:
    """A body whose style dial has these places; without dials that need a style which it does not
    have."""
    own = body.style_dial
    if own is None:
        text = "A style is a whole rendering: its tone and its colours."
        words = ("style", "Style", "Look", "style", text, "", "")
        return with_dials(body, [Dial(*words, choices, choices[0].value), *body.dials])
    styled = replace(own, choices=choices, default=choices[0].value, needs=())
    return with_dials(body, [styled if d is own else d for d in body.dials])


class _Lesson:
    def __init__(
        self, like: Body, name: str, found: Sequence[pairs.Pair], left: list[LeftOut], told: Told
    ) -> None:
        self.like, self.told = like, told
        self.name, self.id = called(name)
        self.pairs, self.left = {p.name: p for p in found}, left
        self.style_dial = like.style_dial.id if like.style_dial else "style"
        self.shots: dict[str, Shot] = {}
        self.shown: list[Shown] = []

    def taught(self) -> Calibration:
        """All of it, from what was read."""
        standard = self._standard()
        main = max(standard, key=lambda s: len(standard[s]))
        if len(standard[main]) < LEAST_PAIRS:
            raise PlumError(self._too_few(len(standard[main])))
        self._without_wrong(standard[main], main)
        if len(standard[main]) < LEAST_PAIRS:
            raise PlumError(self._too_few(len(standard[main])))
        order = sorted(standard, key=lambda s: (s != main, -len(standard[s])))[:MOST_STYLES]
        known_by: dict[str, Taught] = {}
        for style in order:
            towards = known_by[main].numbers if style != main else None
            shots = [self.shots[n] for n in standard[style]]
            known_by[style] = teach(shots, towards, partial(self._of_style, style))
            self.shown += self._shown(style, standard[style], known_by[style])
        body = self._body(known_by, {s: [self.shots[n] for n in standard[s]] for s in order})
        return self._with_steps(body, standard)

    def _shown(self, style: str, names: Sequence[str], of: Taught) -> list[Shown]:
        return [
            Shown(n, style, s.cells, made, float(errors(s, made).mean()))
            for n, made in zip(names, of.made)
            for s in [self.shots[n]]
        ]

    def _say(self, what: str) -> None:
        self.told(what, 0, 0)

    def _of_style(self, style: str, what: str) -> None:
        self._say(f"{what}: {style}")

    def _too_few(self, many: int) -> str:
        why = f" Left out: {self.left[0].name}. {self.left[0].why}" if self.left else ""
        pairs_ = "one pair" if many == 1 else f"{many} pairs" if many else "no pair"
        return (
            f"There is {pairs_} at the standard settings of one style that can be learnt from; at "
            f"least {LEAST_PAIRS} are needed, a dozen are good.{why}"
            if many < 2
            else f"There are {pairs_} at the standard settings of one style that can be learnt "
            f"from; at least {LEAST_PAIRS} are needed, a dozen are good.{why}"
        )

    # ---- reading ---------------------------------------------------------------------------------
    def read(self, hand_out: HandOut, keep: Path | None) -> None:
        """Read all pairs."""
        every = list(self.pairs.values())
        self.told("Reading the pairs", 0, len(every))
        for k, (pair, got) in enumerate(read_all(every, hand_out, keep), 1):
            if isinstance(got, LeftOut):
                self.left.append(got)
            else:
                self.shots[pair.name] = got
            self.told("Reading the pairs", k, len(every))

    def _off(self, name: str) -> dict[str, Value]:
        """The dials of a pair that do not stand at their standard."""
        return {k: v for k, v in self.pairs[name].dials.items() if v != self.like.dial(k).default}

    def _standard(self) -> dict[str, list[str]]:
        """Names of the pairs at standard settings, by style."""
        out: dict[str, list[str]] = defaultdict(list)
        for name in self.shots:
            if not self._off(name):
                out[self.pairs[name].style].append(name)
        if not out:
            raise PlumError(self._too_few(0))
        return out

    def _without_wrong(self, names: list[str], style: str) -> None:
        """Leave out pairs that do not fit the others."""
        for _ in range(3):
            if len(names) < LEAST_PAIRS + 1:
                return
            self._say(f"Looking for wrong pairs: {style}")
            shots = [self.shots[n] for n in names]
            numbers = fit.core_of(joined(shots, True), rounds=7)
            means = [float(errors(s, predicted(s, numbers, None)).mean()) for s in shots]
            most = max(WRONG, TIMES * statistics.median(means))
            wrong = [(n, m) for n, m in zip(names, means, strict=True) if m > most]
            if not wrong:
                return
            for name, mean in wrong:
                self.left.append(
                    LeftOut(
                        name,
                        f"It does not fit the others, by {mean:.0f} of CIEDE2000: another camera, "
                        "style or setting, or edited since.",
                    )
                )
                names.remove(name)
                del self.shots[name]

    # ---- the body --------------------------------------------------------------------------------
    def _body(
        self, known_by: Mapping[str, Taught], standard_shots: Mapping[str, Sequence[Shot]]
    ) -> Body:
        like, white = self.like, statistics.median(s.white for s in self.shots.values())
        styles, choices = [], []
        used: set[str] = set()
        for name, what in known_by.items():
            short = next(
                s for k in range(99) if (s := slug(name, 30) + (f"-{k}" if k else "")) not in used
            )
            used.add(short)
            style_id = f"{self.id}-{short}"
            learnt = of_numbers(what.numbers, what.table, white)
            purpose = f"Learnt from {self.name}."
            sure = what.sure
            sure = sure and replace(sure, wanted=wanted(standard_shots[name], sure))
            styles.append(taught(style_id, name, purpose, learnt, sure))
            choices.append(Choice(short, name, sets={"style": style_id}))
        photosites = statistics.median(s.scene.photosites or 6000 for s in self.shots.values())
        made = replace(
            like,
            id=self.id,
            name=self.name,
            about=f"Its rendering is learnt from its own pictures; for the rest it is like "
            f"{like.name}.",
            sensor=replace(like.sensor, width=max(640, int(photosites)), headroom=round(white, 2)),
            styles=tuple(styles),
            steps=(),
            edition=1,
        )
        return with_styles(made, tuple(choices))

    # ---- its dials -------------------------------------------------------------------------------
    def _with_steps(self, body: Body, standard: Mapping[str, list[str]]) -> Calibration:
        # Pictures are made through its styles meanwhile: under names that nobody else has, for a
        # body of its id may be in use.
        trial = renamed(body, f"learning-{secrets.token_hex(6)}")
        with lent(trial.styles):
            trial, bias = self._textured(trial, standard)
            short = {c.label: c.value for c in self._choices(trial)}
            learner = Learner(trial, self.style_dial, known())
            learner.learn(self._sets(short, bias, trial), self._say)
        made = loads(dumps(renamed(learner.camera, body.id)), known())  # as whoever opens it will
        used = tuple(n for n in self.pairs if n in self.shots)
        return Calibration(made, used, tuple(self.left), tuple(self.shown))

    def _choices(self, body: Body) -> tuple[Choice, ...]:
        return body.dial(self.style_dial).choices

    def _textured(
        self, body: Body, standard: Mapping[str, list[str]]
    ) -> tuple[Body, np.ndarray | float]:
        """The body with how sharp and how calm its pictures are as they stand, roughly; and what is
        left of that."""
        self._say("Looking at texture")
        main = body.styles[0]
        found = []
        for name in standard[main.name][: 2 * LOOKED_AT]:
            try:
                found.append(detail.load(self.pairs[name].raw, self.pairs[name].finished))
            except PlumError:
                continue
            if len(found) == LOOKED_AT:
                break
        if not found:
            return body, 0.0
        plain = body.interpret({})

        def off(sharper: float, calmer: float) -> float:
            look = self._added(plain, sharper, calmer)
            return float(np.mean([d.off(look, body.sensor) for d in found]))

        sharper = calmer = 0.0
        for _ in range(2):
            sharper = float(min(SHARPER, key=lambda s: off(s, calmer) + 0.01 * abs(s)))
            calmer = float(min(CALMER, key=lambda c: off(sharper, c) + 0.004 * c))
        look = self._added(plain, sharper, calmer)
        adds = {
            "sharpness": look.sharpness - plain.sharpness,
            "noise_filter": look.noise_filter - plain.noise_filter,
        }
        adds["colour_filter"] = adds["noise_filter"]
        adds = {k: round(v, 3) for k, v in adds.items() if abs(v) > 1e-3}
        choices = tuple(replace(c, adds=adds) for c in self._choices(body))
        dials = tuple(
            replace(d, choices=choices) if d.id == self.style_dial else d for d in body.dials
        )
        made = replace(body, dials=dials)
        if not known().holds(made, adds):
            made, look = body, plain
        return made, np.mean([d.more(look, body.sensor) for d in found], axis=0)

    @staticmethod
    def _added(look: Look, sharper: float, calmer: float) -> Look:
        return replace(
            look,
            sharpness=look.sharpness + sharper,
            noise_filter=max(0.0, look.noise_filter + calmer),
            colour_filter=max(0.0, look.colour_filter + calmer),
        )

    def _texture_at(self, name: str, style: str, body: Body) -> np.ndarray:
        """What is left of the texture of a pair at standard settings."""
        pair = self.pairs[name]
        short = next(c.value for c in self._choices(body) if c.label == style)
        look = body.interpret({self.style_dial: short})
        return detail.load(pair.raw, pair.finished).more(look, body.sensor)

    def _sets(self, short: Mapping[str, object], bias: np.ndarray | float, body: Body) -> list[Set]:
        """The pairs at other settings, with their texture where a dial of theirs works on it."""
        out = []
        at_rest = {n: s for n, s in self.shots.items() if not self._off(n)}
        for name, shot in self.shots.items():
            pair, off = self.pairs[name], self._off(name)
            if not off:
                continue
            if pair.style not in short:
                self.left.append(
                    LeftOut(name, f"No pair shows '{pair.style}' at its standard settings.")
                )
                continue
            same = [n for n in at_rest if self.pairs[n].style == pair.style]
            nearness = {n: alike(at_rest[n], shot) for n in same}
            twin = max(nearness, key=nearness.__getitem__, default="")
            if nearness.get(twin, 0.0) < SAME_SHOT:
                twin = ""
            there = None
            if any(fine(self.like.dial(k)) for k in off):
                try:
                    there = detail.load(pair.raw, pair.finished)
                    there.bias = self._texture_at(twin, pair.style, body) if twin else bias
                except PlumError as error:
                    self.left.append(LeftOut(name, str(error)))
            out.append(Set(shot, str(short[pair.style]), off, there, at_rest.get(twin)))
        return out
