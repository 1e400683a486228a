"""What is said of a dial in a list that somebody writes for a camera of their own."""

import re
from dataclasses import dataclass
from typing import Any

from ..fields.declared import says
from ..fields.kinds import Number, Text
from .file import MOST_AFTER, MOST_LABEL

LABEL = Text(MOST_LABEL)
DIVIDED = Number(-99_999, 99_999, None, example="0.5")
KELVIN = Number(1800, 20_000, None, True, "K")
SLOTS = Number(0, 100, whole=True)


@dataclass(frozen=True)
class Listed:
    """A row: where the dial stands, what it is called, in which menu; and of a dial of numbers
    from where it goes to where, in which steps, with which unit, and how many times as far one unit
    goes. What is None or empty is as it was."""

    order: float | None = says(Number(-999, 9999, None, example="3"), "Place", None)
    label: str = says(LABEL, "Name", "")
    group: str = says(LABEL, "Menu", "")
    low: float | None = says(DIVIDED, "From", None)
    high: float | None = says(DIVIDED, "To", None)
    step: float | None = says(DIVIDED, "Step", None)
    after: str = says(Text(MOST_AFTER), "Unit", "")
    times: float | None = says(DIVIDED, "One step goes", None)

    @staticmethod
    def together(values: dict[str, Any]) -> dict[str, str]:
        """A unit has no digit, or it would be read as part of a number."""
        if re.search(r"[0-9]", values["after"]):
            return {"after": "is a unit as EV or %, without a digit"}
        return {}
