"""Where is it wrong?"""

import numpy as np

from ...base.arrays import Bytes8
from ...base.errors import PlumError
from ...base.late import library
from .. import places
from ..places import FAULTS, Spot
from ..quest import octaves
from .kind import Around, Data, Kind, Measure, Missed, Verdict, mark

cv2 = library("cv2")

WIDE, CLOSE = 640, 420  # pixels across of a picture, and at 100 percent
MARK, MINE = (240, 164, 0), (106, 29, 78)  # zest round what is wrong, plum where somebody marked
TRIES = 8
FIRST, LESS = 0.03, 0.8  # share that is wrong in a first question, and times as much in the next


def _told(threshold: tuple[float, float, float], right: int, of: int) -> str:
    share = 2.0 ** threshold[0]
    return f"finds {right} of the last {of} places, of {share:.1f} % of the frame"


class Where(Kind[Spot]):
    """A picture in which a place is to be marked."""

    id, title = "where", "Where is it wrong?"
    about = "mark what is clipped, blocked up, smeared or banding, before you look"
    ahead = ("a",)
    measures = (Measure("where", "Where", places.SCALE, _told),)

    def ask(self, seed: int, number: int, around: Around) -> Spot:
        """As in `Kind`."""
        wanted, known = FIRST * LESS ** min(number, 8), around.known(self.id, places.SCALE)
        if known is not None:
            steps = [places.SCALE.low + k * 0.5 for k in range(15)]
            wanted = 2.0 ** known.ask([s for s in steps if s <= places.SCALE.high]) / 100
        for more in range(TRIES):
            spot = _spot(seed, number + 1000 * more, around, round(wanted, 4))
            if spot is not None:
                return spot
        raise PlumError("No scene comes to a question like this. Begin another drill.")

    def read(self, data: Data) -> Spot:
        """As in `Kind`."""
        return Spot(**data)

    def line(self, question: Spot, around: Around) -> str:
        """As in `Kind`."""
        where = around.scene(question.scene).title + (", at 100 %" if question.fine else "")
        return f"{where}. Mark a place that is {FAULTS[question.fault][0]}."

    def hidden(self, side: str) -> bool:
        """As in `Kind`."""
        return side == "marked"

    def pixels(self, question: Spot, side: str, said: str, around: Around) -> Bytes8:
        """As in `Kind`; 'marked' with what is wrong, and where somebody marked."""
        found = _seen(question, around)
        pixels = np.ascontiguousarray(found.pixels)
        if side != "marked":
            return pixels
        pixels = pixels.copy()
        wrong = found.wrong.astype(np.uint8)
        lines, _ = cv2.findContours(wrong, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        cv2.drawContours(pixels, lines, -1, MARK, 2)
        at = mark(said)
        if at is not None:
            height, width = pixels.shape[:2]
            here = round(at[0] * width), round(at[1] * height)
            cv2.drawMarker(pixels, here, MINE, cv2.MARKER_CROSS, 26, 4)
        return pixels

    def judge(self, question: Spot, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        at = mark(said)
        if at is None:
            raise PlumError("Mark a place in the picture first.")
        seen, (named, look_at) = _seen(question, around), FAULTS[question.fault]
        words = f"{100 * seen.share:.1f} % of the frame is {named}, outlined here. {look_at}"
        return Verdict(seen.found(*at), words, *self.supposed(question, around), seen.middle)

    def supposed(self, question: Spot, around: Around) -> tuple[str, float]:
        """As in `Kind`."""
        return self.id, octaves(100 * _seen(question, around).share)

    def missed(self, question: Spot) -> Missed:
        """As in `Kind`."""
        named = FAULTS[question.fault][0]
        return Missed(named[:1].upper() + named[1:], question.scene, "marked")


def _seen(spot: Spot, around: Around) -> places.Seen:
    """The picture of a question, with its places."""
    width = CLOSE if spot.fine else WIDE
    return places.seen(spot, around.scene(spot.scene), around.base, around.camera.sensor, width)


def _spot(seed: int, number: int, around: Around, wanted: float) -> Spot | None:
    def draw() -> Spot | None:
        sensor = around.camera.sensor
        return places.ask(seed, number, around.scenes, around.scene, around.base, sensor, wanted)

    return around.remembered((seed, number, tuple(around.scenes), wanted), draw)
