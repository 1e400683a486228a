"""The protocol of a reading: every piece of a text, what it was taken for and why."""

from dataclasses import dataclass, field
from enum import StrEnum

from ..base.text import shortened
from ..bodies import Body, Value, Values
from ..recipe import MOST_NAME, MOST_NOTE, Intent, Recipe


class Kind(StrEnum):
    """How a piece was understood."""

    TAKEN = "taken"  # as it is written
    ROUNDED = "rounded"  # to the nearest place of the dial
    NEAREST = "nearest"  # what this body has instead
    GUESSED = "guessed"  # from a misspelling, or from where it stands
    CHOSEN = "chosen"  # by the reader's hand
    WORDS = "words"  # a name, a note, a body
    BESIDE = "beside"  # no setting of a look, kept in the note
    REPEATED = "repeated"  # set already
    LACKING = "lacking"  # known, but this body has nothing near it
    UNCLEAR = "unclear"
    LEFT_OUT = "left out"  # by the reader's hand


SETTING = (Kind.TAKEN, Kind.ROUNDED, Kind.NEAREST, Kind.GUESSED, Kind.CHOSEN)


@dataclass(frozen=True)
class Piece:
    """Some of the text, from `start` to `end`; what it sets; what is implied, unless another piece
    says otherwise; and a sentence where there is something to say. `joint`: together with other
    pieces, and on top of what those set."""

    text: str
    start: int
    end: int
    kind: Kind
    said: str = ""
    sets: Values = field(default_factory=dict)
    implied: Values = field(default_factory=dict)
    joint: bool = False

    @property
    def counts(self) -> bool:
        """Whether it sets dials."""
        return self.kind in SETTING

    @property
    def dial(self) -> str:
        """The one dial that it sets; empty where there is none, or several."""
        return next(iter(self.sets)) if self.counts and len(self.sets) == 1 else ""


@dataclass
class Protocol:
    """A list as it was read for a body; `named` is the body that the list itself names."""

    camera: Body
    text: str
    pieces: tuple[Piece, ...]
    name: str = ""
    author: str = ""
    note: str = ""
    intent: Intent = Intent.FINISHED
    named: Body | None = None

    @property
    def dials(self) -> dict[str, Value]:
        """The dials that were understood."""
        out: dict[str, Value] = {}
        for piece in self.pieces:
            out |= {**piece.implied, **out} if piece.counts else {}
        for piece in self.pieces:
            out |= piece.sets if piece.counts else {}
        return out

    @property
    def open(self) -> tuple[Piece, ...]:
        """Pieces that say something which the recipe does not hold."""
        return tuple(p for p in self.pieces if p.kind in (Kind.UNCLEAR, Kind.LACKING, Kind.BESIDE))

    @property
    def untouched(self) -> tuple[str, ...]:
        """Labels of the dials that no piece speaks of."""
        dials = self.dials
        return tuple(d.label for d in self.camera.dials if d.id not in dials)

    @property
    def recipe(self) -> Recipe:
        """The recipe; what it does not hold is kept in its note."""
        kept = "\n".join(p.text for p in self.open)
        note = "\n\n".join(
            part for part in (self.note, f"Also in the list:\n{kept}" if kept else "") if part
        )
        return Recipe(
            name=shortened(self.name or "From a list", MOST_NAME),
            body=self.camera.id,
            dials=self.camera.complete(self.dials),
            intent=self.intent,
            note=shortened(note, MOST_NOTE),
            author=self.author,
        )
