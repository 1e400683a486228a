"""What each claim of a list comes to on a body."""

from dataclasses import replace

from ..bodies import Body, Dial, Value, Values, bodies, first
from . import fit
from .claims import HEADERS, Claim
from .fit import Fit, printed
from .lexicon import Lexicon
from .protocol import Kind, Piece
from .stand_in import standing_in
from .tokens import Token, words

SHIFTS = ("shift_red", "shift_blue", "shift_amber", "shift_green")


class Resolve:
    """All claims of a list together, since some only mean something beside others."""

    def __init__(
        self, text: str, camera: Body, known: Lexicon, claims: list[Claim], named: Body | None
    ) -> None:
        self.text, self.camera, self.known = text, camera, known
        self.claims, self.named = claims, named
        self.explicit: dict[str, Value] = {}
        self.lacking: list[tuple[int, Dial, Body, Value]] = []

    def pieces(self) -> list[Piece]:
        """A piece for each claim."""
        fits = [self._fits(c) for c in self.claims]
        for each in (f for f in fits if f.kind in (Kind.TAKEN, Kind.ROUNDED, Kind.GUESSED)):
            self.explicit = {**each.sets, **self.explicit}
        self._stand_ins(fits)
        out = []
        for claim, found in zip(self.claims, fits, strict=True):
            made = self._piece(claim, found)
            out += self._split(claim, made)
        return out

    def _piece(self, claim: Claim, found: Fit) -> Piece:
        kind, said = found.kind, found.said
        if claim.spelled and claim.ids and found.sets and kind is Kind.TAKEN:
            kind, said = Kind.GUESSED, self._guess(claim, found)
        elif kind is Kind.TAKEN and not said:
            kind, said = self._remark(claim, found)
        text = self.text[claim.start : claim.end]
        made = Piece(text, claim.start, claim.end, kind, said, found.sets, found.implied)
        return replace(made, joint=found.joint)

    def _guess(self, claim: Claim, found: Fit) -> str:
        dial = self.camera.dial(next(iter(found.sets)))
        if claim.partly and " " in claim.spelled:
            return f"Only the {dial.spoken} is understood here."
        place = printed(dial, found.sets[dial.id])
        meant = dial.spoken if claim.phrase or claim.partly or dial.id != "style" else place
        return f"'{claim.spelled}' is read as {meant}."

    def _remark(self, claim: Claim, found: Fit) -> tuple[Kind, str]:
        given = claim.numbers[0] if claim.numbers else None
        if given and given.loose:
            return Kind.GUESSED, "The dash is read as a minus."
        if found.sets.get("shadows") and self.named is None:
            return Kind.TAKEN, (
                f"On {self.camera.name} plus is brighter; some bodies count the other way."
            )
        return Kind.TAKEN, ""

    def _fits(self, claim: Claim) -> Fit:
        if claim.told:
            return Fit(Kind.WORDS, {}, claim.told)
        if claim.beside:
            return Fit(Kind.BESIDE, {}, "Stands beside a look; kept in the note.")
        if not claim.ids:
            return self._nameless(claim)
        if claim.ids[0] == "iso" or (claim.ids[0].startswith("iso_") and len(claim.numbers) > 1):
            return self._iso(claim)
        if claim.ids[0] == "shift":
            return self._shift(claim)
        if not claim.valued:
            return self._valueless(claim)
        ids, turned = self._meant(claim.ids)
        own = next((k for k in ids if k in self.camera.by_id), None)
        other = {"white_balance": "kelvin", "kelvin": "white_balance"}.get(ids[0], "")
        if own is None and other in self.camera.by_id:
            own = other
        given = self._number(claim)
        if given and turned:
            given = replace(given, value=-given.value)
        if own is None:
            return self._donated(self.claims.index(claim), ids, given, claim)
        return self._fit(self.camera, self.camera.dial(own), given, claim)

    def _meant(self, ids: tuple[str, ...]) -> tuple[tuple[str, ...], bool]:
        """Magenta is green the other way, and so is blue where amber is spoken of."""
        if ids[0] == "shift_magenta":
            return ("shift_green",), True
        other = ("shift_amber", "shift_green", "shift_magenta")
        if ids[0] == "shift_blue" and any(c.ids[:1] == (k,) for c in self.claims for k in other):
            return ("shift_amber",), True
        return ids, False

    def _number(self, claim: Claim) -> Token | None:
        """The number of a claim; of a range its middle."""
        if not claim.numbers:
            return None
        first = claim.numbers[0]
        if len(claim.numbers) < 2 or not claim.ranged:
            return first
        middle = (first.value + claim.numbers[1].value) / 2
        return replace(first, value=middle, text=f"{middle:+.3g}", loose=False)

    def _fit(self, camera: Body, dial: Dial, given: Token | None, claim: Claim) -> Fit:
        if given is None:
            found = fit.worded(camera, dial, claim.word, self.known)
            said = f"{dial.label} can be {_choices(dial)} on {camera.name}."
            return found or Fit(Kind.UNCLEAR, {}, said)
        found = self._numbered(camera, dial, given)
        if claim.ranged and len(claim.numbers) > 1 and found.sets:
            # Of the dial that took it: a white balance in kelvin is a dial of its own.
            (at, value), *_ = found.sets.items()
            said = f"A range; {printed(camera.dial(at), value)} is nearest to its middle."
            return Fit(Kind.ROUNDED, found.sets, said, found.implied)
        return found

    def _numbered(self, camera: Body, dial: Dial, given: Token) -> Fit:
        if given.kind == "shape" and (shaped := fit.shape(camera, given)):
            return shaped
        if dial.id == "white_balance" and given.value >= 1000:
            return fit.kelvin(camera, given)
        if dial.id == "kelvin":
            return fit.kelvin(camera, given)
        if dial.id == "slowest":
            return fit.time(camera, dial, given)
        if dial.id == "aperture":
            return fit.aperture(camera, dial, given.value)
        if fit.numbers(dial):
            return fit.number(camera, dial, given)
        placed = (
            fit.worded(camera, dial, words(given.text), self.known) if not given.signed else None
        )
        placed = placed or fit.other_scale(camera, dial, given.value)
        said = f"{dial.label} can be {_choices(dial)} on {camera.name}, no number."
        return placed or Fit(Kind.UNCLEAR, {}, said)

    def _valueless(self, claim: Claim) -> Fit:
        if claim.ids[0] in HEADERS:
            return Fit(Kind.WORDS, {}, "A heading.")
        own = next((k for k in claim.ids if k in self.camera.by_id), None)
        if own is None:
            return Fit(Kind.UNCLEAR, {}, f"{self.camera.name} has nothing of that name.")
        dial = self.camera.dial(own)
        if claim.phrase in self.known.places.get(own, {}) and not claim.spelled:
            return self._fit(self.camera, dial, None, replace(claim, word=claim.phrase))
        if claim.spelled:
            said = f"{dial.label} can be {_choices(dial)} on {self.camera.name}."
            return Fit(Kind.UNCLEAR, {}, said)
        return Fit(Kind.UNCLEAR, {}, f"No value for {dial.spoken} stands here.")

    def _nameless(self, claim: Claim) -> Fit:
        if claim.shaped and (found := fit.shape(self.camera, claim.numbers[0])):
            return found
        said = f"{self.camera.name} has nothing of that name."
        styles = [v for p, v in self.known.styles.items() if set(p) <= set(words(claim.spelled))]
        if styles:
            name = printed(self.camera.dial("style"), styles[0])
            return Fit(Kind.UNCLEAR, {}, f"If {name} is meant as the style, choose it.")
        for word in words(claim.spelled)[:1]:
            if len(word) > 3 and (meant := self.known.suggested(word)):
                own = next((k for k in self.known.names[(meant,)] if k in self.camera.by_id), "")
                if own:
                    said = f"{said} Did you mean {self.camera.dial(own).label}?"
        return Fit(Kind.UNCLEAR, {}, said)

    def _iso(self, claim: Claim) -> Fit:
        """A range of ISO, one end of it, or one ISO."""
        values = claim.numbers
        if not values:
            return self._valueless(claim)
        most, least = self.camera.by_id.get("iso_most"), self.camera.by_id.get("iso_least")
        if most is None:
            return Fit(Kind.LACKING, {}, f"{self.camera.name} has no range of ISO.")
        upper = fit.number(self.camera, most, values[-1])
        if len(values) < 2:
            if claim.ranged or upper.kind is Kind.UNCLEAR:
                return upper
            upto = printed(most, upper.sets["iso_most"])
            said = f"{self.camera.name} chooses ISO in a range; up to {upto}."
            return Fit(Kind.NEAREST, upper.sets, said)
        if least is None:
            ends = f"{self.camera.name} starts at its base ISO."
            kind = Kind.NEAREST if upper.sets else upper.kind
            return Fit(kind, upper.sets, f"{ends} {upper.said}".strip())
        lower = fit.number(self.camera, least, values[0])
        kinds = (lower.kind, upper.kind)
        worst = next((k for k in (Kind.NEAREST, Kind.ROUNDED) if k in kinds), Kind.TAKEN)
        kind = Kind.UNCLEAR if not lower.sets and not upper.sets else worst
        return Fit(kind, {**lower.sets, **upper.sets}, f"{lower.said} {upper.said}".strip())

    def _shift(self, claim: Claim) -> Fit:
        """Two bare numbers behind 'shift': red, then blue, or the body's own two directions."""
        own = [k for k in SHIFTS if k in self.camera.by_id][:2]
        if not claim.valued:
            return Fit(Kind.WORDS, {}, "A heading.")
        zero = claim.word and self.known.levels.get(claim.word) in ("off", "middle")
        values = [n.value for n in claim.numbers]
        if not own:
            return Fit(Kind.LACKING, {}, f"{self.camera.name} cannot shift white balance.")
        if zero or values == [0.0]:
            return Fit(Kind.TAKEN, dict.fromkeys(own, 0))
        if len(values) != 2:
            return Fit(Kind.UNCLEAR, {}, "A shift has two directions; say which is which.")
        if self.camera.dial(own[0]).unit == "mired" and abs(values[0]) < fit.FEWEST_MIRED:
            return self._steps_of_shift(values)
        fits = [
            fit.number(self.camera, self.camera.dial(k), n)
            for k, n in zip(own, claim.numbers, strict=True)
        ]
        sets = {k: v for f in fits for k, v in f.sets.items()}
        labels = " then ".join(self.camera.dial(k).spoken for k in own)
        return Fit(Kind.GUESSED if sets else Kind.UNCLEAR, sets, f"Read as {labels}.")

    def _steps_of_shift(self, values: list[float]) -> Fit:
        """Two numbers too small for mired: red, then blue, on a body that counts so."""
        before = first().get(self.camera.id)
        every = (*([before] if before else []), *bodies().values())
        other = next(b for b in every if "shift_red" in b.by_id)
        theirs = dict(zip(SHIFTS, values, strict=False))
        if any(v not in other.dial(k).values for k, v in theirs.items()):
            return Fit(Kind.UNCLEAR, {}, "A shift has two directions; say which is which.")
        found = standing_in(self.camera, list(self.camera.dials), other, theirs, self.explicit)
        listed = " and ".join(
            f"{self.camera.dial(k).spoken} {printed(self.camera.dial(k), v)}"
            for k, v in (found or {}).items()
        )
        return Fit(Kind.GUESSED, found or {}, f"Read as red, then blue: {listed}.")

    # What another body's dial would be here

    def _donated(self, at: int, ids: tuple[str, ...], given: Token | None, claim: Claim) -> Fit:
        before = [first()[self.camera.id]] if self.camera.id in first() else []
        for other in (*before, *bodies().values(), *first().values()):
            dial = next((other.dial(k) for k in ids if k in other.by_id), None)
            if dial is None:
                continue
            theirs = self._fit(other, dial, given, claim)
            word = dial.spoken
            if theirs.sets and dial.id in theirs.sets:
                self.lacking.append((at, dial, other, theirs.sets[dial.id]))
            return Fit(Kind.LACKING, {}, f"{self.camera.name} has no {word}.")
        return Fit(Kind.UNCLEAR, {}, f"{self.camera.name} has nothing of that name.")

    def _stand_ins(self, fits: list[Fit]) -> None:
        """Dials of this body in place of those it lacks, together where they do one thing."""
        groups: list[list[tuple[int, Dial, Body, Value]]] = []
        for each in self.lacking:
            near = [g for g in groups if any(self._one_thing(x, each) for x in g)]
            if near:
                near[0].append(each)
            else:
                groups.append([each])
        for group in groups:
            other = group[0][2]
            theirs: Values = {d.id: v for _, d, _, v in group}
            if all(other.shipped[k] == v for k, v in theirs.items()) and all(
                v == 0 for v in theirs.values()
            ):
                self._say(fits, group, Kind.TAKEN, {}, "at rest, as here.")
                continue
            found = standing_in(self.camera, list(self.camera.dials), other, theirs, self.explicit)
            changed = {k: v for k, v in (found or {}).items() if v != self._now(k)}
            if not changed:
                continue
            listed = " and ".join(
                f"{self.camera.dial(k).spoken} {printed(self.camera.dial(k), v)}"
                for k, v in changed.items()
            )
            come = "comes" if len(changed) == 1 else "come"
            self._say(fits, group, Kind.NEAREST, changed, f"{listed} {come} nearest.")

    def _one_thing(
        self, a: tuple[int, Dial, Body, Value], b: tuple[int, Dial, Body, Value]
    ) -> bool:
        """Whether one dial of this body has a say in what two of another body do."""
        both = (d for d in self.camera.dials if d.touches & a[1].touches)
        return a[2] is b[2] and any(d.touches & b[1].touches for d in both)

    def _now(self, dial: str) -> Value:
        return self.explicit.get(dial, self.camera.shipped[dial])

    def _say(
        self,
        fits: list[Fit],
        group: list[tuple[int, Dial, Body, Value]],
        kind: Kind,
        sets: Values,
        said: str,
    ) -> None:
        for at, dial, _, _ in group:
            lacks = f"{self.camera.name} has no {dial.spoken}"
            joint = f"{lacks}; {said}" if kind is Kind.NEAREST else f"{lacks}; it is {said}"
            fits[at] = Fit(kind, sets, joint, joint=True)

    def _split(self, claim: Claim, piece: Piece) -> list[Piece]:
        """The two ends of an ISO range as two pieces, so that each can be corrected."""
        if not (claim.ids and claim.ids[0].startswith("iso")) or len(piece.sets) != 2:
            return [piece]
        low, high = claim.numbers[0], claim.numbers[-1]
        at = low.end
        parts = [("iso_least", piece.start, at, low), ("iso_most", at, piece.end, high)]
        out = []
        for dial, start, end, given in parts:
            found = fit.number(self.camera, self.camera.dial(dial), given)
            text = self.text[start:end]
            out.append(Piece(text, start, end, found.kind, found.said, found.sets))
        return out


def _choices(dial: Dial) -> str:
    labels = [c.label for c in dial.choices]
    if len(labels) <= 12:
        return ", ".join(labels)
    return f"{labels[0]} to {labels[-1]}"
