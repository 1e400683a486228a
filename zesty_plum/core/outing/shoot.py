"""A shoot as it is planned, and what it is done with."""

from dataclasses import dataclass, field

from ..bodies import Body
from ..look import Look

# Of a bracket: what goes from frame to frame, and the unit of its step.
BRACKETS = {
    "exposure": ("exposure", "stops"),
    "iso": ("ISO", "stops"),
    "guard": ("guard", "stops"),
    "balance": ("white balance", "mired"),
    "style": ("styles", ""),
}


@dataclass(frozen=True)
class Shoot:
    """A shoot: from, to, in minutes of the day, over midnight beyond 1440; what, in which light (a
    kind, and a kelvin or an EV that was measured).

    speed : how fast things move across, m/s; near : how near they are, m, and far : to where a
    focus bracket goes, m. focal : of the lens, mm; thread : of its filters, mm. frames, minutes :
    pictures, and clips. bracket : frames of one; step : between them; kind : of `BRACKETS`.
    lapse : seconds of a clip that a time lapse of all of it makes. timeline : rate at which a clip
    is shown slowed. index : exposure index at which it is rated. grey : stops of a grey filter for
    long times. weather : where it is not the day's. around : what the frame is mostly, and may
    mislead a meter. looking : bearing of the camera, degrees. walk : minutes to get there. intent :
    what the files are for, where it is not what the slip says.
    """

    starts: int
    ends: int
    title: str
    light: str = "out"
    kelvin: int = 0
    ev100: float | None = None
    speed: float = 0.0
    near: float = 3.0
    focal: float = 35.0
    frames: int = 0
    minutes: float = 0.0
    who: str = ""
    must: str = ""
    bracket: int = 1
    step: float = 1.0
    lapse: float = 0.0
    kind: str = "exposure"
    far: float = 0.0
    thread: float = 0.0
    timeline: float = 0.0
    index: float = 0.0
    grey: float = 0.0
    weather: str = ""
    around: str = ""
    looking: float | None = None
    walk: float = 0.0
    intent: str = ""

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
