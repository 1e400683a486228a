"""Which dial moved?"""

from dataclasses import replace

from .. import pairs
from ..dimensions import BY_ID, DIMENSIONS, Dimension
from ..pairs import NOTHING, Pair
from ..quest import Quest, octaves
from .kind import Around, Data, Kind, Measure, Missed, Verdict, View, chosen, labs


def _measure(dim: Dimension) -> Measure:
    def told(threshold: tuple[float, float, float], right: int, of: int) -> str:
        middle, low, high = (2.0**octave for octave in threshold)
        words = dim.words(middle, True).rsplit(" ", 1)[0]
        return f"{words} ({_short(low, dim.unit)} to {_short(high, dim.unit)})"

    return Measure(f"which:{dim.id}", dim.label, dim.scale, told)


def _short(value: float, unit: str) -> str:
    if unit == "share":
        return f"{100 * value:.1f}" if value < 0.1 else f"{100 * value:.0f}"
    return f"{value:.2g}" if value < 10 else f"{value:.0f}"


class Which(Kind[Pair]):
    """Two pictures, one dial apart, or none."""

    id, title, about = "which", "Which dial moved?", "two pictures, one dial apart"
    flicks, ahead = True, ("a", "b")
    measures = tuple(map(_measure, DIMENSIONS))

    def ask(self, seed: int, number: int, around: Around) -> Pair:
        """As in `Kind`."""

        def known(dim: Dimension) -> Quest | None:
            return around.known(f"which:{dim.id}", dim.scale)

        return pairs.which(seed, number, around.scenes, around.base, known)

    def read(self, data: Data) -> Pair:
        """As in `Kind`."""
        return Pair(**{**data, "choices": tuple(data["choices"])})

    def line(self, question: Pair, around: Around) -> str:
        """As in `Kind`."""
        left, right = ("Left", "right") if question.right else ("Right", "left")
        where = around.scene(question.scene).title + (", at 100 %" if question.fine else "")
        return f"{where}. {left} as shipped, {right} with one dial moved, or none."

    def sides(self, question: Pair, around: Around) -> dict[str, View]:
        """As in `Kind`."""
        both = question.looks(around.base)
        return {
            side: View(question.scene, look, question.fine)
            for side, look in zip("ab", both, strict=True)
        }

    def choices(self, question: Pair) -> list[tuple[str, str]]:
        """As in `Kind`."""
        return [(d, BY_ID[d].label if d in BY_ID else "Nothing") for d in question.choices]

    def judge(self, question: Pair, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        chosen(said, question.choices)
        scene = around.scene(question.scene)
        views = list(self.sides(question, around).values())
        seen = pairs.shown(
            replace(scene, mask=None) if question.fine else scene, *labs(views, around)
        )
        words = pairs.explained(question, said, seen, around.camera)
        if question.dim == NOTHING:
            return Verdict(said == NOTHING, words, "which:nothing")
        at = seen.at if seen.there >= 0.5 else None
        return Verdict(said == question.dim, words, *self.supposed(question, around), at)

    def supposed(self, question: Pair, around: Around) -> tuple[str, float]:
        """As in `Kind`."""
        if question.dim == NOTHING:
            return self.id, 0.0
        return f"which:{question.dim}", octaves(question.size)

    def missed(self, question: Pair) -> Missed:
        """As in `Kind`."""
        side = "b" if question.right else "a"
        if question.dim == NOTHING:
            return Missed("Nothing moved", question.scene, side)
        dim = BY_ID[question.dim]
        words = f"{dim.label}, {dim.words(question.size, question.up)}"
        return Missed(words, question.scene, side)

    def more(self, question: Pair, said: str | None, around: Around) -> dict[str, str]:
        """As in `Kind`."""
        return {"answer": question.dim}
