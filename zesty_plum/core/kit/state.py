"""The whole state of a camera: what its slots hold, what is set now, and what stands beside the
look."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ..base.errors import PlumError
from ..base.text import shortened
from ..bodies import Body, Dial, Value

STILLS, CLIPS = "stills", "clips"
OUTPUT = "output"  # the dial that says whether a recipe is for pictures or for clips
PICTURE = "picture"


@dataclass(frozen=True)
class Slot:
    """A place of a body: its number from 1, and the bank it is in where stills and clips keep
    settings of their own."""

    number: int
    bank: str = ""

    @property
    def label(self) -> str:
        """As people write it: 2, or 2 clips."""
        return f"{self.number} clips" if self.bank == CLIPS else str(self.number)

    @property
    def key(self) -> str:
        """As files and addresses have it: 2, or c2."""
        return f"c{self.number}" if self.bank == CLIPS else str(self.number)


@dataclass(frozen=True)
class Held:
    """What a slot holds: places of the dials that slots of its body hold, and the name that the
    camera shows, if it has one."""

    dials: Mapping[str, Value]
    name: str = ""


@dataclass(frozen=True)
class State:
    """slots : what each holds, by its key; now : dials as they are set, None where nobody knows;
    beside : settings beside the look."""

    slots: Mapping[str, Held] = field(default_factory=dict)
    now: Mapping[str, Value] | None = None
    beside: Mapping[str, Value] = field(default_factory=dict)

    def with_slot(self, key: str, held: Held) -> "State":
        """The same with another content of a slot."""
        return replace(self, slots={**self.slots, key: held})


def slots(body: Body) -> list[Slot]:
    """The slots of a body in order, stills first."""
    banks = (STILLS, CLIPS) if body.separate else ("",)
    return [Slot(k, bank) for bank in banks for k in range(1, body.slots + 1)]


def slot_of(body: Body, key: str) -> Slot:
    """A slot by its key; PlumError says which there are."""
    for slot in slots(body):
        if slot.key == key:
            return slot
    many = f"1 to {body.slots}" if body.slots else "none"
    more = ", and c1 and on for clips" if body.separate and body.slots else ""
    raise PlumError(f"{body.name} has no slot '{shortened(key, 20)}'. Its slots are {many}{more}.")


def bank_of(body: Body, dials: Mapping[str, Value]) -> str:
    """The bank that a recipe belongs to."""
    if not body.separate:
        return ""
    clip = dials.get(OUTPUT, PICTURE) != PICTURE
    return CLIPS if clip else STILLS


def held(body: Body, dials: Mapping[str, Value]) -> dict[str, Value]:
    """What a slot holds of complete dials."""
    full = body.complete(dials)
    return {d.id: full[d.id] for d in body.held}


def by_hand(body: Body, dials: Mapping[str, Value]) -> list[tuple[Dial, Value]]:
    """What a recipe asks for and no slot holds: to be set by hand each time."""
    turned = body.changed(dials)
    return [(body.dial(d), turned[d]) for d in body.outside if d in turned]


def shipped(body: Body) -> State:
    """A camera as it is bought."""
    fresh = body.shipped
    every = {}
    for slot in slots(body):
        dials = dict(fresh)
        if slot.bank == CLIPS:
            dials[OUTPUT] = next(v for v in body.dial(OUTPUT).values if v != PICTURE)
        every[slot.key] = Held(held(body, dials))
    return State(every, dict(fresh), {d.id: d.default for d in body.beside})
