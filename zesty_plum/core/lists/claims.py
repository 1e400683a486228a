"""Claims of a written list: which words of a line name a dial, and which give its value.

A line is walked once from left to right. Names open a claim, values close it; where values stand
before their names (+2 red, -4 blue; strong grain), they are paired the other way.
"""

from dataclasses import dataclass, field, replace
from typing import Any

from ..bodies import Body
from .fit import shape, shaped_dial
from .lexicon import Lexicon, Phrase
from .line import COLONS, DASHES, GLUE, Line
from .tokens import Token, words

HEADERS = ("shift", "white_balance", "iso", "tone")
# Which other dial the words that follow a dial's value may belong to.
COMPANIONS = {
    "grain": ("grain_size",),
    "grain_size": ("grain",),
    "output": ("rate", "clip_size", "chroma", "bit_rate", "range"),
    "clip_size": ("output", "rate"),
    "rate": ("output", "clip_size"),
    "style": ("mono_filter",),
}
PROSE = 6  # unknown words before a style's name from which on it is talk
STRONG = ("fps", "mbps", "mbit/s", "mbits", "mb/s", "mbit")  # units that say what a number is
SHIPPED = "What is not in the list stays as shipped."
FIXED = ("output", "range", "clip_size")  # dials whose places are known by themselves: 10 bit, 4K


@dataclass
class Claim:
    """What one piece of the text says: the dials it may mean by the `phrase` that named them, its
    values. Without dials it is unknown, stands `beside` a look, says a value by its shape
    (`shaped`), or has something `told` of it. `spelled` holds words that were not understood, or
    understood as something else; `partly` says that they stand with a style. Where it is `closed`,
    what follows belongs to another."""

    start: int
    end: int
    ids: tuple[str, ...] = ()
    numbers: list[Token] = field(default_factory=list)
    word: Phrase = ()
    spelled: str = ""
    ranged: bool = False
    beside: bool = False
    shaped: bool = False
    phrase: Phrase = ()
    told: str = ""
    partly: bool = False
    closed: bool = False

    @property
    def valued(self) -> bool:
        """Whether it has a value."""
        return bool(self.numbers or self.word)


