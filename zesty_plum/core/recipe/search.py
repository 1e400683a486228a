"""What a person types to find slips: words, and conditions such as `grain>0 body:heron -ink`.

Reading is forgiving: what is not understood as a condition is searched as words, and a note says
so.
"""

import re
import unicodedata
from dataclasses import dataclass

from ..base.late import library
from ..bodies import Body, bodies
from ..fields.number import number as read_number
from ..look import Balance
from ..styles import style
from . import INTENT_WORDS, Recipe

process = library("rapidfuzz.process")

TEXTS = ("name", "note", "author", "body", "style", "intent", "light", "tag")
PLACES = ("slot", "in")  # where slips stand: slot:A1, in:kit, in:A
MOST_LETTERS, MOST_TERMS = 300, 24
LIKE = 70  # of a hundred, from which on one name is likely to be meant by another
# Kelvin below which a fixed white balance is meant for a kind of light; the groups of our scenes.
LIGHTS = ((3400, "lamps night"), (4400, "dusk"), (5900, "sun"), (float("inf"), "shade"))
_TERM = re.compile(
    r'(?P<no>-?)(?:(?P<field>[^\W\d][\w-]*)(?P<sign>>=|<=|:|=|>|<)(?P<of>"[^"]*"|[^\s"]+)'
    r'|"(?P<said>[^"]*)"|(?P<word>\S+))'
)
_APART = re.compile(r"(?<=\w)\s*(>=|<=|>|<|=|:)\s+(?=\S)|(?<=\w)\s+(>=|<=|>|<|=)\s*(?=\S)")


@dataclass(frozen=True)
class Term:
    """One condition: `field` is '' for any text, one of `TEXTS` or `PLACES`, or a dial; words have
    the sign ':'."""

    field: str
    sign: str
    value: str
    negated: bool = False
    number: float | None = None


@dataclass(frozen=True)
class Query:
    """All terms have to hold; `notes` say what was read otherwise than written."""

    terms: tuple[Term, ...]
    notes: tuple[str, ...] = ()


def dial_ids() -> dict[str, str]:
    """How every dial of every body may be written, folded, to its id."""
    names: dict[str, str] = {}
    for camera in bodies().values():
        for dial in camera.dials:
            for written in (dial.id, dial.label):
                names.setdefault(re.sub(r"\W+", "_", written.lower()).strip("_"), dial.id)
    return names


def words_of(text: str) -> list[str]:
    """Letters and digits, as the index cuts them."""
    return re.findall(r"[^\W_]+", unicodedata.normalize("NFC", text))


def parse(text: str, more: tuple[str, ...] = ()) -> Query:
    """Read what was typed; `more` conditions of words beside those of slips."""
    text = _APART.sub(lambda m: m[1] or m[2], text[:MOST_LETTERS])
    known, terms, notes = dial_ids(), [], []
    for found in list(_TERM.finditer(text))[:MOST_TERMS]:
        no = bool(found["no"])
        if found["field"] is None:
            said = found["said"] if found["said"] is not None else found["word"]
            if words_of(said):
                terms.append(Term("", ":", said, no))
            continue
        term, note = _condition(
            found["field"].lower().replace("-", "_"),
            found["sign"],
            found["of"].strip('"'),
            no,
            known,
            (*TEXTS, *PLACES, *more),
        )
        notes += [note] if note else []
        if term.sign != ":" or words_of(term.value):
            terms.append(term)
    return Query(tuple(terms), tuple(notes))


def _condition(
    field: str, sign: str, value: str, no: bool, known: dict[str, str], texts: tuple[str, ...]
) -> tuple[Term, str]:
    if field in texts:
        return Term(field, ":", value, no), ""
    starts = [known[n] for n in sorted(known) if n.startswith(field)]
    dial = known.get(field) or (starts[0] if starts else None)
    if dial is None:
        fields = ", ".join(texts)
        near = process.extractOne(field, [*texts, *known], score_cutoff=LIKE)
        meant = f" Did you mean '{near[0]}'?" if near else ""
        return (
            Term("", ":", f"{field} {value}", no),
            f"No condition is called '{field}', so it was searched as words.{meant} There are "
            f"{fields}, and every dial by its name.",
        )
    number = read_number(value, "K")
    if number is None:
        if sign not in (":", "="):
            return Term(
                dial, ":", value, no
            ), f"'{value}' is no number to be above or below; slips with {field} at it are shown."
        return Term(dial, ":", value, no), ""
    return Term(dial, "=" if sign == ":" else sign, value, no, number), ""


def light_of(recipe: Recipe) -> str:
    """The light that the white balance is set for, in the words of the scenes' groups; 'any' where
    the camera finds it."""
    look = recipe.look
    if look.balance is not Balance.FIXED:
        return "any"
    return next(words for most, words in LIGHTS if 1e6 / look.light_mired < most)


def texts_of(recipe: Recipe, tags: list[str]) -> dict[str, str]:
    """What each text field of a slip says, and under `dials` every dial that does not stand as
    shipped, as printed."""
    camera: Body = recipe.camera
    said = {
        "name": recipe.name,
        "note": recipe.note,
        "author": recipe.author,
        "body": f"{camera.name} {camera.id}",
        "style": style(recipe.look.style).name,
        "intent": INTENT_WORDS[recipe.intent],
        "light": light_of(recipe),
        "tag": " ".join(tags),
        "dials": ", ".join(
            f"{camera.dial(k).label} {camera.dial(k).choice(v).label}"
            for k, v in camera.changed(recipe.dials).items()
        ),
    }
    return {field: unicodedata.normalize("NFC", text) for field, text in said.items()}
