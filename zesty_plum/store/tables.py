"""What each module of the store says of its tables, so that a backup forgets none: how they come
into a library that holds something already, or why they do not."""

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

Counts = tuple[int, int]  # slips that were copied, and that were here already
Check = Callable[[sqlite3.Connection], None]
Copier = Callable[[sqlite3.Connection, sqlite3.Connection], Counts]


@dataclass(frozen=True)
class Tables:
    """What a module says. `copied` : tables with what copies them from another database into this
    one, inside the caller's transaction; modules of a lower `order` go first. `comes_with` : tables
    that are copied with another. `left_out` : tables that stay behind, with the reason. `stays` :
    tables that are the machine's, which no backup holds or touches, with the reason. `checked` :
    raises PlumError where a row of theirs means nothing."""

    copied: Mapping[str, Copier] = field(default_factory=dict)
    comes_with: Mapping[str, str] = field(default_factory=dict)
    left_out: Mapping[str, str] = field(default_factory=dict)
    stays: Mapping[str, str] = field(default_factory=dict)
    order: int = 1
    checked: Check = lambda db: None


@cache
def every() -> tuple[Tables, ...]:
    """What all modules beside this one say, in order."""
    package = __name__.rpartition(".")[0]
    names = sorted(m.name for m in iter_modules([str(Path(__file__).parent)]))
    modules = [import_module(f"{package}.{name}") for name in names]
    found: list[Tables] = [m.TABLES for m in modules if hasattr(m, "TABLES")]
    return tuple(sorted(found, key=lambda tables: tables.order))