class Walk(Line):
    """The walk through one line."""

    def __init__(self, camera: Body, known: Lexicon, line: list[Token]) -> None:
        super().__init__(camera, known, line)
        self.at = 0
        self.claims: list[Claim] = []
        self.pending: list[tuple[Token, Phrase]] = []
        self.open_range = False

    @property
    def last(self) -> Claim | None:
        """The claim in hand, while it is open."""
        return self.claims[-1] if self.claims and not self.claims[-1].closed else None

    def run(self) -> list[Claim]:
        """All claims of the line."""
        first = self._values_first()
        while self.at < len(self.line):
            if self.at == first:
                self._pairs()
            else:
                self._step()
        self._settle()
        talk = all(not c.ids and not c.beside and not c.shaped and not c.told for c in self.claims)
        if self.claims and talk and all(t.kind != "number" for t in self.line):
            whole = " ".join(c.spelled for c in self.claims)
            return [Claim(self.line[0].start, self.line[-1].end, spelled=whole)]
        return self.claims

    def _step(self) -> None:
        token = self.line[self.at]
        steps = (
            (self._mark, self._value_of_open, self._fixed, self._number)
            if token.kind != "word"
            else (
                self._value_of_open,
                self._before_name,
                self._name,
                self._range_word,
                self._fixed,
                self._style,
                self._companion,
                self._loose_value,
                self._small,
                self._misspelt,
            )
        )
        for step in steps:
            taken = step(token)
            if taken:
                self.at += taken
                return
        self._unknown(token)
        self.at += 1

    # Values before their names

    def _values_first(self) -> int:
        """Where pairs of a number and then its name begin; -1 where there are none."""
        begun, expects, at, header = -1, "number", 0, True
        while at < len(self.line):
            token = self.line[at]
            if token.kind == "mark":
                if token.text in COLONS and begun >= 0:
                    return -1
                at += 1
                continue
            found = self.name_at(at) if token.kind == "word" else None
            kind = "number" if token.kind == "number" and not token.unit else "name"
            if begun < 0 and kind == "number" and not header:
                return -1
            if begun < 0 and kind == "name":
                header = self._heads(token, found)
            elif kind != expects or (kind == "name" and not found):
                return -1
            else:
                begun = at if begun < 0 else begun
                expects = "name" if kind == "number" else "number"
            at += found[1] if found else 1
        return begun if begun >= 0 and expects == "number" else -1

    def _heads(self, token: Token, found: tuple[tuple[str, ...], int] | None) -> bool:
        """Whether a word before a number can head a line and is not what the number belongs to."""
        if found:
            return found[0][0] in HEADERS[:2]
        if token.kind != "word":
            return True
        return (token.plain,) in self.known.places["white_balance"] or (
            token.plain in self.known.fillers
        )

    def _claim(self, taken: int, ids: tuple[str, ...] = (), **more: Any) -> int:
        """Make a claim of the next tokens; returns how many."""
        end = self.line[self.at + taken - 1].end
        self.claims.append(Claim(self.line[self.at].start, end, ids, **more))
        return taken

    def _pairs(self) -> None:
        while self.at < len(self.line):
            token = self.line[self.at]
            if token.kind == "mark":
                self.at += 1
                continue
            found = next(k for k in range(self.at + 1, len(self.line)) if self.name_at(k))
            ids, taken = self.name_at(found) or ((), 1)
            end = self.line[found + taken - 1].end
            self.claims.append(Claim(token.start, end, ids, [token]))
            self.at = found + taken

    # Steps: each takes some tokens, or none

    def _mark(self, token: Token) -> int:
        if token.kind != "mark":
            return 0
        last = self.last
        if token.text in DASHES and last and last.numbers:
            self.open_range = True
        if token.text in (",", ")", "&", "(") and last and (not last.ids or last.spelled):
            last.closed = True
        return 1

    def _value_of_open(self, token: Token) -> int:
        """A word, or a number in words, that the open claim waits for."""
        last = self.last
        if not last or not last.ids or last.valued:
            return 0
        for said, taken in self.phrase(self.at, (*GLUE, ",")):
            if self.number_follows(self.at + taken) and self.known.names.get(said):
                continue
            if last.phrase and last.spelled and said in self.known.levels:
                continue  # colour charm: no idea
            if said in self.known.numerals:
                value = replace(token, kind="number", value=self.known.numerals[said])
                last.numbers.append(value)
            elif self.accepts(last.ids, said):
                last.word = said
            else:
                continue
            last.end = self.line[self.at + taken - 1].end
            return taken
        return 0

    def _before_name(self, token: Token) -> int:
        """A value that stands before the name it belongs to: spot metering, red filter."""
        for said, taken in self.phrase(self.at):
            following = self.name_at(self.at + taken) if self.word_at(self.at + taken) else None
            if following is None or self.number_follows(self.at + taken + following[1]):
                continue
            if self.accepts(following[0], said) and not self.valued_later(
                self.at + taken + following[1]
            ):
                self.pending.append((token, said))
                return taken
        return 0

    def _fixed(self, token: Token) -> int:
        """What figures say by themselves: 10 bit, 16-235, 4K, 1080p."""
        if token.kind not in ("number", "word") or (self.last and self.last.beside):
            return 0
        for said, taken in self.phrase(self.at):
            if len(said) == 1 and not token.unit:
                continue
            if not any(w.isdigit() for w in said) and not token.unit:
                continue
            for dial in FIXED:
                if said in self.known.places.get(dial, {}):
                    return self._claim(taken, (dial,), word=said)
        return 0

    def _number(self, token: Token) -> int:
        last, ranged = self.last, self.open_range
        self.open_range = False
        alone = token.kind == "shape" or shape(self.camera, token) is not None
        strong = self._strong(token)
        waiting = (
            last is not None and bool(last.ids) and (not last.valued or last.ids == ("shift",))
        )
        if last and last.beside and not strong:
            last.end = token.end
        elif last and ranged and last.numbers:
            last.numbers.append(token)
            last.ranged, last.end = True, token.end
        elif last and waiting and not (strong and self._elsewhere(last, token)):
            last.numbers.append(token)
            last.end = token.end
        elif alone and (strong or not last or last.ids):
            self._claim(1, numbers=[token], shaped=True)
        elif last and not last.ids and not last.shaped:
            last.end = token.end
            last.closed = True
        else:
            self._claim(1, closed=True)
        return 1

    def _elsewhere(self, last: Claim, token: Token) -> bool:
        """Whether a number's unit belongs to another dial than the one that waits."""
        dial = shaped_dial(token)
        return dial not in last.ids and not (dial == "kelvin" and "white_balance" in last.ids)

    def _strong(self, token: Token) -> bool:
        """Whether a number says what it is whatever stands before it."""
        if token.kind == "shape":
            return ":" in token.text
        return token.unit in STRONG or (token.unit.startswith("k") and token.value >= 1000)

    def _range_word(self, token: Token) -> int:
        last = self.last
        for said, taken in self.phrase(self.at):
            if said in self.known.ranges and last and last.ids:
                if last.numbers:
                    self.open_range = True
                elif last.ids[0] == "iso":
                    last.ranged = True
                else:
                    continue
                return taken
        return 0

    def _name(self, token: Token) -> int:
        found = self.name_at(self.at)
        if not found:
            return 0
        ids, taken = found
        end, self.open_range = self.line[self.at + taken - 1].end, False
        phrase = tuple(w for t in self.line[self.at : self.at + taken] for w in words(t.text))
        last = self.last
        if last and last.ids == ids and not last.valued and not last.spelled:
            last.end = end  # dynamic range: guard 400
            return taken
        claim = Claim(token.start, end, ids, phrase=phrase)
        if self.pending and not self.number_follows(self.at + taken):
            before, said = self.pending[-1]
            if self.accepts(ids, said) and not self.valued_later(self.at + taken):
                claim.word, claim.start = said, before.start
                self.pending.pop()
        self.claims.append(claim)
        return taken

    def _style(self, token: Token) -> int:
        """A style by its own name, also behind a word that is not known."""
        for said, taken in self.phrase(self.at):
            kind = self.known.kinds.get(said)
            if kind and words(kind) in self.known.styles:
                text = " ".join(t.text for t in self.line[self.at : self.at + taken])
                return self._claim(taken, ("style",), word=words(kind), spelled=text)
            if said not in self.known.styles:
                continue
            last = self.last
            unknown = last if last and not last.ids and not last.shaped else None
            if unknown and len(words(unknown.spelled)) >= PROSE:
                return 0
            if unknown is None or unknown.beside:
                return self._claim(taken, ("style",), word=said)
            unknown.ids, unknown.word, unknown.partly = ("style",), said, True
            unknown.end = self.line[self.at + taken - 1].end
            return taken
        return 0

    def _companion(self, token: Token) -> int:
        last = self.last
        for said, taken in self.phrase(self.at):
            for dial in COMPANIONS.get(last.ids[0], ()) if last and last.ids else ():
                if said in self.known.places.get(dial, {}):
                    return self._claim(taken, (dial,), word=said)
        return 0

    def _loose_value(self, token: Token) -> int:
        """A value that stands before its name (strong grain), or a light by itself (daylight)."""
        last = self.last
        for said, taken in self.phrase(self.at):
            if said not in self.known.levels and said not in self.known.places["white_balance"]:
                continue
            if self.number_follows(self.at + taken):
                continue
            if last and not last.ids and not last.shaped:
                last.end = self.line[self.at + taken - 1].end
                last.spelled = f"{last.spelled} {' '.join(said)}"
            else:
                self.pending.append((token, said))
            return taken
        return 0

    def _small(self, token: Token) -> int:
        """Small words, and what stands beside a look."""
        for said, taken in self.phrase(self.at):
            if self.known.labels.get(said) == "shipped":
                return self._claim(taken, told=SHIPPED, closed=True)
            if said in self.known.beside:
                return self._claim(taken, beside=True)
        return 1 if token.plain in self.known.fillers else 0

    def _misspelt(self, token: Token) -> int:
        """A name with a slip of the pen or cut short, with its value behind it; or a style."""
        if self.last and self.last.beside:
            return 0
        style = self.known.style_like(token.plain)
        if style:
            return self._claim(1, ("style",), word=style, spelled=token.text)
        number = self.number_follows(self.at + 1)
        meant = self.known.misspelt(token.plain) or (
            self.known.cut_short(token.plain) if number else None
        )
        if not meant:
            return 0
        ids = self.known.names[(meant,)]
        behind = self.at + 1
        while behind < len(self.line) and self.line[behind].text in (*COLONS, "."):
            behind += 1
        if not number and not any(self.accepts(ids, said) for said, _ in self.phrase(behind)):
            return 0
        return self._claim(1, ids, spelled=token.text)

    def _unknown(self, token: Token) -> None:
        last = self.last
        if last and (last.beside or (not last.ids and not last.shaped) or not last.valued):
            last.end = token.end
            last.spelled = f"{last.spelled} {token.text}".strip()
        else:
            self._claim(1, spelled=token.text)

    def _settle(self) -> None:
        """Values that found no name: a light by itself is a white balance, others are unknown."""
        for token, said in self.pending:
            if said[0] in self.known.fillers:
                continue
            light = said in self.known.places["white_balance"] and said not in self.known.levels
            alone = not any(c.ids or c.spelled for c in self.claims) or self._after_balance()
            ids = ("white_balance",) if light and alone else ()
            spelled = "" if ids else token.text
            self.claims.append(Claim(token.start, token.end, ids, word=said, spelled=spelled))
        self.claims.sort(key=lambda c: c.start)

    def _after_balance(self) -> bool:
        return any("kelvin" in c.ids or c.ids[:1] == ("shift",) for c in self.claims)
