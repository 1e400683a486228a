"""The rooms of the application: every folder beside this file that has a `ROOM`. Navigation, the
finder and the tests of every page are drawn from here; a new room is a folder and nothing else."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from flask import Blueprint


@dataclass(frozen=True)
class Room:
    """What a folder has to say of itself: its blueprints, and the place in the navigation that it
    is, with the endpoint it opens with and its order, or that it is part of; `ticks` : endpoints
    that a device may post to which may only look and tick."""

    screen: str
    blueprints: tuple[Blueprint, ...]
    home: str = ""
    order: int = 0
    ticks: tuple[str, ...] = ()


@dataclass(frozen=True)
class Screen:
    """A place in the navigation: its name, the endpoint it opens with, and the names of the
    blueprints that are part of it."""

    name: str
    endpoint: str
    parts: frozenset[str]


@cache
def rooms() -> tuple[Room, ...]:
    """All rooms, in the order of the navigation; parts of a screen stand behind it."""
    package = __name__.rsplit(".", 2)[0]
    folders = [m.name for m in iter_modules([str(Path(__file__).parents[1])]) if m.ispkg]
    modules = [import_module(f"{package}.{name}") for name in folders]
    found: Iterable[Room] = (m.ROOM for m in modules if hasattr(m, "ROOM"))
    return tuple(sorted(found, key=lambda room: (not room.home, room.order)))


@cache
def screens() -> tuple[Screen, ...]:
    """The places of the navigation, in order."""
    return tuple(
        Screen(
            room.screen,
            room.home,
            frozenset(
                b.name for other in rooms() if other.screen == room.screen for b in other.blueprints
            ),
        )
        for room in rooms()
        if room.home
    )


def screen_of(endpoint: str | None) -> Screen | None:
    """The screen that an endpoint belongs to."""
    part = (endpoint or "").split(".")[0]
    return next((s for s in screens() if part in s.parts), None)
