"""Trying recipes: rendering and measuring one body's in one scene, each once."""

from collections.abc import Callable, Iterator

from ..bodies import Body, Dial, Value, Values
from ..develop.pipeline import Picture, develop
from ..measure.figures import measure
from ..measure.looking import shipped
from ..measure.report import Report
from ..scenes.scene import Scene

LOOK_AT, TRY_AT = 480, 240  # pixels across: to judge, and to try what a change would do
MOST_STEPS = 4


class Workbench:
    """Renders and measures recipes of one body in one scene, each once.

    `pause` is called before each: it may wait, or raise.
    """

    def __init__(
        self, scene: Scene, camera: Body, width: int, pause: Callable[[], None] = lambda: None
    ):
        self.scene, self.camera, self.width, self.pause = scene, camera, width, pause
        self.reports: dict[tuple[tuple[str, Value], ...], Report] = {}
        pause()
        self._plain = shipped(scene, camera, width)

    def of(self, dials: Values) -> tuple[Picture, Report]:
        """A recipe's picture and its figures; all its dials are given."""
        self.pause()
        look = self.camera.meaning(dials)
        picture = develop(self.scene, look, self.camera.sensor, self.width)
        report = measure(self.scene, look, self.camera.sensor, picture, self._plain, False)
        self.reports[tuple(dials.items())] = report
        return picture, report

    def report(self, dials: Values) -> Report:
        """The figures alone, remembered."""
        known = self.reports.get(tuple(dials.items()))
        return known if known is not None else self.of(dials)[1]


def moves(camera: Body, dial: Dial, dials: Values) -> Iterator[tuple[int, Value]]:
    """Places near where a dial stands as (steps, value), nearest first, at which it counts; all of
    them where they are choices by name."""
    at = dial.position(dials[dial.id])
    reach = len(dial.values) if dial.named else MOST_STEPS
    for steps in range(1, reach + 1):
        for place in (at - steps, at + steps):
            if 0 <= place < len(dial.values):
                value = dial.values[place]
                if camera.counts(dial, {**dials, dial.id: value}):
                    yield (1 if dial.named else steps), value
