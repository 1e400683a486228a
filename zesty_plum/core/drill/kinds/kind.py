"""What a kind of drill says of itself: what it asks, shows, judges, and supposes of an answer that
has not come yet. A kind is a file of this folder and a template of its name."""

from abc import ABC, abstractmethod
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, Generic, Protocol, TypeVar

from ...base.arrays import Array, Bytes8
from ...base.errors import PlumError
from ...bodies import Body
from ...develop.pipeline import Picture
from ...judge.verdicts import Verdict as Judged
from ...look import Look
from ...measure.compare import to_lab
from ...recipe import Recipe
from ...scenes.scene import Scene
from ..quest import Quest, Scale

Question = TypeVar("Question")
Drawn = TypeVar("Drawn")
Data = dict[str, Any]


@dataclass(frozen=True)
class Verdict:
    """Whether an answer is right, what it measures at which size, octaves, and why, with a place to
    look at, as shares of width and height."""

    right: bool
    words: str
    measure: str = ""
    size: float = 0.0
    at: tuple[float, float] | None = None


@dataclass(frozen=True)
class View:
    """What is to be developed: a look on a scene, `fine` at 100 percent."""

    scene: str
    look: Look
    fine: bool = False


@dataclass(frozen=True)
class Missed:
    """What a question was, on which scene, and the side that shows it; empty where none does."""

    what: str
    scene: str = ""
    side: str = ""


@dataclass(frozen=True)
class Measure:
    """What answers of a kind tell of a person: its id, label and scale, and how it is said of a
    threshold with its interval, octaves, and of so many right ones of the last."""

    id: str
    label: str
    scale: Scale
    words: Callable[[tuple[float, float, float], int, int], str]


class Around(Protocol):
    """What a kind needs of the room that it is asked in."""

    @property
    def scenes(self) -> Sequence[str]:
        """What may be shown."""

    @property
    def camera(self) -> Body:
        """The body whose dials are moved."""

    @property
    def base(self) -> Look:
        """As that ships."""

    def scene(self, scene_id: str) -> Scene:
        """A scene, or a picture of one's own; PlumError where it is gone."""

    def develop(self, view: View) -> Picture:
        """A picture, of the width that such views have."""

    def judge(self, scene_id: str, recipe: Recipe, schools: frozenset[str]) -> list[Judged]:
        """What is said of a recipe on a scene."""

    def known(self, measure: str, scale: Scale) -> Quest | None:
        """What is believed of the person; None where all are asked the same."""

    def remembered(self, key: Hashable, draw: Callable[[], Drawn]) -> Drawn:
        """What was drawn for a key before, or is drawn now: a search takes its time."""

    def right(self, measure: str) -> list[bool] | None:
        """Whether the answers of this drill to a measure were right; None as above."""


class Kind(ABC, Generic[Question]):
    """A kind of drill."""

    id: str
    title: str
    about: str
    miss = "No"  # what is said of a wrong answer
    flicks = False  # whether two pictures are laid over one another at a key
    ahead: Sequence[str] = ()  # sides that are rendered before the question comes
    measures: Sequence[Measure] = ()

    @abstractmethod
    def ask(self, seed: int, number: int, around: Around) -> Question:
        """Question `number` of a drill."""

    @abstractmethod
    def read(self, data: Data) -> Question:
        """A question that was kept; see `question`."""

    @abstractmethod
    def judge(self, question: Question, said: str, around: Around) -> Verdict:
        """An answer, judged and explained; PlumError where it is none."""

    @abstractmethod
    def line(self, question: Question, around: Around) -> str:
        """What stands above it."""

    @abstractmethod
    def missed(self, question: Question) -> Missed:
        """What it was, for the list of what was missed."""

    def data(self, question: Question) -> Data:
        """A question as it is kept."""
        return asdict(question)  # type: ignore[call-overload, no-any-return]

    def question(self, data: Data) -> Question:
        """A question that was kept; PlumError where it can no longer be read."""
        try:
            return self.read(data)
        except (KeyError, TypeError, ValueError, IndexError) as error:
            raise PlumError("This question cannot be read any more. Go on to the next.") from error

    def scene(self, question: Question) -> str:
        """The scene that it is asked on; empty where there is none."""
        return str(getattr(question, "scene", ""))

    def sides(self, question: Question, around: Around) -> Mapping[str, View]:
        """What is shown, by side."""
        return {}

    def hidden(self, side: str) -> bool:
        """Whether a side is shown after the answer only."""
        return False

    def pixels(self, question: Question, side: str, said: str, around: Around) -> Bytes8:
        """A side as a picture (h, w, 3)."""
        views = self.sides(question, around)
        if side not in views:
            raise PlumError("There is no such picture in this question.")
        return around.develop(views[side]).pixels

    def choices(self, question: Question) -> list[tuple[str, str]]:
        """Answers to choose from: value and words."""
        return []

    def supposed(self, question: Question, around: Around) -> tuple[str, float]:
        """The measure that an answer will tell of, and its size: what the next question hangs
        on."""
        return self.id, 0.0

    def more(self, question: Question, said: str | None, around: Around) -> Mapping[str, Any]:
        """What else its template shows, before an answer (None) or after."""
        return {}


def labs(views: Sequence[View], around: Around) -> tuple[Array, Array]:
    """Two views as L*a*b* (h, w, 3)."""
    first, second = (to_lab(around.develop(view)) for view in views)
    return first, second


def mark(said: str) -> tuple[float, float] | None:
    """A place that was marked, as shares of width and height; or None."""
    parts = said.split(",")
    try:
        x, y = (float(part) for part in parts)
    except ValueError:
        return None
    return (x, y) if 0 <= x <= 1 and 0 <= y <= 1 else None


def chosen(said: str, among: Sequence[str]) -> str:
    """An answer that is one of the choices."""
    if said not in among:
        raise PlumError("Choose one of the answers.")
    return said
