"""Questions of a drill: drawn from its seed and from what is known of a person, shown as pictures,
answered and explained. A question that was asked is kept as data, so that it can be asked again."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any

import numpy as np

from ...core import scenes
from ...core.arrays import Array, Bytes8
from ...core.bodies import Body, body
from ...core.cache import BoundedCache
from ...core.develop.pipeline import Picture, develop
from ...core.drill import matching, memory, pairs, places, situations, sums
from ...core.drill.dimensions import BY_ID
from ...core.drill.quest import Quest, Scale, octaves, replayed
from ...core.errors import PlumError
from ...core.late import library
from ...core.look import Look
from ...core.measure.compare import to_lab
from ...core.pictures.write import preview
from ...core.recipe import Recipe, make
from ...store import drills
from ...store.drills import Answer, Drill
from .. import address, measured
from ..context import db, pictures
from ..eyes import LATELY, answers_of
from ..turns import Rank, turn

cv2 = library("cv2")

BODY = "heron-m2"
WIDE, CLOSE = 640, 420  # pixels across; at 100 percent, so that two stand side by side
AGAIN = 3  # one question in so many is one that was missed, if any is due
FAR_SCALE = Scale(0.15, 1.6, 0.8, 0.8, (0.25,))
MARK, MINE = (240, 164, 0), (106, 29, 78)  # zest round what is wrong, plum where somebody marked
_shown: BoundedCache[bytes] = BoundedCache(16 * 2**20, len)


@dataclass(frozen=True)
class Asked:
    """A question as data, and what a page needs of it."""

    kind: str
    data: dict[str, Any]

    @property
    def key(self) -> str:
        """The same for the same question."""
        return json.dumps([self.kind, self.data], sort_keys=True)


def camera() -> Body:
    """The body whose dials are moved."""
    return body(BODY)


@lru_cache(maxsize=1)
def base() -> Look:
    """As shipped."""
    return camera().interpret({})


def _scenes(drill: Drill) -> list[str]:
    """What is shown: all scenes, and pictures of one's own, which no file can pass on."""
    own = [] if drill.fixed else [p.id for p in pictures().listed(db())]
    return [*scenes.index(), *own]


# ---- drawing -------------------------------------------------------------------------------------
class Quests(Mapping[str, Quest]):
    """What is believed of a person after their answers, by measure; worked out when it is asked
    for."""

    def __init__(self, given: Sequence[Answer], scales: Mapping[str, Scale]) -> None:
        self._given, self._scales = given, scales

    def __getitem__(self, measure: str) -> Quest:
        mine = [(a.size, a.right) for a in self._given if a.measure == measure]
        return replayed(self._scales[measure], mine[-LATELY:])

    def __iter__(self) -> Iterator[str]:
        return iter(self._scales)

    def __len__(self) -> int:
        return len(self._scales)


def question(drill: Drill, number: int, given: Sequence[Answer]) -> Asked:
    """Question `number` of a drill, after the answers that were `given` in it."""
    known = next((a for a in given if a.number == number), None)
    if known is not None:
        return Asked(drill.kind, known.question)
    if not drill.fixed and number % AGAIN == AGAIN - 1:
        again = _due(drill, given)
        if again is not None:
            return again
    return Asked(drill.kind, _DRAWN[drill.kind](drill, number, given))


def _day(moment: str) -> int:
    return date.fromisoformat(moment[:10]).toordinal()


def _due(drill: Drill, given: Sequence[Answer]) -> Asked | None:
    before = [
        a for d in drills.of(db(), drill.eye, drill.kind) if d.id != drill.id for a in d.answers
    ]
    done = {json.dumps(a.question, sort_keys=True) for a in given}
    there = _scenes(drill)
    every = [
        memory.Given(json.dumps(a.question, sort_keys=True), a.right, _day(a.at))
        for a in before
        if _stands(a.question, there)
    ]
    for key in memory.due(every, _day(drill.made_at)):
        if key not in done:
            return Asked(drill.kind, json.loads(key))
    return None


def _stands(asked: Mapping[str, Any], there: Sequence[str]) -> bool:
    """Whether a question can be asked again: it is known, and its scene is still there."""
    scene = {**asked, **asked.get("pair", {})}.get("scene")
    return bool(asked) and (scene is None or scene in there)


def _known(drill: Drill, given: Sequence[Answer], scales: Mapping[str, Scale]) -> Quests:
    return Quests([*answers_of(drill.eye, drill.id), *given], scales)


class _ByDial(Quests):
    """The same by dials alone."""

    def __getitem__(self, dial: str) -> Quest:
        return super().__getitem__(f"which:{dial}")


