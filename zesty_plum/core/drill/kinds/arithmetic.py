"""Arithmetic: the sums of a day, in the head."""

from typing import Any

from .. import sums
from ..sums import Question
from .kind import Around, Data, Kind, Missed, Verdict


class Arithmetic(Kind[Question]):
    """Figures that are given, and one that is wanted."""

    id, title, about = "sums", "Arithmetic", "ISO floors, filters, cards, angles"
    miss = "Not quite"

    def ask(self, seed: int, number: int, around: Around) -> Question:
        """As in `Kind`."""
        return sums.ask(seed, number)

    def read(self, data: Data) -> Question:
        """As in `Kind`."""
        return Question(data["sum"], tuple((k, v) for k, v in data["given"]), data["field"])

    def line(self, question: Question, around: Around) -> str:
        """As in `Kind`."""
        return f"{question.one.label}."

    def judge(self, question: Question, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        return Verdict(question.answered(said[:40]), question.told, self.id)

    def missed(self, question: Question) -> Missed:
        """As in `Kind`."""
        return Missed(question.one.label)

    def more(self, question: Question, said: str | None, around: Around) -> dict[str, Any]:
        """As in `Kind`."""
        return {"rows": question.rows, "wanted": question.asked.label}
