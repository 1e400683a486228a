"""Values of addresses and forms, one reader for each kind: whole numbers, ids, choices, and places
to go back to. What does not fit is nothing, or a sentence."""

import re
from collections.abc import Iterable
from typing import TypeVar

from werkzeug.routing import IntegerConverter, Map

from ...core.base.errors import PlumError
from ...core.base.text import shortened, well_formed
from ...core.fields.number import number

MOST_ID = 10**12  # far below what SQLite counts to
_WHOLE = re.compile(r"-?[0-9]{1,15}")
_PLACE = re.compile(r"/(?![/\\])[\x21-\x5b\x5d-\x7e]*")
Choice = TypeVar("Choice", bound=str)


def whole(text: str) -> int | None:
    """A whole number in plain digits, or None."""
    return int(text) if _WHOLE.fullmatch(text) else None


def identity(text: str) -> int | None:
    """The number of a slip, version or the like, or None."""
    found = whole(text)
    return found if found is not None and 0 < found <= MOST_ID else None


def within(name: str, text: str, low: int, high: int) -> int:
    """A whole number within limits; PlumError names them."""
    found = whole(text)
    if found is None or not low <= found <= high:
        said = shortened(well_formed(text), 20)
        raise PlumError(f"'{name}' has to be a whole number from {low} to {high}, not '{said}'.")
    return found


def letters(what: str, text: str, most: int) -> str:
    """A text of at most so many letters; PlumError tells how many it has, for what is too long is
    never cut in silence."""
    if len(text) > most:
        raise PlumError(
            f"{what} can have {most:,} letters, and this has {len(text):,}. Nothing was changed; "
            "shorten it."
        )
    return text


def within_or(text: str, low: float, high: float, otherwise: float) -> float:
    """A number within limits, or something otherwise."""
    value = number(text)
    return value if value is not None and low <= value <= high else otherwise


def choice(what: str, text: str, among: Iterable[Choice]) -> Choice:
    """One of some words; PlumError names them."""
    known = list(among)
    for each in known:
        if each == text:
            return each
    said, listed = shortened(well_formed(text), 20), ", ".join(k for k in known if k)
    raise PlumError(f"There is no {what} '{said}'. It can be {listed}.")


def place(text: str, otherwise: str) -> str:
    """A place of ours to go to: a path and what follows it, nothing that leads elsewhere."""
    return text if _PLACE.fullmatch(text) else otherwise


class _Identity(IntegerConverter):
    """Numbers in paths that a database can count to; others are no address of ours."""

    regex = r"[0-9]{1,12}"


def equip(url_map: Map) -> None:
    """Read numbers in paths the same way."""
    url_map.converters = {**url_map.converters, "int": _Identity}