def _which(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    known = None
    if not drill.fixed:
        scales = {f"which:{d}": BY_ID[d].scale for d in BY_ID}
        known = _ByDial([*answers_of(drill.eye, drill.id), *given], scales)
    return asdict(pairs.which(drill.seed, number, _scenes(drill), base(), known))


def _far(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    known = None if drill.fixed else _known(drill, given, {"far": FAR_SCALE})["far"]
    return asdict(pairs.far(drill.seed, number, _scenes(drill), base(), known))


def _where(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    wanted = 0.03 * 0.8 ** min(number, 8)
    if not drill.fixed:
        found = _known(drill, given, {"where": places.SCALE})["where"]
        steps = [places.SCALE.low + k * 0.5 for k in range(15)]
        wanted = 2.0 ** found.ask([s for s in steps if s <= places.SCALE.high]) / 100
    every = tuple(_scenes(drill))
    for more in range(8):
        spot = _spot(drill.seed, number + 1000 * more, every, round(wanted, 4))
        if spot is not None:
            return asdict(spot)
    raise PlumError("No scene comes to a question like this. Begin another drill.")


@lru_cache(maxsize=200)
def _spot(seed: int, number: int, every: tuple[str, ...], wanted: float) -> places.Spot | None:
    return places.ask(seed, number, every, address.scene_of, base(), camera().sensor, wanted)


def _match(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    level = min(1 + number // 3, matching.HARDEST)
    if not drill.fixed:
        clean = [a.right for a in given if a.measure == "match"]
        level = 1 + sum(clean) - sum(not c for c in clean)
    level = min(max(level, matching.EASIEST), matching.HARDEST)
    return asdict(matching.ask(drill.seed, number, _scenes(drill), camera(), level))


def _set(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    del given
    one, letters = situations.ask(drill.seed, number)
    return {"situation": one.id, "letters": list(letters)}


def _sums(drill: Drill, number: int, given: Sequence[Answer]) -> dict[str, Any]:
    del given
    return asdict(sums.ask(drill.seed, number))


_DRAWN = {"which": _which, "far": _far, "where": _where, "match": _match, "set": _set,
          "sums": _sums}  # fmt: skip


# ---- as they were --------------------------------------------------------------------------------
def pair_of(data: dict[str, Any]) -> pairs.Pair:
    """A pair from its data."""
    return pairs.Pair(**{**data, "choices": tuple(data["choices"])})


def far_of(data: dict[str, Any]) -> pairs.Far:
    """How far, from its data."""
    return pairs.Far(pair_of(data["pair"]), tuple(data["sizes"]), data["ratio"])


def match_of(data: dict[str, Any]) -> matching.Match:
    """A match from its data."""
    target = tuple((k, v) for k, v in data["target"])
    return matching.Match(data["body"], data["scene"], tuple(data["dials"]), target)


def sum_of(data: dict[str, Any]) -> sums.Question:
    """A sum from its data."""
    return sums.Question(data["sum"], tuple((k, v) for k, v in data["given"]), data["field"])


def situation_of(data: dict[str, Any]) -> situations.Situation:
    """A situation from its data."""
    return situations.situations()[data["situation"]]


def judged(one: situations.Situation) -> situations.Judged:
    """Its choices, judged as any recipe."""
    scene = address.scene_of(one.scene)
    return situations.judged(one, lambda r, schools: measured.judged(scene, r, schools))


# ---- pictures ------------------------------------------------------------------------------------
def _develop(scene_id: str, look: Look, fine: bool) -> Picture:
    scene = address.scene_of(scene_id)
    width = CLOSE if fine else WIDE
    return develop(scene.at_full() if fine else scene, look, camera().sensor, width, 1, fine)


def sides(asked: Asked) -> dict[str, tuple[str, Look, bool]]:
    """What is shown on each side: scene, look, and whether at 100 percent."""
    if asked.kind == "which":
        pair = pair_of(asked.data)
        left, right = pair.looks(base())
        return {"a": (pair.scene, left, pair.fine), "b": (pair.scene, right, pair.fine)}
    if asked.kind == "far":
        pair = far_of(asked.data).pair
        left, right = pair.looks(base())
        return {"a": (pair.scene, left, pair.fine), "b": (pair.scene, right, pair.fine)}
    if asked.kind == "match":
        match = match_of(asked.data)
        return {"a": (match.scene, match.wanted.look, False)}
    if asked.kind == "set":
        one = situation_of(asked.data)
        return {"p": (one.scene, base(), False)} | {
            k: (one.scene, r.look, False) for k, (_, r) in one.options.items()
        }
    return {}


def picture(asked: Asked, side: str, said: str = "") -> bytes:
    """A side as a JPEG; `side` 'a' or 'b', a letter of a choice, or 'marked' with what is wrong."""

    def make_() -> bytes:
        with turn(Rank.PICTURE):
            if asked.kind == "where":
                return preview(_spotted(asked, side == "marked", said))
            known = sides(asked)
            if side not in known:
                raise PlumError("There is no such picture in this question.")
            return preview(_develop(*known[side]).pixels)

    return _shown.make(f"{asked.key}{side}{said if side == 'marked' else ''}", make_)


def spot_seen(asked: Asked) -> places.Seen:
    """A question of where, rendered, with its places."""
    spot = places.Spot(**asked.data)
    width = CLOSE if spot.fine else WIDE
    return places.seen(spot, address.scene_of(spot.scene), base(), camera().sensor, width)


def _spotted(asked: Asked, marked: bool, said: str) -> Bytes8:
    found = spot_seen(asked)
    pixels = np.ascontiguousarray(found.pixels)
    if not marked:
        return pixels
    pixels = pixels.copy()
    lines, _ = cv2.findContours(
        found.wrong.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE
    )
    cv2.drawContours(pixels, lines, -1, MARK, 2)
    try:
        x, y = (float(part) for part in said.split(","))
    except ValueError:
        return pixels
    height, width = pixels.shape[:2]
    at = round(x * width), round(y * height)
    cv2.drawMarker(pixels, at, MINE, cv2.MARKER_CROSS, 26, 4)
    return pixels


# ---- answering -----------------------------------------------------------------------------------
@dataclass(frozen=True)
class Verdict:
    """Whether an answer is right, what it measures at which size, and why, with a place to look
    at."""

    right: bool
    words: str
    measure: str = ""
    size: float = 0.0
    at: tuple[float, float] | None = None


def verdict(asked: Asked, said: str) -> Verdict:
    """An answer, judged and explained; PlumError where it is none."""
    return _JUDGED[asked.kind](asked, said)


def _labs(asked: Asked) -> tuple[Array, Array]:
    with turn(Rank.FIGURES):
        first, second = (to_lab(_develop(*each)) for each in list(sides(asked).values())[:2])
    return first, second


def _judge_which(asked: Asked, said: str) -> Verdict:
    pair = pair_of(asked.data)
    if said not in pair.choices:
        raise PlumError("Choose one of the answers.")
    scene = address.scene_of(pair.scene)
    seen = pairs.shown(scene if not pair.fine else replace(scene, mask=None), *_labs(asked))
    words = pairs.explained(pair, said, seen, camera())
    if pair.dim == pairs.NOTHING:
        return Verdict(said == pairs.NOTHING, words, "which:nothing", 0.0)
    measure, size = f"which:{pair.dim}", octaves(pair.size)
    at = seen.at if seen.there >= 0.5 else None
    return Verdict(said == pair.dim, words, measure, size, at)


def _judge_far(asked: Asked, said: str) -> Verdict:
    far = far_of(asked.data)
    dim = BY_ID[far.pair.dim]
    if not said.isdigit() or int(said) >= len(far.sizes):
        raise PlumError("Choose one of the answers.")
    right = far.sizes[int(said)] == far.pair.size
    steps = pairs.in_steps(dim, far.pair.size, camera())
    words = f"{dim.label}: {dim.words(far.pair.size, far.pair.up)}{steps}. {dim.look_at}"
    scene = address.scene_of(far.pair.scene)
    at = pairs.shown(scene, *_labs(asked)).at
    return Verdict(right, words, "far", octaves(far.ratio), at)


def _judge_where(asked: Asked, said: str) -> Verdict:
    spot, seen = places.Spot(**asked.data), spot_seen(asked)
    named, look_at = places.FAULTS[spot.fault]
    try:
        x, y = (float(part) for part in said.split(","))
    except ValueError as error:
        raise PlumError("Mark a place in the picture first.") from error
    right = seen.found(x, y)
    words = f"{100 * seen.share:.1f} % of the frame is {named}, outlined here. {look_at}"
    return Verdict(right, words, "where", octaves(100 * seen.share), seen.middle)


def tried(asked: Asked, said: str) -> tuple[Recipe, int]:
    """What somebody turned to match, and in how many steps: 7;shift_red=2;colour=-1."""
    match = match_of(asked.data)
    head, *rest = said.split(";")
    cam = match.wanted.camera
    given = dict(part.split("=", 1) for part in rest if "=" in part)
    dials = {}
    for name in match.dials:
        by_text = {str(v): v for v in cam.dial(name).values}
        if name in given:
            if given[name] not in by_text:
                raise PlumError(f"{cam.dial(name).label} cannot be set to '{given[name][:20]}'.")
            dials[name] = by_text[given[name]]
    return make("Yours", match.body, dials), int(head) if head.isdigit() else 0


def _judge_match(asked: Asked, said: str) -> Verdict:
    match = match_of(asked.data)
    mine, steps = tried(asked, said)
    same, off = matching.matches(mine, match.wanted)
    words = matching.told(match, steps, off)
    if same:
        return Verdict(same, words, "match", float(match.shortest))
    with turn(Rank.FIGURES):
        both = [to_lab(_develop(match.scene, r.look, False)) for r in (match.wanted, mine)]
    seen = pairs.shown(address.scene_of(match.scene), *both)
    words = f"{words} They differ most at the mark."
    return Verdict(same, words, "match", float(match.shortest), seen.at)


def _judge_set(asked: Asked, said: str) -> Verdict:
    one = situation_of(asked.data)
    if said not in one.options:
        raise PlumError("Choose one of the answers.")
    found = judged(one)
    return Verdict(said in found.best, situations.explained(one, found, said), "set")


def _judge_sums(asked: Asked, said: str) -> Verdict:
    one = sum_of(asked.data)
    return Verdict(one.answered(said[:40]), one.told, "sums")


_JUDGED = {"which": _judge_which, "far": _judge_far, "where": _judge_where, "match": _judge_match,
           "set": _judge_set, "sums": _judge_sums}  # fmt: skip
