"""Numbers as people write them: with comma or point, a real minus, as a fraction, with a unit after
them. The one reader for all of the application."""

import re

_NUMBER = re.compile(
    r"(?P<sign>[+-]?)\s*(?:(?P<top>[0-9]{1,9})\s*/\s*(?P<under>[0-9]{1,9})"
    r"|(?P<plain>[0-9]{1,12}(?:\.[0-9]{0,20})?|\.[0-9]{1,20}))"
)
_PLAIN = str.maketrans({"\u2212": "-", "\u2013": "-", ",": ".", "\u00a0": " ", "\u202f": " "})
_THOUSANDS = re.compile(r"([0-9]{1,3})((?:[.,' \u00a0\u202f][0-9]{3})+)(?![0-9])")


def number(text: str, unit: str = "", counted: bool = False) -> float | None:
    """The number that a text is: 3, 1,5, .5, −2, +1/3; with `unit` behind it or without. None
    where it is none. A comma is a decimal one; but of what is `counted` 2,000 and 2.000 are
    thousands, for nobody counts in parts."""
    if counted:
        text = _THOUSANDS.sub(lambda m: m[1] + re.sub(r"[^0-9]", "", m[2]), text)
    said = text.translate(_PLAIN).strip()
    if unit and said.casefold().endswith(unit.casefold()):
        said = said[: len(said) - len(unit)].rstrip()
    found = _NUMBER.fullmatch(said)
    if found is None or (found["under"] is not None and not int(found["under"])):
        return None
    under = found["under"]
    value = int(found["top"]) / int(under) if under else float(found["plain"])
    return -value if found["sign"] == "-" else value


UNITS = {"s": 1.0, "min": 60.0, "m": 60.0, "h": 3600.0}
_TIME = re.compile(r"(?P<number>[0-9.,]+(?:\s*/\s*[0-9.,]+)?)\s*(?P<unit>s|min|m|h)?")


def seconds(text: str) -> float | None:
    """Seconds of 1/125, 1/125 s, 0.6, 20s, 5 min or 2h; or None."""
    found = _TIME.fullmatch(text.strip())
    if found is None:
        return None
    top, _, under = found["number"].partition("/")
    value, parts = number(top), number(under) if under else 1.0
    if value is None or not parts:
        return None
    return value / parts * UNITS[found["unit"] or "s"]


def shown(value: float) -> str:
    """A number as a field shows it: all of its digits, but none that say nothing."""
    return f"{value:.10g}" if isinstance(value, float) else str(value)


def spoken(value: float) -> str:
    """A number in a sentence, as it may be typed: 10000 and 0.05; beyond what anybody types in
    short."""
    told = shown(value) if abs(value) < 1e12 else "that much"
    return told.replace("-", "\u2212")
