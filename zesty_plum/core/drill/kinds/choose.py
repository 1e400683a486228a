"""What would you set?"""

from dataclasses import dataclass
from typing import Any

from .. import situations
from ..situations import Situation
from .kind import Around, Data, Kind, Missed, Verdict, View, chosen


@dataclass(frozen=True)
class Question:
    """A situation by its id, and the order in which its choices stand."""

    situation: str
    letters: tuple[str, ...]

    @property
    def one(self) -> Situation:
        """The situation."""
        return situations.situations()[self.situation]

    @property
    def scene(self) -> str:
        """Where it is."""
        return self.one.scene


class Choose(Kind[Question]):
    """A job in a light, and recipes to choose from."""

    id, title, about = "set", "What would you set?", "a job and a light; pick, then see"
    ahead = ("p",)

    def ask(self, seed: int, number: int, around: Around) -> Question:
        """As in `Kind`."""
        one, letters = situations.ask(seed, number)
        return Question(one.id, letters)

    def read(self, data: Data) -> Question:
        """As in `Kind`."""
        made = Question(data["situation"], tuple(data["letters"]))
        _ = made.one
        return made

    def line(self, question: Question, around: Around) -> str:
        """As in `Kind`."""
        return f"{question.one.job} {around.scene(question.scene).title}."

    def sides(self, question: Question, around: Around) -> dict[str, View]:
        """As in `Kind`: 'p' as shipped, and each choice by its letter."""
        options = question.one.options.items()
        shown = {letter: View(question.scene, recipe.look) for letter, (_, recipe) in options}
        return {"p": View(question.scene, around.base), **shown}

    def hidden(self, side: str) -> bool:
        """As in `Kind`."""
        return side != "p"

    def choices(self, question: Question) -> list[tuple[str, str]]:
        """As in `Kind`."""
        return [(letter, question.one.options[letter][0]) for letter in question.letters]

    def judge(self, question: Question, said: str, around: Around) -> Verdict:
        """As in `Kind`."""
        chosen(said, list(question.one.options))
        found = _judged(question, around)
        words = situations.explained(question.one, found, said)
        return Verdict(said in found.best, words, self.id)

    def missed(self, question: Question) -> Missed:
        """As in `Kind`."""
        return Missed(question.one.job, question.scene, "p")

    def more(self, question: Question, said: str | None, around: Around) -> dict[str, Any]:
        """As in `Kind`."""
        if said is None:
            return {}
        found = _judged(question, around)
        words = {letter: [v.sentence for v in verdicts] for letter, verdicts in found.said.items()}
        return {"said": words, "best": found.best}


def _judged(question: Question, around: Around) -> situations.Judged:
    def judge(recipe: Any, schools: frozenset[str]) -> Any:
        return around.judge(question.scene, recipe, schools)

    return situations.judged(question.one, judge)
