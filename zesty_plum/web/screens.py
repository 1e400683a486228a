"""The screens by name: navigation, the finder and the tests of every page are drawn from here."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Screen:
    """A place in the navigation: its name, the endpoint it opens with, and the blueprints that are
    part of it."""

    name: str
    endpoint: str
    parts: tuple[str, ...]


SCREENS = (
    Screen("Bench", "bench.page", ("bench", "begin")),
    Screen("Wall", "wall.page", ("wall", "blind")),
    Screen("Slips", "slips.page", ("slips", "slip", "bring", "papers")),
)


def screen_of(endpoint: str | None) -> Screen | None:
    """The screen that an endpoint belongs to."""
    part = (endpoint or "").split(".")[0]
    return next((s for s in SCREENS if part in s.parts), None)
