"""How far?"""

from .. import pairs
from ..dimensions import BY_ID
from ..pairs import Far as Question
from ..quest import Scale, octaves
from .kind import Around, Data, Kind, Measure, Missed, Verdict, View, chosen, labs
from .which import Which

SCALE = Scale(0.15, 1.6, 0.8, 0.8, (0.25,))


def _told(threshold: tuple[float, float, float], right: int, of: int) -> str:
    return f"tells sizes {2.0 ** threshold[0]:.2f} times apart; {right} of the last {of} right"


class Far(Kind[Question]):
    """Two pictures, a dial that is told apart: by how much."""

    id, title = "far", "How far?"
    about = "say the step in mired, stops or per cent"
    miss, flicks, ahead = "Not quite", True, ("a", "b")
    measures = (Measure("far", "How far", SCALE, _told),)

    def ask(self, seed: int, number: int, around: Around) -> Question:
        """As in `Kind`."""
        known = around.known(self.id, SCALE)
        return pairs.far(seed, number, around.scenes, around.base, known)

    def read(self, data: Data) -> Question:
        """As in `Kind`."""
        return Question(Which().read(data["pair"]), tuple(data["sizes"]), data["ratio"])

    def scene(self, question: Question) -> str:
        """As in `Kind`."""
        return question.pair.scene

    def line(self, question: Question, around: Around) -> str:
        """As in `Kind`."""
        pair = question.pair
        where = around.scene(pair.scene).title + (", at 100 %" if pair.fine else "")
        return f"{where}. {BY_ID[pair.dim].label} moved on the right. How far?"

    def sides(self, question: Question, around: Around) -> dict[str, View]:
        """As in `Kind`."""
        return Which().sides(question.pair, around)

    def choices(self, question: Question) -> list[tuple[str, str]]:
        """As in `Kind`."""
        pair = question.pair
        words = BY_ID[pair.dim].words
        return [(str(k), words(size, pair.up)) for k, size in enumerate(question.sizes)]

    def judge(self, question: Question, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        pair, at = question.pair, int(chosen(said, [k for k, _ in self.choices(question)]))
        dim = BY_ID[pair.dim]
        steps = pairs.in_steps(dim, pair.size, around.camera)
        words = f"{dim.label}: {dim.words(pair.size, pair.up)}{steps}. {dim.look_at}"
        views = list(self.sides(question, around).values())
        seen = pairs.shown(around.scene(pair.scene), *labs(views, around))
        right = question.sizes[at] == pair.size
        return Verdict(right, words, *self.supposed(question, around), seen.at)

    def supposed(self, question: Question, around: Around) -> tuple[str, float]:
        """As in `Kind`."""
        return self.id, octaves(question.ratio)

    def missed(self, question: Question) -> Missed:
        """As in `Kind`."""
        return Which().missed(question.pair)

    def more(self, question: Question, said: str | None, around: Around) -> dict[str, str]:
        """As in `Kind`."""
        return {"answer": str(question.sizes.index(question.pair.size))}
