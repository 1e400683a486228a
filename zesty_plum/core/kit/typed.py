"""What a camera shows, typed: "all as planned but 2: Shadows -1"."""

import re

from ..base.errors import PlumError
from ..base.text import shortened
from ..bodies import Body, Value
from ..lists import read_list
from .state import Held, State, slot_of

MOST_LETTERS = 4000
_ALL = re.compile(r"\ball\s+as\s+planned\b(\s*,?\s*but\b)?[:,]?", re.IGNORECASE)
_SLOT = re.compile(r"^\s*(?:slot\s+)?(c?\d{1,2})\s*(clips)?\s*[:.)]\s*(.*)$", re.IGNORECASE)
_PLANNED = re.compile(r"^(as\s+planned|ok|right)\.?$", re.IGNORECASE)


def typed(body: Body, plan: State, text: str) -> State:
    """The state of a camera from what somebody typed, a slot a line or by semicolons: dials that
    differ from its plan, `as planned`, or settings beside the look. What is not spoken of counts as
    planned where "all as planned" is said, and as not read else. PlumError names what is not
    understood."""
    text = text[:MOST_LETTERS]
    every = bool(_ALL.search(text))
    left = _ALL.sub("\n", text)
    found = dict(plan.slots) if every else {}
    beside = dict(plan.beside) if every else {}
    for line in re.split(r"[;\n]", left):
        said = line.strip().rstrip(".")
        if not said:
            continue
        if match := _SLOT.match(said):
            key = ("c" if match[2] and match[1][0] not in "cC" else "") + match[1].lower()
            slot_of(body, key)
            found[key] = _held(body, plan.slots.get(key), match[3].strip(), key)
        else:
            beside |= _setting(body, said)
    if not found and not beside:
        raise PlumError(
            'Nothing was said of any slot. Write "all as planned", or a line a slot, as '
            '"2: Shadows -1".'
        )
    return State(found, None, beside)


def _held(body: Body, planned: Held | None, said: str, key: str) -> Held:
    if planned is None:
        planned = Held({d.id: d.default for d in body.held})
    if not said or _PLANNED.match(said):
        return planned
    read = read_list(said, body)
    if read.open or not read.dials:
        raise PlumError(
            f"Slot {key}: '{shortened(said, 60)}' is no setting of {body.name}. Write a dial and "
            "its place, as they stand in its menu."
        )
    dials = {k: v for k, v in read.dials.items() if k not in body.outside}
    return Held({**planned.dials, **dials}, planned.name)


def _setting(body: Body, said: str) -> dict[str, Value]:
    for dial in body.beside:
        label = dial.label.casefold()
        if said.casefold().startswith(label):
            word = said[len(label) :].strip(" :=").casefold()
            for choice in dial.choices:
                if word in (choice.label.casefold(), str(choice.value).casefold()):
                    return {dial.id: choice.value}
            listed = ", ".join(c.label for c in dial.choices)
            raise PlumError(f"{dial.label} can be {listed}, not '{shortened(word, 30)}'.")
    raise PlumError(
        f"'{shortened(said, 60)}' is not understood. Begin with a slot, as 2:, or with a setting "
        "beside the look, as it stands in the menu."
    )
