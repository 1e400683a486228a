"""What the Bench's page and its script are told of a body: dials, what keeps them from counting,
what their places cost."""

from typing import Any

from ...core.base.nominal import printed_floor
from ...core.bodies import Body, Choice, Dial, Need
from ...core.develop.sense import least_iso
from ...core.look import Metering
from ...core.styles import style

EXPOSED = "Your own picture is exposed already, so this changes nothing on it."


def choice_note(camera: Body, choice: Choice) -> str:
    """What a place of a dial costs or means, where that can be said exactly."""
    if guard := choice.adds.get("guard", 0):
        return f"at least ISO {printed_floor(least_iso(camera.sensor, guard))}"
    return choice.note[:1].lower() + choice.note[1:].rstrip(".")


def aims(choice: Choice) -> bool:
    """Whether a place of a dial makes the meter look at a spot that somebody chooses."""
    return choice.sets.get("metering") == Metering.SPOT


def here(camera: Body, dial: Dial, place: int) -> str:
    """A step in real units where the dial stands: what it costs, or between which temperatures it
    moves."""
    choice = dial.choices[place]
    if aims(choice):
        return (
            "Click the picture where it should look, or move the place by Shift and the arrow keys."
        )
    note = choice_note(camera, choice)
    if note:
        return f"Here: {note}."
    if dial.unit == "K" and 0 < place < len(dial.choices) - 1:
        return f"Here from {dial.choices[place - 1].label} to {dial.choices[place + 1].label}."
    return ""


def purposes(dial: Dial) -> list[str]:
    """What each place of a dial is for, where its places have purposes of their own, as styles
    do."""
    return [style(c.style).purpose for c in dial.choices] if "style" in dial.touches else []


def need_data(camera: Body, need: Need) -> dict[str, Any]:
    """A condition as the page's script needs it: at which places of which dial it is met."""
    other = camera.by_id[need.dial]
    return {
        "dial": need.dial,
        "met": [need.met_at(value) for value in other.values],
        "why": need.why,
    }


def dial_data(camera: Body, dial: Dial) -> dict[str, Any]:
    """A dial as the page's script needs it."""
    return {
        "id": dial.id,
        "label": dial.label,
        "unit": dial.unit,
        "group": dial.group,
        "purpose": dial.purpose,
        "purposes": purposes(dial),
        "means": dial.means,
        "later": dial.later,
        "values": [str(v) for v in dial.values],
        "labels": [c.label for c in dial.choices],
        "notes": [choice_note(camera, c) for c in dial.choices],
        "here": [here(camera, dial, k) for k in range(len(dial.choices))],
        "fine": dial.fine,
        "exposed": EXPOSED if dial.taking else "",
        "filed": dial.filed,
        "aims": [aims(c) for c in dial.choices],
        "shipped": dial.position(dial.default),
        "needs": [need_data(camera, need) for need in dial.needs],
        "choiceNeeds": [[need_data(camera, need) for need in c.needs] for c in dial.choices],
    }
