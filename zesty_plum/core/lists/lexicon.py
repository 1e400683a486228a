"""What phrases mean on a body: names of dials, names of places, strengths, small words."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path

from ..base.datafile import DataFile
from ..base.late import library
from ..bodies import Body, Value, bodies
from .tokens import folded, words

_words = library("rapidfuzz.distance")

Phrase = tuple[str, ...]
LONGEST = 6  # words in a phrase
# Edit distance (Damerau and Levenshtein's, each part moved once) that is still the same word, by
# the word's length from which on it is allowed.
SLIPS = ((8, 2), (5, 1))
SHORTEST = 3  # letters of a name that was cut short
NEAR = 0.34  # share of its letters that may differ where a word is only asked about


@dataclass(frozen=True)
class Lexicon:
    """Phrases of one body; `names` gives the dials that a phrase may mean, by their order."""

    names: Mapping[Phrase, tuple[str, ...]]
    places: Mapping[str, Mapping[Phrase, Value]]
    levels: Mapping[Phrase, str]
    kinds: Mapping[Phrase, str]
    labels: Mapping[Phrase, str]
    beside: frozenset[Phrase]
    fillers: frozenset[str]
    ranges: frozenset[Phrase]
    signs: Mapping[str, int]
    numerals: Mapping[Phrase, float]

    @cached_property
    def styles(self) -> Mapping[Phrase, Value]:
        """The body's styles by their names."""
        return self.places.get("style", {})

    @cached_property
    def known(self) -> frozenset[str]:
        """Every word of every name and place."""
        places = (p for by in self.places.values() for p in by)
        return frozenset(w for p in (*self.names, *places, *self.levels) for w in p)

    @cached_property
    def _single(self) -> tuple[str, ...]:
        return tuple(p[0] for p in self.names if len(p) == 1 and len(p[0]) >= SLIPS[-1][0])

    def misspelt(self, word: str) -> str | None:
        """The one-word name of a dial that is meant by a word with a slip or two of the pen."""
        return None if word in self.known else nearest(word, self._single)

    def style_like(self, word: str) -> Phrase | None:
        """The style of one word that is meant by a misspelt one."""
        if word in self.known or word in self.fillers:
            return None
        meant = nearest(word, [p[0] for p in self.styles if len(p) == 1])
        return (meant,) if meant else None

    def cut_short(self, word: str) -> str | None:
        """The name that a word is the beginning of, where all such names mean one dial."""
        names = [p[0] for p in self.names if len(p) == 1 and p[0].startswith(word)]
        meant = {self.names[(n,)][0] for n in names}
        return names[0] if len(word) >= SHORTEST and len(meant) == 1 else None

    def suggested(self, word: str) -> str | None:
        """The name that is farther off, but may be meant."""
        longer = [n for n in self._single if not word.startswith(n)]
        return _closest(word, longer, int(len(word) * NEAR))


def nearest(word: str, known: Iterable[str]) -> str | None:
    """The only known word within the slips that its length allows, beginning with its letter."""
    most = next((slips for length, slips in SLIPS if len(word) >= length), 0)
    return _closest(word, known, most) if most else None


def _closest(word: str, known: Iterable[str], most: int) -> str | None:
    near = sorted(
        (distance, other)
        for other in known
        if other[:1] == word[:1]
        and (distance := _words.OSA.distance(word, other, score_cutoff=most)) <= most
    )
    if not near or (len(near) > 1 and near[1][0] == near[0][0] and near[0][0] > 0):
        return None
    return near[0][1]


@cache
def _said() -> Mapping[str, Mapping[str, Mapping[Phrase, str]]]:
    """The file of words: section, and for its phrases the key that they stand under."""
    data = DataFile(Path(__file__).parent / "words.toml").data

    def table(section: Mapping[str, str]) -> dict[Phrase, str]:
        return {words(p): key for key, said in section.items() for p in _listed(said)}

    out = {name: {"": table(part)} for name, part in data.items() if name != "places"}
    out["places"] = {dial: table(part) for dial, part in data["places"].items()}
    return out


def _listed(said: str) -> list[str]:
    return [p for p in re.split(r",\s*", said) if words(p)]


_made: dict[str, tuple[Body, Lexicon]] = {}


def lexicon(camera: Body) -> Lexicon:
    """All phrases of a body: those that people use anywhere, and over them its own words."""
    made = _made.get(camera.id)
    if made is None or made[0] is not camera:
        made = _made[camera.id] = (camera, _lexicon(camera))
    return made[1]


def _lexicon(camera: Body) -> Lexicon:
    said = _said()
    names = {p: tuple(re.split(r",\s*", key)) for p, key in said["names"][""].items()}
    for other in (*(b for b in bodies().values() if b.id != camera.id), camera):
        for dial in other.dials:
            for name in (dial.label, dial.id.replace("_", " ")):
                own = other is camera or words(name) not in names
                names |= {words(name): (dial.id, *_else(names, dial.id))} if own else {}
    known = {d.id: {str(v): v for v in d.values} for d in camera.dials}
    places: dict[str, dict[Phrase, Value]] = {
        dial: {p: known.get(dial, {}).get(key, key) for p, key in table.items()}
        for dial, table in said["places"].items()
    }
    for dial in camera.dials:
        table = places.setdefault(dial.id, {})
        for choice in dial.choices:
            if isinstance(choice.value, str):
                table |= {words(choice.label): choice.value, words(choice.value): choice.value}
    return Lexicon(
        names=names,
        places=places,
        levels=said["levels"][""],
        kinds=said["kinds"][""],
        labels=said["labels"][""],
        beside=frozenset(said["beside"][""]),
        fillers=frozenset(w for p in said["fillers"][""] for w in p),
        ranges=frozenset(said["ranges"][""]),
        signs={folded(p[0]): 1 if key == "plus" else -1 for p, key in said["signs"][""].items()},
        numerals={p: float(key) for p, key in said["numerals"][""].items()},
    )


def _else(names: Mapping[Phrase, tuple[str, ...]], dial_id: str) -> tuple[str, ...]:
    """What else the phrase of a dial may mean, where a body lacks that dial."""
    listed = next((ids for ids in names.values() if ids[0] == dial_id), (dial_id,))
    return listed[1:]
