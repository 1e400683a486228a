"""Text from outside, made well-formed where it comes in, so that nothing inside can stumble over
it."""

import re
from collections.abc import Sequence
from typing import Any

# Halves of a pair that have lost the other, which no file in UTF-8 can hold.
_UNFIT = re.compile("[\ud800-\udfff]")
DEEPEST = 40  # levels of lists in lists that other programs may have put into a file


def well_formed(text: str) -> str:
    """The text with a replacement character for everything that is not a character."""
    return _UNFIT.sub("\ufffd", text)


def well_formed_data(data: Any, deep: int = DEEPEST) -> Any:
    """The same for every text in what a JSON file held; deeper than `deep` levels it ends."""
    if isinstance(data, str):
        return well_formed(data)
    if deep <= 0:
        return None
    if isinstance(data, list):
        return [well_formed_data(v, deep - 1) for v in data]
    if isinstance(data, dict):
        return {well_formed(str(k)): well_formed_data(v, deep - 1) for k, v in data.items()}
    return data


def shortened(text: str, most: int) -> str:
    """The text, or its beginning with an ellipsis where it is longer than `most` characters."""
    return text if len(text) <= most else f"{text[: most - 2].rstrip()} …"


def joined(names: Sequence[str]) -> str:
    """Names in a row, as a sentence has them: a, b and c."""
    return f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else "".join(names)


NUMBERS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth")


def told_apart(name: str, earlier: int) -> str:
    """A name that so many before it have too: Heron M2, second."""
    if not earlier:
        return name
    return f"{name}, {NUMBERS[earlier] if earlier < len(NUMBERS) else f'{earlier + 1}th'}"
