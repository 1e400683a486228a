"""Steps of dials from finished pictures alone: one thing at the standard and with a dial moved.
Without raws nothing else of a camera can be learnt."""

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from ..base.errors import PlumError
from ..bodies import Body, Choice, Dial, Value, known
from ..pictures.read import read
from . import pairs
from .naming import called, renamed
from .pairs import LeftOut, Pair
from .shot import Shot, lie
from .steps import Learner, Set

LEAST = 0.8  # alike, from which two pictures show one thing


def find(folder: Path) -> list[Pair]:
    """The finished pictures of a folder; PlumError where there are fewer than two."""
    files = sorted(p for p in folder.rglob("*") if p.suffix.lower() in pairs.FINISHED)
    if len(files) < 2:
        raise PlumError(
            f"There is no pair in '{folder.name}': a raw and the picture that the camera made of "
            "it, with one name, as P1.dng and P1.jpg; nor are there two pictures of one thing."
        )
    if len(files) > pairs.MOST_PAIRS:
        raise PlumError(f"There are {len(files)} pictures; {pairs.MOST_PAIRS} are the most.")
    return [Pair(p.relative_to(folder).with_suffix("").as_posix(), p, p) for p in files]


def steps(given: Sequence[Pair], like: Body, name: str) -> tuple[Body, list[LeftOut]]:
    """The body that a camera is like, with the steps that its pictures show; each with a dial moved
    is held against the one at the standard that shows the same."""
    moved = {p.name: _off(p, like) for p in given}
    standard = [p for p in given if not moved[p.name]]
    if not standard or len(standard) == len(given):
        raise PlumError(
            "Steps are learnt from pictures of one thing: one at the camera's standard, and others "
            "with a dial moved. Say which dial was moved for each."
        )
    scenes = {p.name: read(p.raw.read_bytes(), p.raw.name, "own-taught", 1500) for p in standard}
    sets, left = [], []
    for pair in (p for p in given if moved[p.name]):
        made = read(pair.finished.read_bytes(), pair.finished.name, "own-taught", 1500).pixels
        shots: list[Shot] = []
        for one in standard:
            try:
                shots.append(lie(pair.name, scenes[one.name], made))
            except PlumError:
                continue
        shots = [s for s in shots if s.alike >= LEAST]
        if shots:
            shot = max(shots, key=lambda s: s.alike)
            sets.append(Set(shot, "plain", moved[pair.name]))
        else:
            left.append(LeftOut(pair.name, "No picture at the standard shows the same."))
    if not sets:
        raise PlumError("No two of these pictures show the same thing. Take both from one place.")
    made_body = _learnt(sets, like)
    about = f"Steps of its dials are learnt from its pictures; it renders like {like.name}."
    tidy, body_id = called(name)
    return replace(renamed(made_body, body_id), name=tidy, about=about, edition=1), left


def _off(pair: Pair, like: Body) -> dict[str, Value]:
    return {k: v for k, v in pair.dials.items() if v != like.dial(k).default}


def _learnt(sets: Sequence[Set], like: Body) -> Body:
    """Steps as they are in the reference style, through which a finished picture comes back as it
    is; other styles of the body are taken to have the same."""
    own = like.style_dial
    plain = (Choice("plain", "Plain", {"style": "plain"}),)
    first = own or Dial("style", "Style", "Style", "style", "", "", "", plain, "plain")
    first = replace(first, choices=plain, default="plain", needs=())
    rest = [replace(d, needs=()) for d in like.dials if d is not own]
    learner = Learner(replace(like, dials=(first, *rest), pairs=()), first.id, known())
    learner.learn(sets, lambda what: None)
    found = learner.camera

    def of(dial: Dial) -> Dial:
        learnt = any(s.dial == dial.id for s in found.steps)
        if not learnt:
            return dial
        there = found.dial(dial.id)
        choices = tuple(replace(c, adds=there.choice(c.value).adds) for c in dial.choices)
        return replace(dial, choices=choices)

    return replace(like, dials=tuple(map(of, like.dials)), steps=found.steps)
