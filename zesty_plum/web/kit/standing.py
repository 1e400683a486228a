"""What a camera's page shows: its slots with what should be and what is in them, what differs, and
in how many presses it can be put right."""

from dataclasses import dataclass
from datetime import date
from functools import cached_property

from ...core.base.text import joined
from ...core.bodies import Dial
from ...core.kit import differ
from ...core.kit.differ import Difference, Found, Setting
from ...core.kit.presses import Press, presses, total
from ...core.kit.state import State, by_hand, slot_of, slots
from ...core.seen import REMAINS
from ...store import plans, readings, shelf, slips, uses
from ...store.cases import Case
from ...store.plans import Put
from ...store.readings import Reading
from ..frame.context import db
from ..render import address

STALE_DAYS, IDLE_DAYS, MOST_SLIPS = 60, 60, 400
ESCAPE = "white_balance"  # what a button does that is a way out of a fixed light


@dataclass(frozen=True)
class Place:
    """A slot on the page: its label, what should be in it with its picture's query, and how it was
    found; `loose` are dials that have to be set by hand, for no slot holds them."""

    key: str
    label: str
    bank: str
    put: Put | None
    query: str
    scene: str
    found: Difference | None
    loose: tuple[tuple[str, str], ...]

    @property
    def note(self) -> str:
        """What is wrong with it, short; empty where nothing is."""
        if self.found is None:
            return ""
        if self.found.found is Found.CHANGED:
            label, want, there = self.found.dials[0]
            more = len(self.found.dials) - 1
            also = f", and {more} more" if more else ""
            return f"{label} {there} on the body, {want} on the slip{also}"
        if self.found.found is Found.OTHER_VERSION:
            return f"On the body it is version {self.found.version}"
        if self.found.found is Found.UNKNOWN:
            return "Something else is in it"
        if self.found.gone_on:
            return f"The slip is at version {self.found.gone_on}"
        return ""


@dataclass(frozen=True)
class Standing:
    """A camera as it stands."""

    case: Case
    places: tuple[Place, ...]
    settings: tuple[Setting, ...]
    reading: Reading | None
    plan: State

    @cached_property
    def steps(self) -> tuple[Press, ...]:
        """The presses that put it right."""
        if self.reading is None:
            return ()
        return presses(self.case.camera, self.reading.state, self.plan)

    @property
    def differing(self) -> int:
        """Slots that are not what the plan says."""
        return sum(1 for p in self.places if p.found is not None and p.found.differs)

    @property
    def sentence(self) -> str:
        """What differs, in words; empty where nothing does."""
        said, slots_, beside = [], self.differing, len(self.settings)
        if slots_:
            verb = "slot is" if slots_ == 1 else "slots are"
            said.append(f"{counted(slots_)} {verb} not what the slips say.")
        if beside:
            verb = (
                "setting beside the look differs"
                if beside == 1
                else "settings beside the look differ"
            )
            said.append(f"{counted(beside)} {verb}.")
        gone = sum(1 for p in self.places if p.found and p.found.gone_on and not p.found.differs)
        if gone:
            verb = "slip has" if gone == 1 else "slips have"
            said.append(f"{counted(gone)} {verb} gone on to another version.")
        return " ".join(said)

    @property
    def many(self) -> int:
        """Presses that put it right."""
        return total(self.steps)


def counted(many: int) -> str:
    """A number as it begins a sentence."""
    small = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten")
    return small[many] if many < len(small) else str(many)


