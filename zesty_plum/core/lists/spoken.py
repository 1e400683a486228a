"""Lines of a list that are words: the recipe's name, a note, the author, the body, the purpose."""

import re
from dataclasses import dataclass, field

from ..bodies import Body, bodies
from ..recipe import INTENT_WORDS, Intent
from .claims import SHIPPED, Claim
from .lexicon import Lexicon
from .line import COLONS
from .protocol import Kind, Piece
from .tokens import Token, words

MOST_TITLE = 80  # letters of a first line that is taken for the recipe's name
TRAILING = re.compile(r"(?:\s*[,;|•·(&/.—–]|\s+(?:and|with|und|mit|et|avec|y|con|e|en|met))+$")


@dataclass
class Words:
    """Lines that are words: their pieces, and what they said."""

    pieces: list[Piece] = field(default_factory=list)
    said: dict[str, str] = field(default_factory=dict)
    named: Body | None = None


def spoken_lines(
    text: str, lines: list[list[Token]], known: Lexicon
) -> tuple[Words, list[list[Token]]]:
    """Lines with a label such as Name or Note, and the lines that are left."""
    out, rest, until = Words(), list[list[Token]](), 0
    for line in lines:
        first, end = line[0].start, line[-1].end
        if first < until:
            continue
        label, begun = _label(line, known)
        if label == "note":
            until = _note_end(text, first)
            end = until
        elif label:
            end = max(until, text.find("\n", first) if "\n" in text[first:] else len(text))
            until = end
        own = next((b for b in bodies().values() if _names_only(line, b)), None)
        if not label and not own:
            rest.append(line)
            continue
        said = text[begun:end].strip() if label else ""
        _say(out, label, said, own, text[first:end].rstrip(), first)
    return out, rest


def _label(line: list[Token], known: Lexicon) -> tuple[str, int]:
    """The label that a line begins with, and where its words begin."""
    said: tuple[str, ...] = ()
    found = ("", 0)
    for k, token in enumerate(line[:6]):
        if token.kind != "word":
            break
        said = (*said, *words(token.text))
        following = line[k + 1] if k + 1 < len(line) else None
        colon = following is not None and following.text in (":", "=", "：", "–", "—", "-")
        label = known.labels.get(said, "")
        if label == "shipped" and (following is None or colon):
            found = (label, line[-1].end)
        elif label and colon and following:
            found = (label, following.end)
    return found


def _note_end(text: str, start: int) -> int:
    """A note goes to the end of its line and over the lines below it that are set in."""
    found = re.compile(r"[^\n]*(?:\n(?:[ \t]+[^\n]*|(?=\n[ \t])))*").match(text, start)
    return found.end() if found else len(text)


def _names_only(line: list[Token], camera: Body) -> bool:
    """Whether a line is a body's name, with 'body' or 'for' before it or not."""
    said = words(" ".join(t.text for t in line if t.kind != "mark"))
    own = words(camera.name)
    return said[-len(own) :] == own and len(said) - len(own) <= 1


def _say(out: Words, label: str, said: str, own: Body | None, piece: str, at: int) -> None:
    kind, told = Kind.WORDS, ""
    if own or label == "body":
        out.named = out.named or own
        told = f"The body: {own.name}." if own else "No body of ours; its scales may differ."
        kind = Kind.WORDS if own else Kind.UNCLEAR
    elif label == "shipped":
        told = SHIPPED
    elif label == "intent" and _intent_of(said) is None:
        kind, told = Kind.UNCLEAR, f"Files can be {', '.join(INTENT_WORDS.values())}."
    elif label:
        out.said.setdefault(label, "\n".join(part.strip() for part in said.splitlines()))
        told = f"The recipe's {'purpose' if label == 'intent' else label}."
    out.pieces.append(Piece(piece, at, at + len(piece), kind, told))


def _intent_of(said: str) -> Intent | None:
    return next(
        (k for k, v in INTENT_WORDS.items() if words(said) in (words(v), words(k.value))), None
    )


def intent_meant(said: str) -> Intent:
    return _intent_of(said) or Intent.FINISHED


def title(
    text: str, lines: list[list[Token]], claims: list[list[Claim]], spoken: Words
) -> list[Piece]:
    """A first line that sets nothing is the recipe's name, where none is given."""
    if "name" in spoken.said or not lines or len(claims) < 2:
        return []
    first, found = lines[0], claims[0]
    start, end = first[0].start, first[-1].end
    whole = TRAILING.sub("", text[start:end])
    if text[:start].strip() or len(whole) > MOST_TITLE or "\n" in whole:
        return []
    if any(c.ids or c.numbers or c.beside or c.told for c in found):
        return []
    if any(t.signed or t.text in (*COLONS, "|") for t in first):
        return []
    claims[0] = []
    spoken.said["name"] = whole
    return [Piece(whole, start, end, Kind.WORDS, "The recipe's name.")]
