"""Picture styles: one TOML file each, read once."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

from ..errors import NotFound
from .parameters import Colouring, Tone

HERE = Path(__file__).parent


@dataclass(frozen=True)
class Style:
    """id, name, one sentence on what it is for, its numbers, and the bands that figures measured on
    it lie in."""

    id: str
    name: str
    purpose: str
    tone: Tone
    colouring: Colouring
    figures: Mapping[str, tuple[float, float]] = field(compare=False)


def _read(path: Path) -> Style:
    data = tomllib.loads(path.read_text(encoding="utf-8"))
    colour = {k: tuple(v) for k, v in data.get("colour", {}).items()}
    figures = {k: (float(low), float(high)) for k, (low, high) in data.get("figures", {}).items()}
    return Style(
        path.stem,
        data["name"],
        data["purpose"],
        Tone(**data.get("tone", {})),
        Colouring(**colour),
        figures,
    )


@cache
def styles() -> dict[str, Style]:
    """All styles by id, in their order."""
    found = [
        (tomllib.loads(p.read_text(encoding="utf-8"))["order"], _read(p))
        for p in HERE.glob("*.toml")
    ]
    return {s.id: s for _, s in sorted(found, key=lambda pair: pair[0])}


def style(name: str) -> Style:
    """The style `name`; NotFound names those that exist."""
    if name not in styles():
        raise NotFound(f"There is no style '{name}'. The styles are {', '.join(styles())}.")
    return styles()[name]


def plain() -> Style:
    """The reference: what a finished picture from elsewhere is taken to be made with."""
    return style("plain")
