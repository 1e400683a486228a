"""What differs between a plan and what was found in a camera: slot by slot, in words and in
CIEDE2000 on patches."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from ..bodies import Body, Value
from ..develop.appearance import appearance, colour_distance, texture_distance
from ..recipe import Recipe, make
from ..translate import remaining
from .state import Held, State, held, slots

MOST_DIALS = 6  # that differ, up to which somebody changed a slot and did not put in another


class Found(StrEnum):
    """How a slot was found."""

    PLANNED = "as planned"
    LEFT = "left so"
    OTHER_VERSION = "another version"
    CHANGED = "changed by hand"
    UNKNOWN = "something else"
    FREE = "not planned"
    UNREAD = "not read"


@dataclass(frozen=True)
class Planned:
    """What should be in a slot: a recipe, which version of its slip that is, and the slip's other
    versions; `left` is what somebody settled to leave there instead."""

    recipe: Recipe
    version: int = 0
    others: Mapping[int, Recipe] = field(default_factory=dict)
    left: Mapping[str, Value] | None = None

    @property
    def newest(self) -> int:
        """The newest version of its slip."""
        return max([self.version, *self.others])


@dataclass(frozen=True)
class Difference:
    """A slot as it was found. dials : (label, planned, found) of those that differ. mean :
    CIEDE2000 on patches. words : of that, by eye. version : which other version it is. nearest :
    name of the slip that something else is nearest to. gone_on : the newest version of the slip,
    where that is not the planned one. there : what was found, as a recipe."""

    key: str
    found: Found
    dials: tuple[tuple[str, str, str], ...] = ()
    mean: float = 0.0
    words: tuple[str, ...] = ()
    version: int = 0
    nearest: str = ""
    gone_on: int = 0
    there: Recipe | None = None

    @property
    def differs(self) -> bool:
        """Whether it is other than planned."""
        return self.found in (Found.OTHER_VERSION, Found.CHANGED, Found.UNKNOWN)


def differences(
    body: Body, state: State, plan: Mapping[str, Planned], slips: Sequence[Recipe] = ()
) -> list[Difference]:
    """All slots of a body as they were found, in order; `slips` are looked through for what
    something unknown is nearest to."""
    return [
        _slot(body, slot.key, state.slots.get(slot.key), plan.get(slot.key), slips)
        for slot in slots(body)
    ]


def as_recipe(body: Body, there: Held) -> Recipe:
    """What a slot holds as a recipe; dials that slots do not hold stand as shipped."""
    return make(there.name or "On the body", body.id, dict(there.dials))


def same(body: Body, a: Mapping[str, Value], b: Mapping[str, Value]) -> bool:
    """Whether two sets of dials are one in a slot."""
    return held(body, a) == held(body, b)


def _slot(
    body: Body, key: str, there: Held | None, planned: Planned | None, slips: Sequence[Recipe]
) -> Difference:
    gone = planned.newest if planned and planned.newest > planned.version else 0
    if there is None:
        return Difference(key, Found.UNREAD, gone_on=gone)
    made = as_recipe(body, there)
    if planned is None:
        return Difference(key, Found.FREE, nearest=_nearest(body, made, slips), there=made)
    if same(body, made.dials, planned.recipe.dials):
        return Difference(key, Found.PLANNED, gone_on=gone, there=made)
    mean, words = eye(planned.recipe, made)
    base = Difference(
        key,
        Found.CHANGED,
        dials=_dials(body, planned.recipe, made),
        mean=mean,
        words=words,
        gone_on=gone,
        there=made,
    )
    if planned.left is not None and same(body, made.dials, planned.left):
        return replace(base, found=Found.LEFT)
    for number, other in planned.others.items():
        if same(body, made.dials, other.dials):
            return replace(base, found=Found.OTHER_VERSION, version=number)
    if len(base.dials) <= MOST_DIALS:
        return base
    return replace(base, found=Found.UNKNOWN, nearest=_nearest(body, made, slips))


def _dials(body: Body, planned: Recipe, made: Recipe) -> tuple[tuple[str, str, str], ...]:
    there = {d.label for d in body.held}
    return tuple(row for row in planned.differing(made) if row[0] in there)


def eye(planned: Recipe, made: Recipe) -> tuple[float, tuple[str, ...]]:
    """How far two recipes of a body are apart: CIEDE2000 on patches, and by eye."""
    sensor = planned.camera.sensor
    colours = colour_distance(appearance(planned.look, sensor), appearance(made.look, sensor))
    texture = texture_distance(planned.look, made.look)
    return colours[0], tuple(remaining(colours, texture))


def _nearest(body: Body, made: Recipe, slips: Sequence[Recipe]) -> str:
    """Name of the slip whose dials are most like what was found."""
    mine = held(body, made.dials)

    def off(other: Recipe) -> int:
        theirs = held(body, other.dials)
        return sum(theirs[k] != v for k, v in mine.items())

    known = [s for s in slips if s.body == body.id]
    return min(known, key=off).name if known else ""


@dataclass(frozen=True)
class Setting:
    """A setting beside the look that is other than planned, or was not planned."""

    id: str
    label: str
    planned: str
    found: str
    caution: str


def settings(body: Body, state: State, plan: Mapping[str, Value]) -> list[Setting]:
    """Settings beside the look that are other than planned, in the order of the menu."""
    out = []
    for dial in body.beside:
        want, there = plan.get(dial.id), state.beside.get(dial.id)
        if want is not None and there is not None and want != there:
            labels = dial.choice(want).label, dial.choice(there).label
            out.append(Setting(dial.id, dial.label, *labels, dial.later))
    return out