def standing(case: Case, pictures: bool = True) -> Standing:
    """A camera as it stands, from its plan and the last time that it was read."""
    camera, puts = case.camera, plans.slots_of(db(), case.id)
    reading = readings.last(db(), case)
    found: dict[str, Difference] = {}
    settings: list[Setting] = []
    plan = plans.plan_of(db(), case)
    if reading is not None:
        wanted = plans.planned(db(), case)
        known = [s.recipe for s in of_body(case)] if pictures else []
        found = {d.key: d for d in differ.differences(camera, reading.state, wanted, known)}
        settings = differ.settings(camera, reading.state, plan.beside)
    places = []
    for slot in slots(camera):
        put = puts.get(slot.key)
        loose = by_hand(camera, put.recipe.dials) if put else []
        places.append(
            Place(
                slot.key,
                slot.label,
                slot.bank,
                put,
                address.look_query(put.recipe) if put else "",
                put.scene if put and put.scene else address.FIRST_SCENE,
                found.get(slot.key) if put or reading is None else None,
                tuple((d.label, d.choice(v).label) for d, v in loose),
            )
        )
    return Standing(case, tuple(places), tuple(settings), reading, plan)


def of_body(case: Case) -> list[slips.Slip]:
    """The slips that are for a camera's body, the newest first."""
    found = slips.some(db(), shelf.find(db(), most=MOST_SLIPS))
    return [s for s in found if s.recipe.body == case.body]


def line(case: Case, today: str) -> str:
    """What a list of cameras says of one: as planned, how many slots differ, or since when it was
    not read."""
    at = standing(case, pictures=False)
    if at.reading is None:
        return "not read yet"
    if days(at.reading.read_at, today) > STALE_DAYS:
        return f"not read since {at.reading.read_at[:10]}"
    wrong = at.differing + len(at.settings)
    return f"{wrong} {'differs' if wrong == 1 else 'differ'}" if wrong else "as planned"


def days(then: str, now: str) -> int:
    """Days between two moments."""
    return (date.fromisoformat(now[:10]) - date.fromisoformat(then[:10])).days


def homeless(case: Case) -> list[slips.Slip]:
    """Slips for a camera's body that stand in none of its slots."""
    there = {put.slip for put in plans.slots_of(db(), case.id).values()}
    return [s for s in of_body(case) if s.id not in there]


def alike(at: Standing) -> list[tuple[str, str]]:
    """Pairs of slots that nobody could tell apart."""
    puts = [(p.label, p.put.recipe) for p in at.places if p.put]
    return [
        (a, b)
        for k, (a, one) in enumerate(puts)
        for b, two in puts[k + 1 :]
        if one.intent == two.intent and differ.eye(one, two)[1][0] == REMAINS[0][1]
    ]


def idle(at: Standing, today: str) -> str:
    """Slots that nobody used for long, in a sentence, though the camera was out; empty where there
    are none, or where nothing is known of its days."""
    puts = {p.key: p.put for p in at.places if p.put}
    used = uses.last(db(), at.case.id, puts, today)
    if all(days(day, today) > IDLE_DAYS for day in used.values()):
        return ""
    left = [
        p.label for p in at.places
        if p.put and p.put.slip and days(max(p.put.put_at, used.get(p.key, "")), today) > IDLE_DAYS
    ]  # fmt: skip
    if not left:
        return ""
    names = f"Slot {left[0]} was" if len(left) == 1 else f"Slots {joined(left)} were"
    return f"{names} in no outing and no note for {IDLE_DAYS} days."


def escape(case: Case, beside: State) -> str:
    """Which button leads to white balance, and where automatic is."""
    camera = case.camera
    button = next((d.label for d in camera.beside if beside.beside.get(d.id) == ESCAPE), "")
    balance: Dial | None = next(
        (d for d in camera.dials if "balance" in d.touches and "auto" in map(str, d.values)), None
    )
    if balance is None:
        return ""
    if button:
        return f"Orange under lamps? {button}, then {balance.label} auto."
    has = any(ESCAPE in map(str, d.values) for d in camera.beside)
    return (
        "No button leads to white balance. Give one to it, for when lamps turn orange."
        if has
        else f"Orange under lamps? {balance.group}, {balance.label} auto."
    )


def labelled(case: Case, key: str) -> str:
    """A slot as people name it: A 2."""
    slot = slot_of(case.camera, key)
    return f"{case.short} {slot.label}"
