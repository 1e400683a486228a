"""A written list cut into tokens: words, numbers in every hand, and marks, with their places in the
text."""

import re
import unicodedata
from dataclasses import dataclass, replace
from functools import cache

PLUS, MINUS = "+＋﹢➕", "−‒–—－﹣➖-"  # the hyphen last, as it stands in classes
LARGEST = 1e12  # of a number; no dial goes near it
_SIGN = f"[{PLUS}{MINUS}]"
_VULGAR = "[½⅓⅔¼¾⅛⅜⅝⅞]"
_UNITS = (
    r"°?[ \t]?k(?:elvin)?|ev|il|lw|%|percent|prozent|stops?|stufen?|blenden?|fps|p"
    r"|mbps|mbit/s|mbits|mb/s|mbit|bits?|(?-i:s)|sec|seconds?|mm|mired|duv"
)
_WORD = r"[^\W\d_]+"
_TOKEN = re.compile(
    rf"(?P<shape>\d:\d:\d|\d{{3,4}}\s?[x×]\s?\d{{3,4}}"
    rf"|f\s?/\s?\d+(?:[.,]\d+)?|f\d+(?:[.,]\d+)?(?!\w))"
    rf"|(?:(?P<sign>{_SIGN})(?P<gap>[ \t]*))?(?:"
    rf"(?:(?P<whole>\d+)[ \t]*)?(?P<vulgar>{_VULGAR})"
    rf"|(?:(?P<whole2>\d+)(?:[ \t]+|-))?(?P<top>\d+)[ \t]?[/⁄][ \t]?(?P<bottom>[1-9]\d*)(?![\d:])"
    rf"|(?P<grouped>[1-9]\d{{0,2}}(?:[.,'\u00a0\u202f]\d{{3}})+"
    rf"|\d{{1,2}} \d{{3}}(?=[ \t]?k\b))(?!\d)"
    rf"|(?P<plain>\d+(?:[.,]\d+)?|[.,]\d+)(?!\d|:\d:\d|[ \t]?[x×][ \t]?\d)"
    rf")(?:[ \t]*(?P<unit>{_UNITS})(?![^\W\d_]))?"
    rf"|(?P<word>{_WORD})|(?P<mark>[^\w\s]|_|\n)",
    re.I,
)
# A dash between words or before a sign stands for a colon, so it does not in the rest of a list.
_DASHED = re.compile(
    rf"(?:^|[\n;,|])[^\w\n]*{_WORD}[^\n:=;,|]*?\s[{MINUS}]\s*"
    rf"(?={_WORD}|{_SIGN}\s?[\d½⅓⅔¼¾]|0\b(?![.,]\d))",
    re.M,
)
_BULLET = re.compile(r"^[ \t]*(?:[*•·‣▪>–—-]+|\d{1,2}[.)])[ \t]+(?=[^\W\d_])", re.M)


@dataclass(frozen=True)
class Token:
    """A piece of the text: `kind` is word, number, shape (4:2:0, f/2.8, 1920x1080) or mark.

    `plain` is the word without case and accents; `signed` a number that has a sign of its own;
    `loose` one whose dash stands apart from it.
    """

    kind: str
    start: int
    end: int
    text: str
    plain: str = ""
    value: float = 0.0
    signed: bool = False
    unit: str = ""
    loose: bool = False


@cache
def folded(text: str) -> str:
    """Without case, accents and width, so that Größe, GROSSE and grosse are one."""
    apart = unicodedata.normalize("NFKD", text.casefold())
    return "".join(c for c in apart if not unicodedata.combining(c))


def words(text: str) -> tuple[str, ...]:
    """Its words and digits, folded."""
    return tuple(folded(w) for w in re.findall(rf"{_WORD}|\d+", text))


def tokens(text: str) -> list[Token]:
    """The text cut up; bullets and numbers of lines are left out."""
    for found in reversed(list(_BULLET.finditer(text))):
        text = text[: found.start()] + " " * len(found[0]) + text[found.end() :]
    dashed = bool(_DASHED.search(text))
    groups = [_token(m, text, dashed) for m in _TOKEN.finditer(text)]
    return [each for group in groups for each in group]


def _token(found: re.Match[str], text: str, dashed: bool) -> list[Token]:
    kind = next(k for k in ("shape", "word", "mark", "number") if k == "number" or found[k])
    start, end = found.span()
    if kind != "number":
        width = re.match(r"(\d+)\s?[x×]", found[0], re.I)
        value = _number(width[1]) if width else 0.0
        return [Token(kind, start, end, found[0], folded(found[0]), value)]
    unit = re.sub(r"[\s°]", "", (found["unit"] or "").casefold())
    number = Token("number", start, end, text[start:end], value=_size(found), unit=unit)
    sign = found["sign"]
    if not sign:
        return [number]
    before, apart = text[max(found.start() - 1, 0) : found.start()], bool(found["gap"])
    minus = sign in MINUS
    behind = minus and re.search(r"[\d½⅓⅔¼¾%k]\s*$", text[: found.start()], re.I)
    if (minus and apart and (dashed or sign == "—")) or (behind and (before.strip() or apart)):
        mark = Token("mark", found.start(), found.start() + 1, sign)
        begun = found.start() + 1 + len(found["gap"])
        return [mark, replace(number, start=begun, text=text[begun:end])]
    value = -number.value if minus else number.value
    return [replace(number, value=value, signed=True, loose=minus and apart)]


def _size(found: re.Match[str]) -> float:
    """How large a number is, without its sign."""
    if found["vulgar"]:
        return _number(found["whole"] or "0") + unicodedata.numeric(found["vulgar"])
    if found["bottom"]:
        bottom = _number(found["bottom"])
        return _number(found["whole2"] or "0") + (_number(found["top"]) / bottom if bottom else 0.0)
    if found["grouped"]:
        return _number(re.sub(r"\D", "", found["grouped"]))
    return _number(found["plain"].replace(",", "."))


def _number(text: str) -> float:
    return min(float(text), LARGEST)
