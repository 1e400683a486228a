"""What a day's page shows of its shoots: each worked out with its camera and slot, the slot that
would fit, and what clashes."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from ...core.base.errors import PlumError
from ...core.bodies import shipped
from ...core.develop.appearance import appearance, colour_distance
from ...core.outing import suggest
from ...core.outing.daylight import light_of, sun_of
from ...core.outing.leaving import Job
from ...core.outing.lights import SHOWN, Light
from ...core.outing.needs import Needs, needs
from ...core.outing.power import clock
from ...core.outing.shoot import Gear, Shoot
from ...core.recipe import Intent, Recipe
from ...store.cases import Case
from ...store.outings import Outing, Row
from ...store.plans import Put
from ..render import address, measured
from .kept import Kept

APART = 3.0  # CIEDE2000 on patches, from which two cameras at one thing are told apart


@dataclass(frozen=True)
class Card:
    """A shoot on the page. `number` : its place on the day. label : camera and slot, as A 2."""

    number: int
    row: Row
    light: Light
    needs: Needs
    scene: str
    put: Put | None
    case: Case | None
    gear: Gear
    label: str
    hours: str
    sun: str = ""
    warnings: tuple[str, ...] = ()

    @property
    def recipe(self) -> Recipe | None:
        """What stands in its slot."""
        return self.put.recipe if self.put else None


def hours(shoot: Shoot) -> str:
    """From and to, as people write them."""
    return f"{clock(shoot.starts)}–{clock(shoot.ends)}"


def coming(outing: Outing, kept: Kept) -> list[Case]:
    """The cameras that come along: those that were named, or all."""
    named = [c for c in kept.cases.values() if c.id in outing.said.cases]
    return named or list(kept.cases.values())


def card(outing: Outing, row: Row, kept: Kept, number: int = 0) -> Card:
    """A shoot worked out."""
    case = kept.cases.get(row.case) if row.case else None
    put = kept.slots(case).get(row.slot) if case and row.slot else None
    camera = case.camera if case else next(iter(shipped().values()))
    look = put.recipe.look if put else camera.interpret({})
    gear = Gear(camera, case.crop if case else 1.0, look, put.recipe.name if put else "")
    light = light_of(outing.said, row.shoot)
    made = needs(row.shoot, light, gear, outing.said.mains)
    letter = case.short if case else ""
    return Card(
        number,
        row,
        light,
        made,
        row.scene or (put.scene if put else "") or SHOWN[light.group],
        put,
        case,
        gear,
        f"{letter} {row.slot}".strip() if put else letter,
        hours(row.shoot),
        sun_of(outing.said, row.shoot),
        (*made.warnings, *(_of_kit(kept, case, row, put) if case else ())),
    )


def jobs(made: Iterable[Card], kept: Kept) -> list[Job]:
    """The shoots of a page as they are looked at together."""
    return [
        Job(
            c.row.shoot,
            c.gear,
            c.light,
            c.needs.exposure.filter,
            kept.camera(c.case) if c.case else None,
        )
        for c in made
    ]


def cards(outing: Outing, kept: Kept) -> list[Card]:
    """The shoots of a day, worked out."""
    made = [card(outing, row, kept, k) for k, row in enumerate(outing.rows)]
    return [replace(c, warnings=(*c.warnings, *_differ(c, made))) for c in made]


def _of_kit(kept: Kept, case: Case, row: Row, put: Put | None) -> list[str]:
    """What the kit says of a shoot's slot."""
    if row.slot and put is None:
        return [f"Nothing is planned for slot {row.slot}"]
    if put is None:
        return []
    at = kept.of(case)
    if put.key in at.wrong:
        return [f"Slot {row.slot} is not as planned"]
    if at.last is not None and put.put_at > at.last.read_at:
        return [f"Slot {row.slot} was planned anew after its card was read"]
    return []


def _differ(mine: Card, every: Iterable[Card]) -> list[str]:
    """Cameras that are at one thing and render it differently."""
    out = []
    for other in every:
        if other.number == mine.number or mine.put is None or other.put is None:
            continue
        a, b = mine.row.shoot, other.row.shoot
        at_once = max(a.starts, b.starts) < min(a.ends, b.ends)
        one_thing = mine.scene == other.scene or a.title.casefold() == b.title.casefold()
        if not at_once or not one_thing or mine.row.case == other.row.case:
            continue
        apart = apart_on_patches(mine.put.recipe, other.put.recipe)
        if apart >= APART:
            out.append(f"{mine.label} and {other.label} differ: CIEDE2000 {apart:.1f}")
    return list(dict.fromkeys(out))


def apart_on_patches(first: Recipe, second: Recipe) -> float:
    """Mean CIEDE2000 between two recipes on patches under several lights."""
    return colour_distance(*(appearance(r.look, r.camera.sensor) for r in (first, second)))[0]


# ---- which slot fits -----------------------------------------------------------------------------
@dataclass(frozen=True)
class Fits:
    """The slot that fits a shoot, or None, and why."""

    choice: suggest.Choice | None
    words: str


def fits(outing: Outing, row: Row, wait: bool) -> Fits | None:
    """Which slot fits a shoot, by verdicts on a scene of its light; None where those are not known
    yet and nobody is to wait."""
    kept = Kept()
    made = card(outing, row, kept)
    among = [made.case] if made.case else coming(outing, kept)
    choices = []
    for case in among:
        for put in kept.slots(case).values():
            if put.slip is None:
                continue  # the way back is for no light
            recipe = put.recipe
            if row.shoot.intent:
                recipe = replace(recipe, intent=Intent(row.shoot.intent))
            verdicts = _verdicts(made.scene, recipe, wait)
            if verdicts is None:
                return None
            choices.append(suggest.Choice(case.id, put.key, recipe, put.why, verdicts))
    found = suggest.best(choices, made.light, row.shoot.kelvin)
    if found is None:
        return Fits(None, "No slot holds anything yet. Put slips into the slots on Kit.")
    return Fits(*found)


def _verdicts(scene_id: str, recipe: Recipe, wait: bool) -> int | None:
    try:
        scene = address.scene_of(scene_id)
    except PlumError:  # a picture that is not there any more
        return 0
    return measured.weighty(scene, recipe, wait)
