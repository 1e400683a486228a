"""A shoot as it is planned, and what it is done with."""

from dataclasses import dataclass, field
from typing import Any, ClassVar

from ..bodies import Body
from ..fields.declared import says
from ..fields.kinds import DAY, Choice, Clock, Number, Text, Typed, among
from ..fields.number import number, shown
from ..look import Look
from ..recipe import INTENT_WORDS
from ..reckon.time import measured
from .lights import WEATHERS, kinds
from .meter import AROUNDS
from .sunlight import BEARINGS

MOST_NAME, MOST_TEXT = 80, 400
MOST_BRACKET = 15  # frames
MOST_STEP = 5  # stops; mired go as far as the field does
LONGEST = 16  # hours of a shoot; one that seems longer is a slip of the pen
NAME, TEXT = Text(MOST_NAME), Text(MOST_TEXT)


def _ev(text: str) -> float | None:
    return None if number(text) is not None else measured(text)


def _bearing(degrees: float) -> str:
    named = {value: name for name, value in BEARINGS.items()}
    return named.get(degrees, shown(degrees))


def _brackets() -> dict[str, str]:
    """Kinds of brackets, in words."""
    from .bracketing import BRACKETS  # which lists the frames of a shoot

    return {name: kind.words for name, kind in BRACKETS.items()}


def _some(low: float, high: float, unit: str = "") -> Number:
    """A number that is 0 where it is not said."""
    return Number(low, high, unsaid=0, unit=unit)


@dataclass(frozen=True)
class Shoot:
    """A shoot: from, to, in minutes of the day, over midnight beyond 1440; what, in which light.
    What is 0, empty or None is not said."""

    starts: int = says(Clock(), "From", key="from", note="Local time")
    ends: int = says(Clock(), "To", key="to")
    title: str = says(NAME, "What", "A shoot")
    light: str = says(Choice(kinds, "out"), "Light", "out")
    kelvin: int = says(Number(1000, 20000, 0, True, "K"), "Kelvin, if you know", 0)
    ev100: float | None = says(
        Typed(Number(-12, 24, None), _ev, lambda v: f"{v:.3g}"),
        "EV, or what a camera said", None, form="ev",
        note="At ISO 100, if it was measured",
    )  # fmt: skip
    speed: float = says(
        Number(0, 400, 0, unit="m/s"), "Moves at, m/s", 0.0, note="Across the frame"
    )
    near: float = says(Number(0.05, 10000, unit="m"), "How near, m", 3.0)
    focal: float = says(Number(1, 2000, unit="mm"), "Lens, mm", 35.0)
    frames: int = says(Number(0, 100_000, 0, True), "Pictures", 0)
    minutes: float = says(Number(0, 1440, 0, unit="min"), "Minutes of clips", 0.0)
    who: str = says(NAME, "Who", "", private=True)
    must: str = says(TEXT, "Must not be missed", "", private=True)
    bracket: int = says(Number(1, MOST_BRACKET, whole=True), "Bracket, frames", 1)
    step: float = says(
        Number(0.3, 200), "Its step, stops or mired", 1.0, note=f"Stops go to {MOST_STEP}"
    )
    lapse: float = says(
        _some(0.5, 3600, "s"), "Time lapse, seconds of clip", 0.0, note="That all frames make"
    )
    kind: str = says(
        Choice(_brackets, "exposure"),
        "Of", "exposure", note="What goes from frame to frame of a bracket",
    )  # fmt: skip
    far: float = says(_some(0.05, 10000, "m"), "Focus bracket from near to, m", 0.0)
    thread: float = says(_some(10, 200, "mm"), "Its filter thread, mm", 0.0)
    timeline: float = says(_some(1, 1000), "Slow motion, shown at", 0.0, note="Rate")
    index: float = says(_some(12, 1_000_000), "Exposure index", 0.0)
    grey: float = says(_some(0.3, 20), "Grey filter for a long time, stops", 0.0)
    weather: str = says(Choice(among(WEATHERS)), "Weather then", "", note="Else as on the day")
    around: str = says(
        Choice(among(AROUNDS)), "The frame is mostly", "", note="It may mislead a meter"
    )
    looking: float | None = says(
        Typed(Number(0, 360, None, unit="°"), BEARINGS.get, _bearing),
        "The camera looks", None, note="Bearing, degrees",
    )  # fmt: skip
    walk: float = says(Number(0, 600, 0, unit="min"), "Way there, min", 0.0)
    intent: str = says(
        Choice(lambda: {str(i): words for i, words in INTENT_WORDS.items()}),
        "The files are for", "", note="Else as the slip says",
    )  # fmt: skip

    SCHEMA: ClassVar[dict[str, Any]] = {
        "if": {"properties": {"kind": {"not": {"const": "balance"}}}},
        "then": {"properties": {"step": {"maximum": MOST_STEP}}},
    }

    @staticmethod
    def together(values: dict[str, Any]) -> dict[str, str]:
        """What its fields say together: an end before the beginning is on the next day."""
        if values["starts"] == DAY:
            values["starts"] = 0
        if values["ends"] <= values["starts"]:
            values["ends"] += DAY
        if values["ends"] - values["starts"] > LONGEST * 60:
            return {
                "ends": f"comes after the beginning, and within {LONGEST} hours; over midnight it "
                "is on the next day"
            }
        if values["kind"] != "balance" and values["step"] > MOST_STEP:
            return {"step": f"goes from 0.3 to {MOST_STEP} for stops; more is for mired"}
        return {}

    @property
    def files(self) -> int:
        """Pictures that are written: each as many as its bracket has frames."""
        return self.frames * max(1, self.bracket)


@dataclass(frozen=True)
class Gear:
    """What it is done with: a body, its crop factor, the look of the slot, and its name."""

    body: Body
    crop: float = 1.0
    look: Look = field(default_factory=Look)
    name: str = ""
