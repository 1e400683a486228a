"""Questions of a drill: drawn from its seed and from what is known of a person, shown as pictures,
answered and explained. A question that was asked is kept as data, so that it can be asked again."""

import json
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, TypeVar

from ...core import scenes
from ...core.base.cache import BoundedCache
from ...core.base.errors import PlumError
from ...core.bodies import Body, body
from ...core.develop.pipeline import Picture, develop
from ...core.drill import memory
from ...core.drill.kinds import KINDS, Kind, Missed, Verdict, View
from ...core.drill.kinds.where import CLOSE, WIDE
from ...core.drill.quest import Quest, Scale, replayed
from ...core.judge.verdicts import Verdict as Judged
from ...core.look import Look
from ...core.pictures.write import preview
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ...store import drills
from ...store.drills import Answer, Drill
from ..frame.context import db, pictures
from ..render import address, measured
from ..render.eyes import LATELY, answers_of
from ..server.turns import Rank, turn

BODY = "heron-m2"
AGAIN = 3  # one question in so many is one that was missed, if any is due
GONE = "A picture that is not here any more"
Drawn = TypeVar("Drawn")
_shown: BoundedCache[bytes] = BoundedCache(16 * 2**20, len)
_drawn: BoundedCache[tuple[Any]] = BoundedCache(200)


class Here:
    """This application, for a drill whose questions so far were answered as `given`: what
    `kinds.Around` says."""

    def __init__(self, drill: Drill, given: Sequence[Answer]) -> None:
        self._drill, self._given = drill, given

    @property
    def scenes(self) -> Sequence[str]:
        """All scenes, and pictures of one's own, which no file can pass on."""
        own = [] if self._drill.fixed else [p.id for p in pictures().listed(db())]
        return [*scenes.index(), *own]

    @property
    def camera(self) -> Body:
        """The body whose dials are moved."""
        return body(BODY)

    @property
    def base(self) -> Look:
        """As that ships."""
        return self.camera.meaning(self.camera.shipped)

    def scene(self, scene_id: str) -> Scene:
        """A scene or picture."""
        return address.scene_of(scene_id)

    def develop(self, view: View) -> Picture:
        """A picture."""
        scene, width = self.scene(view.scene), CLOSE if view.fine else WIDE
        return develop(scene, view.look, self.camera.sensor, width, full_detail=view.fine)

    def judge(self, scene_id: str, recipe: Recipe, schools: frozenset[str]) -> list[Judged]:
        """What is said of a recipe."""
        return measured.judged(self.scene(scene_id), recipe, schools)

    def known(self, measure: str, scale: Scale) -> Quest | None:
        """What is believed of the person, by what was answered lately, here and before."""
        if self._drill.fixed:
            return None
        every = [*answers_of(self._drill.eye, self._drill.id), *self._given]
        mine = [(a.size, a.right) for a in every if a.measure == measure]
        return replayed(scale, mine[-LATELY:])

    def right(self, measure: str) -> list[bool] | None:
        """Whether the answers of this drill were."""
        if self._drill.fixed:
            return None
        return [a.right for a in self._given if a.measure == measure]

    def remembered(self, key: Hashable, draw: Callable[[], Drawn]) -> Drawn:
        """What was drawn before, or is now."""
        found: Drawn = _drawn.make(key, lambda: (draw(),))[0]
        return found


@dataclass(frozen=True)
class Asked:
    """A question that was asked, in its surroundings."""

    kind: Kind[Any]
    question: Any
    here: Here

    @property
    def data(self) -> dict[str, Any]:
        """As it is kept."""
        return self.kind.data(self.question)

    @property
    def key(self) -> str:
        """The same for the same question."""
        return json.dumps([self.kind.id, self.data], sort_keys=True)

    @property
    def line(self) -> str:
        """What stands above it."""
        return self.kind.line(self.question, self.here)

    @property
    def choices(self) -> list[tuple[str, str]]:
        """Answers to choose from."""
        return self.kind.choices(self.question)

    def verdict(self, said: str) -> Verdict:
        """An answer, judged; PlumError where it is none."""
        with turn(Rank.FIGURES):
            return self.kind.judge(self.question, said, self.here)

    def supposed(self, number: int, right: bool) -> Answer:
        """An answer that was not given yet, as far as the next question hangs on it."""
        measure, size = self.kind.supposed(self.question, self.here)
        return Answer(number, self.data, "", right, measure, size)

    def more(self, said: str | None) -> Mapping[str, Any]:
        """What else its page shows."""
        return self.kind.more(self.question, said, self.here)

    def picture(self, side: str, said: str = "") -> bytes:
        """A side as a JPEG."""
        hangs = f"{side}{said if self.kind.hidden(side) else ''}"

        def make_() -> bytes:
            with turn(Rank.PICTURE):
                return preview(self.kind.pixels(self.question, side, said, self.here))

        return _shown.make(f"{self.key}{hangs}", make_)


def question(drill: Drill, number: int, given: Sequence[Answer]) -> Asked:
    """Question `number` of a drill, after the answers that were `given` in it."""
    kind, here = KINDS[drill.kind], Here(drill, given)
    known = next((a for a in given if a.number == number), None)
    if known is not None:
        return Asked(kind, kind.question(known.question), here)
    if not drill.fixed and number % AGAIN == AGAIN - 1:
        again = _due(drill, given)
        if again is not None:
            return Asked(kind, again, here)
    return Asked(kind, kind.ask(drill.seed, number, here), here)


def _day(moment: str) -> int:
    return date.fromisoformat(moment[:10]).toordinal()


def _due(drill: Drill, given: Sequence[Answer]) -> Any | None:
    """A question that was missed and comes again."""
    before = [
        a for d in drills.of(db(), drill.eye, drill.kind) if d.id != drill.id for a in d.answers
    ]
    done, there, kind = {_key(a) for a in given}, Here(drill, given).scenes, KINDS[drill.kind]
    known = {_key(a): _stands(kind, a.question, there) for a in before}
    answers = [
        memory.Given(_key(a), a.right, _day(a.at)) for a in before if known[_key(a)] is not None
    ]
    due = memory.due(answers, _day(drill.made_at))
    return next((known[key] for key in due if key not in done), None)


def _key(given: Answer) -> str:
    return json.dumps(given.question, sort_keys=True)


def _stands(kind: Kind[Any], data: Mapping[str, Any], there: Sequence[str]) -> Any | None:
    """A question that can be asked again: it is known, and its scene is still there."""
    if not data:
        return None
    try:
        asked = kind.question(dict(data))
        scene = kind.scene(asked)
    except PlumError:
        return None
    return asked if not scene or scene in there else None


# ---- afterwards ----------------------------------------------------------------------------------
def missed(drill: Drill) -> list[tuple[int, Missed]]:
    """The questions of a drill that were missed, by their place, but for those of which only the
    answer is known."""
    kind = KINDS[drill.kind]
    wrong = [a for a in drill.answers if a.question and not a.right]
    return [(a.number + 1, _missed(kind, a.question)) for a in wrong]


def _missed(kind: Kind[Any], data: dict[str, Any]) -> Missed:
    try:
        one = kind.missed(kind.question(data))
    except PlumError:
        return Missed("A question that cannot be read any more")
    if not one.scene:
        return one
    try:
        return Missed(one.what, address.scene_of(one.scene).title, one.side)
    except PlumError:
        return Missed(one.what, GONE, "")
