"""Picture styles: one TOML file each, read once."""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache
from pathlib import Path

from ..base.datafile import DataFile
from ..base.errors import NotFound
from .learnt import Learnt, Sure
from .parameters import HUES, Colouring, Tone

HERE = Path(__file__).parent
PARTS = ("order", "name", "purpose", "guard", "tone", "colour", "figures")
BANDS = ("contrast", "chroma", "skin_turn")


class Trait(StrEnum):
    """What a style is, for dials that count only with some."""

    COLOUR = "colour"
    MONOCHROME = "monochrome"
    UNTONED = "untoned"  # monochrome and grey, so that coloured filters are the way to shape it
    SHAPED = "shaped"  # with a shoulder and a toe that can be bent


@dataclass(frozen=True)
class Style:
    """id, name, one sentence on what it is for, its numbers, the stops of highlight room that a
    camera adds with it, and the bands that figures measured on it lie in.

    learnt : what was learnt from a camera's pictures, in the place of tone and colouring; these
    then say how dials act on it. sure : how well that is known.
    """

    id: str
    order: int
    name: str
    purpose: str
    tone: Tone
    colouring: Colouring
    figures: Mapping[str, tuple[float, float]] = field(compare=False)
    guard: float = 0.0
    learnt: Learnt | None = None
    sure: Sure | None = field(default=None, compare=False)

    @property
    def monochrome(self) -> bool:
        """Whether it makes pictures without colour of their own."""
        return self.colouring.mono is not None

    @property
    def traits(self) -> frozenset[Trait]:
        """What it is."""
        shaped = set() if self.tone.log_stops else {Trait.SHAPED}
        if not self.monochrome:
            return frozenset({Trait.COLOUR, *shaped})
        grey = {Trait.UNTONED} if self.colouring.toning is None else set()
        return frozenset({Trait.MONOCHROME, *grey, *shaped})


def read(path: Path) -> Style:
    """A style from its file; PlumError says in which line a fault is."""
    file = DataFile(path)
    data = file.data
    file.known(data, PARTS, "A style")
    file.need(data, ("order", "name", "purpose"), "The style")
    tone = file.filled(Tone, data.get("tone", {}), "the tone of a style", "[tone]")
    colouring = file.filled(Colouring, data.get("colour", {}), "the colour of a style", "[colour]")
    for name in ("turn", "chroma", "lightness"):
        many = len(getattr(colouring, name))
        if many != HUES:
            raise file.fault(
                f"'{name}' needs {HUES} numbers around the hue circle, not {many}.",
                name,
                "[colour]",
            )
    bands = data.get("figures", {})
    file.known(bands, BANDS, "The figures of a style", "[figures]")
    for name, band in bands.items():
        if not (isinstance(band, list) and len(band) == 2):
            raise file.fault(f"'{name}' is a band: write two numbers.", name, "[figures]")
    figures = {k: (float(low), float(high)) for k, (low, high) in bands.items()}
    return Style(
        id=path.stem,
        order=data["order"],
        name=data["name"],
        purpose=data["purpose"],
        tone=tone,
        colouring=colouring,
        figures=figures,
        guard=float(data.get("guard", 0)),
    )


@cache
def styles() -> dict[str, Style]:
    """The styles that ship by id, in their order."""
    found = sorted(map(read, HERE.glob("*.toml")), key=lambda s: s.order)
    return {s.id: s for s in found}


_brought: dict[str, Style] = {}


def bring(made: Style) -> None:
    """Let a style that does not ship count from now on in this process."""
    _brought[made.id] = made


def forget(style_id: str) -> None:
    """Let a style that was brought count no more."""
    _brought.pop(style_id, None)


@contextmanager
def lent(some: Iterable[Style]) -> Iterator[None]:
    """Let styles count for a while."""
    given = tuple(some)
    for made in given:
        bring(made)
    try:
        yield
    finally:
        for made in given:
            forget(made.id)


def style(name: str) -> Style:
    """The style `name`, shipped or brought; NotFound names those that exist."""
    found = styles().get(name) or _brought.get(name)
    if found is None:
        raise NotFound(f"There is no style '{name}'. The styles are {', '.join(styles())}.")
    return found


def plain() -> Style:
    """The reference: what a finished picture from elsewhere is taken to be made with."""
    return style("plain")


def taught(style_id: str, name: str, purpose: str, learnt: Learnt, sure: Sure | None) -> Style:
    """A style that was learnt; its dials act as on the reference."""
    tone = replace(plain().tone, keep_hue=min(max(learnt.joint[0], 0.0), 1.0), hold_hue=0.0)
    return Style(style_id, 0, name, purpose, tone, Colouring(), {}, learnt=learnt, sure=sure)
