"""One line of a list under the finger: which phrases, names and numbers begin where."""

from dataclasses import replace

from ..bodies import Body, bodies
from .lexicon import LONGEST, Lexicon, Phrase, nearest
from .tokens import Token, words

COLONS, DASHES = (":", "=", "："), ("-", "−", "–", "—", "~", "…", "〜")
GLUE = ("-", "/", ".", "'", "’", "&", "–")
TONES = ("h", "s")  # highlights and shadows, where both are spoken of
LETTERS = 1  # of a name so short that it needs its number beside it
LEVELLED = ("steps", "stops", "level", "size", "switch")  # units of dials that strengths fit


class Line:
    """The tokens of a line, signs in words put before their numbers, and what a body calls
    things."""

    def __init__(self, camera: Body, known: Lexicon, line: list[Token]) -> None:
        self.camera, self.known = camera, known
        self.line = _signed(line, known)

    def phrase(self, at: int, glue: tuple[str, ...] = GLUE) -> list[tuple[Phrase, int]]:
        """Phrases that begin at a token, the longest first, with how many tokens they take."""
        said: tuple[str, ...] = ()
        out: list[tuple[Phrase, int]] = []
        for k in range(at, len(self.line)):
            token = self.line[k]
            if token.kind == "mark":
                if token.text not in glue or not said:
                    break
                continue
            if token.kind == "number" and (token.signed or token.value != int(token.value)):
                break
            said = (*said, *words(token.text))
            if len(said) > LONGEST:
                break
            out.append((said, k + 1 - at))
        return out[::-1]

    def number_follows(self, at: int) -> bool:
        """Whether a number comes next, whatever colon stands between."""
        for token in self.line[at:]:
            if token.kind != "mark":
                return token.kind in ("number", "shape")
            if token.text not in (*COLONS, *DASHES, "(", "."):
                return False
        return False

    def name_at(self, at: int) -> tuple[tuple[str, ...], int] | None:
        for said, taken in self.phrase(at):
            ids = self.known.names.get(said)
            if ids and (len("".join(said)) > LETTERS or self._beside_number(at, taken)):
                return ids, taken
        return None

    def _beside_number(self, at: int, taken: int) -> bool:
        if self.line[at].plain in TONES and not set(TONES) <= {t.plain for t in self.line}:
            return False
        before = self.line[at - 1] if at else None
        behind = bool(before and before.kind == "number")
        if behind and self.line[at].text == "a":
            return False  # from 200 a 3200
        return self.number_follows(at + taken) or behind

    def accepts(self, ids: tuple[str, ...], said: Phrase) -> bool:
        if ids[0] == "iso":
            return False
        if any(said in self.known.places.get(k, {}) for k in ids):
            return True
        if said in self.known.levels:
            return any(self._levelled(k) for k in ids)
        own = [p[0] for k in ids for p in self.known.places.get(k, {}) if len(p) == 1]
        spelled = len(said) == 1 and said not in self.known.names and said[0].isalpha()
        return bool(spelled and said[0] not in self.known.known and nearest(said[0], own))

    def _levelled(self, dial: str) -> bool:
        """Whether a strength in words can stand on a dial."""
        if dial == "shift":
            return True
        found = next(
            (b.by_id[dial] for b in (self.camera, *bodies().values()) if dial in b.by_id), None
        )
        return found is not None and found.unit in LEVELLED

    def valued_later(self, at: int) -> bool:
        """Whether a value in words stands right behind a name."""
        return at < len(self.line) and self.line[at].text in (*COLONS, *DASHES)

    def word_at(self, at: int) -> bool:
        return at < len(self.line) and self.line[at].kind == "word"


def _signed(line: list[Token], known: Lexicon) -> list[Token]:
    """Plus two and minus one and a half as numbers."""
    out, k = list[Token](), 0
    while k < len(line):
        token = line[k]
        sign = known.signs.get(token.plain) if token.kind == "word" else None
        made, taken = _numeral(line[k + 1 :], known) if sign else (None, 0)
        if sign and made:
            value = sign * made.value
            made = replace(made, kind="number", plain="", value=value, signed=True)
            out.append(replace(made, start=token.start, text=f"{value:+g}"))
        else:
            out.append(token)
        k += 1 + taken
    return out


def _numeral(line: list[Token], known: Lexicon) -> tuple[Token | None, int]:
    """The number, in figures or in words, that a line begins with, and how many tokens it takes."""
    if line and line[0].kind == "number":
        return line[0], 1
    for taken in range(min(4, len(line)), 0, -1):
        said = tuple(w for t in line[:taken] for w in words(t.text))
        if said in known.numerals:
            number = replace(line[0], value=known.numerals[said], end=line[taken - 1].end)
            return number, taken
    return None, 0
