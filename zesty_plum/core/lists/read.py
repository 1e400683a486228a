"""Reading a written list of settings for a body, with a protocol of every piece of it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from ..base.errors import PlumError
from ..base.text import well_formed
from ..bodies import FIRST, Body, Value, Values, bodies, body
from ..recipe import MOST_AUTHOR
from . import fit
from .claims import Walk
from .lexicon import lexicon
from .protocol import Kind, Piece, Protocol
from .resolve import Resolve
from .spoken import TRAILING, intent_meant, spoken_lines, title
from .tokens import Token, tokens

MOST_LETTERS = 8000  # of a list; recipes have some fifty lines
ENDS = (";", "•", "·", "\n")


@dataclass(frozen=True)
class Choice:
    """What a reader chose for a piece by hand: a place of the dial that it was taken for, another
    dial, or to leave it `out`."""

    dial: str = ""
    value: Value | None = None
    out: bool = False


def read_list(
    text: str,
    camera: Body | str | None = None,
    choices: Mapping[int, Choice] | None = None,
    prefer: Body | str | None = None,
) -> Protocol:
    """Read a list for a body: the one given, the one that the list names, `prefer`, or the one
    that knows most of it. `choices` are corrections by a piece's place in the protocol. PlumError
    where the text is too long to be a list."""
    text = well_formed(text)
    if len(text) > MOST_LETTERS:
        raise PlumError(
            f"This text has {len(text):,} letters; a list of settings may have {MOST_LETTERS:,}. "
            "Take out what is no setting."
        )
    camera = body(camera) if isinstance(camera, str) else camera
    prefer = body(prefer) if isinstance(prefer, str) else prefer
    named = _named(text)
    if camera is None and named is None and prefer is None:
        read = [_read(text, b, choices or {}) for b in bodies().values()]
        return max(read, key=lambda p: (_known(p), p.camera.id == FIRST))
    meant = camera or named or prefer
    assert meant is not None
    return _read(text, meant, choices or {})


def _known(protocol: Protocol) -> float:
    """How much of a list a body knows."""
    worth = {Kind.TAKEN: 3.0, Kind.ROUNDED: 2.0, Kind.GUESSED: 2.0, Kind.NEAREST: 1.0}
    return sum(worth.get(p.kind, 0.0) for p in protocol.pieces)


def _named(text: str) -> Body | None:
    low = text.casefold()
    return next((b for b in bodies().values() if b.name.casefold() in low or b.id in low), None)


def _read(text: str, camera: Body, choices: Mapping[int, Choice]) -> Protocol:
    known = lexicon(camera)
    lines = _lines(text)
    spoken, rest = spoken_lines(text, lines, known)
    claims = [Walk(camera, known, line).run() for line in rest]
    spoken.pieces += title(text, rest, claims, spoken)
    for line, found in zip(rest, claims, strict=True):
        if found:
            found[0].start, found[-1].end = line[0].start, line[-1].end
    every = [c for line in claims for c in line]
    pieces = Resolve(text, camera, known, every, spoken.named).pieces()
    pieces = sorted([*pieces, *spoken.pieces], key=lambda p: p.start)
    pieces = [_chosen(p, choices.get(k), camera) for k, p in enumerate(_covering(text, pieces))]
    return Protocol(
        camera,
        text,
        tuple(_first_counts(pieces, camera)),
        spoken.said.get("name", ""),
        spoken.said.get("author", "")[:MOST_AUTHOR],
        spoken.said.get("note", ""),
        intent_meant(spoken.said.get("intent", "")),
        spoken.named,
    )


def _lines(text: str) -> list[list[Token]]:
    """Tokens line by line; semicolons and the like end a line too."""
    lines: list[list[Token]] = [[]]
    for token in tokens(text):
        double = token.text == "/" and lines[-1] and lines[-1][-1].text == "/"
        if (token.kind == "mark" and token.text in ENDS) or double:
            lines.append([])
        else:
            lines[-1].append(token)
    return [line for line in lines if any(t.kind != "mark" for t in line)]


def _covering(text: str, pieces: list[Piece]) -> list[Piece]:
    """Pieces that leave out no letter: each reaches up to the next one, the first from the
    beginning."""
    out = []
    for k, (piece, following) in enumerate(pairwise([*pieces, None])):
        assert piece is not None
        start = piece.start if k else 0
        end = following.start if following else len(text)
        whole = text[start:end]
        start += len(whole) - len(whole.lstrip())
        whole = TRAILING.sub("", whole.strip())
        out.append(replace(piece, text=whole, start=start, end=start + len(whole)))
    if not out and text.strip():
        whole = text.strip()
        at = text.index(whole)
        out.append(Piece(whole, at, at + len(whole), Kind.UNCLEAR, "No setting is in it."))
    return out


def _first_counts(pieces: list[Piece], camera: Body) -> list[Piece]:
    """A dial that is set twice stands where it was set first, unless a reader chose; pieces that
    stand for something together come on top of what is set."""
    chosen = {k for p in pieces if p.kind is Kind.CHOSEN for k in p.sets}
    seen: dict[str, Value] = {}
    out = []
    for piece in pieces:
        mine = piece.kind is Kind.CHOSEN
        again = {k for k in piece.sets if k in seen or (k in chosen and not mine)}
        if not piece.counts or (piece.joint and not again & chosen):
            again = set()
        left = {k: v for k, v in piece.sets.items() if k not in again}
        if again and not left:
            label = camera.dial(next(iter(piece.sets))).spoken
            same = all(seen.get(k) == v for k, v in piece.sets.items())
            said = "Said already." if same else f"The {label} is set above; the first one counts."
            piece = replace(piece, kind=Kind.REPEATED, said=said)
        elif piece.counts:
            piece = replace(piece, sets=left)
            seen |= left
        out.append(piece)
    return out


def _chosen(piece: Piece, choice: Choice | None, camera: Body) -> Piece:
    if choice is None:
        return piece
    if choice.out:
        return replace(piece, kind=Kind.LEFT_OUT, said="As you chose.", implied={})
    chosen = choice.dial or piece.dial
    if chosen not in camera.by_id:
        return piece
    dial = camera.dial(chosen)
    value = choice.value
    if value is None:
        value = piece.sets.get(dial.id, dial.default)
        given = next((t for t in tokens(piece.text) if t.kind == "number"), None)
        if dial.id not in piece.sets and given and fit.numbers(dial):
            value = fit.number(camera, dial, given).sets.get(dial.id, dial.default)
    try:
        sets = {dial.id: dial.choice(value).value}
    except PlumError:
        sets = {dial.id: dial.default}
    kelvin = dial.id == "kelvin" and "white_balance" in camera.by_id
    implied: Values = {"white_balance": "kelvin"} if kelvin else {}
    return replace(piece, kind=Kind.CHOSEN, said="As you chose.", sets=sets, implied=implied)
