"""Ways to begin a recipe: from a goal, and from a list of settings that somebody wrote down in
plain text."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import pairwise

from .bodies import Body, Dial, Value, body
from .errors import PlumError
from .recipe import Intent, Recipe, make


@dataclass(frozen=True)
class Goal:
    """A start for a purpose: title, why its dials stand as they do, and the recipe and scene to
    begin with."""

    title: str
    why: str
    recipe: Recipe
    scene: str


def goals() -> list[Goal]:
    """Starts for what people come with."""
    lamps: dict[str, Value] = {"style": "lamplight", "white_balance": "keep_warm", "guard": 1}
    lamps |= {"highlights": -1, "shadows": 0.5, "noise_filter": 2}
    flat: dict[str, Value] = {
        "output": "clip_10",
        "style": "sounding",
        "detail": -2,
        "noise_reduction": "off",
        "white_balance": "kelvin",
    }
    hard: dict[str, Value] = {"style": "linen", "guard": 2, "highlights": -1, "shadows": 1}
    return [
        Goal(
            "Finished pictures of a lamp-lit evening",
            "Keeps lamps warm, holds paper and bulbs, opens shadows a little.",
            make("Lamp-lit evening", "heron-m2", lamps),
            "workshop",
        ),
        Goal(
            "Finished pictures in hard sun",
            "Two stops of guard for bright cloth and sky, soft highlights.",
            make("Hard sun", "heron-m2", hard),
            "beach",
        ),
        Goal(
            "Clips to be graded",
            "A log-like curve, fixed white balance, little detail, no noise reduction: the "
            "grade decides.",
            make("To be graded", "wader-v1", flat, intent=Intent.GRADE),
            "garden",
        ),
        Goal(
            "Raw files, a quiet preview",
            "The look will not be in the file; a plain preview shows what the raw holds.",
            make(
                "Quiet preview",
                "heron-m2",
                {"style": "ledger", "sharpness": -2},
                intent=Intent.RAW_ONLY,
            ),
            "loft",
        ),
    ]


# What people write for a dial, beside its own name.
ALSO = {
    "wb": "white_balance",
    "white bal": "white_balance",
    "balance": "white_balance",
    "temperature": "kelvin",
    "temp": "kelvin",
    "colour temperature": "kelvin",
    "color temperature": "kelvin",
    "red": "shift_red",
    "blue": "shift_blue",
    "r": "shift_red",
    "b": "shift_blue",
    "highlight": "highlights",
    "shadow": "shadows",
    "color": "colour",
    "saturation": "colour",
    "colour": "saturation",
    "sharpening": "sharpness",
    "sharp": "sharpness",
    "detail": "sharpness",
    "nr": "noise_filter",
    "noise reduction": "noise_filter",
    "noise": "noise_filter",
    "noise filter": "noise_reduction",
    "soft skin": "softening",
    "skin": "softening",
    "ev": "exposure",
    "exposure compensation": "exposure",
    "exposure": "exposure",
    "film": "style",
    "profile": "style",
    "curve": "style",
    "picture style": "style",
    "dynamic range": "guard",
    "dr": "guard",
    "size": "grain_size",
    "amber": "shift_amber",
    "green": "shift_green",
    "black": "black_level",
    "iso": "iso_most",
    "shutter": "slowest",
    "shutter speed": "slowest",
    "min shutter": "slowest",
    "f-stop": "aperture",
    "frame rate": "rate",
    "fps": "rate",
    "bitrate": "bit_rate",
    "chroma subsampling": "chroma",
    "subsampling": "chroma",
    "resolution": "clip_size",
    "long exposure nr": "dark_frame",
    "long exposure noise reduction": "dark_frame",
}
NUMBER = re.compile(r"([+\-−–]?)\s*(?:(\d+)\s+)?(\d+)/(\d+)|([+\-−–]?)\s*(\d+(?:[.,]\d+)?)")


@dataclass
class Reading:
    """What a list says: the dials that were understood, a line on each, and the lines that were
    not, with a reason."""

    camera: Body
    dials: dict[str, Value] = field(default_factory=dict)
    understood: list[str] = field(default_factory=list)
    unclear: list[tuple[str, str]] = field(default_factory=list)

    @property
    def recipe(self) -> Recipe:
        """The recipe as far as it was understood."""
        return make("From a list", self.camera.id, self.dials)


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", " ", text.lower()).strip()


def _names(camera: Body) -> Mapping[str, Dial]:
    """Every name for every dial of a body, in plain letters."""
    own = {_plain(name): dial for dial in camera.dials for name in (dial.label, dial.id)}
    dials = {dial.id: dial for dial in camera.dials}
    return {**{_plain(k): dials[v] for k, v in ALSO.items() if v in dials}, **own}


def number_in(text: str) -> float | None:
    """The first number: '-1 1/2', '+2', '5600', '−0,5'; None where there is none."""
    found = NUMBER.search(text)
    if not found:
        return None
    sign, whole, top, bottom, sign2, plain = found.groups()
    if bottom and not float(bottom):
        return None
    size = (
        float(whole or 0) + float(top) / float(bottom) if bottom else float(plain.replace(",", "."))
    )
    return -size if (sign or sign2) in ("-", "−", "–") else size


def _value(dial: Dial, text: str) -> Value:
    """The place of a dial that `text` means; PlumError where there is none."""
    wanted = _plain(text)
    worded = re.search(
        r"[a-z]", wanted
    )  # signs are lost in plain letters, so numbers are read as numbers
    named = [
        c for c in dial.choices if worded and wanted in (_plain(c.label), _plain(str(c.value)))
    ]
    if named:
        return named[0].value
    number = number_in(text)
    numbers = [c.value for c in dial.choices if not isinstance(c.value, str)]
    if number is not None and numbers:
        nearest = min(numbers, key=lambda v: abs(v - number))
        wide = max(abs(b - a) for a, b in pairwise(numbers)) if len(numbers) > 1 else 1.0
        if abs(nearest - number) <= wide / 2 + 1e-6:
            return nearest
        raise PlumError(f"{dial.label} goes from {min(numbers):g} to {max(numbers):g}.")
    begins = [
        c
        for c in dial.choices
        if len(wanted) > 2 and (_plain(c.label).startswith(wanted) or wanted in _plain(c.label))
    ]
    if len(begins) == 1:
        return begins[0].value
    raise PlumError(f"{dial.label} can be {dial.spelled()}.")


def _parts(text: str) -> list[str]:
    """Lines, and what commas and semicolons separate in them where a word follows; list marks
    gone."""
    lines = [re.sub(r"^\s*[-*•·]\s+", "", line) for line in text.splitlines()]
    return [
        part.strip()
        for line in lines
        for part in re.split(r"[;,](?=\s*[A-Za-z])", line)
        if part.strip()
    ]


def read_list(text: str, camera: Body | str) -> Reading:
    """Read a list of settings leniently, part by part: a dial's name or what people call it, then
    its value."""
    camera = body(camera) if isinstance(camera, str) else camera
    reading, names = Reading(camera), _names(camera)
    for part in _parts(text):
        words = _plain(part)
        name = max(
            (n for n in names if words == n or words.startswith(f"{n} ")), key=len, default=""
        )
        if not name:
            _nameless(part, reading)
            continue
        dial = names[name]
        # What stands behind the name, with its sign: as many letters of the part as the name has,
        # whatever is between them.
        rest = re.sub(r"^\W*" + r"\W+".join(name.split()) + r"[\s:=]*", "", part, flags=re.I)
        _set(dial, rest, part, reading)
    return reading


def _set(dial: Dial, rest: str, part: str, reading: Reading) -> None:
    camera = reading.camera
    try:
        if dial.id == "white_balance" and (kelvin := number_in(rest)) and kelvin > 1000:
            reading.dials["white_balance"] = _value(dial, "kelvin")
            dial = camera.dial("kelvin")
        value = _value(dial, rest)
    except PlumError as error:
        reading.unclear.append((part, str(error)))
        return
    reading.dials[dial.id] = value
    if dial.id == "kelvin" and any(d.id == "white_balance" for d in camera.dials):
        reading.dials["white_balance"] = _value(camera.dial("white_balance"), "kelvin")
    reading.understood.append(f"{dial.label} {dial.choice(value).label}")


def _nameless(part: str, reading: Reading) -> None:
    """A part without a dial's name: a style by its own name, or a temperature."""
    for dial in reading.camera.dials:
        if dial.id == "style" and _plain(part) in {_plain(c.label) for c in dial.choices}:
            return _set(dial, part, part, reading)
        if dial.id == "kelvin" and re.fullmatch(r"\s*\d{4,5}\s*[kK]\s*", part):
            return _set(dial, part, part, reading)
    reading.unclear.append((part, f"{reading.camera.name} has no dial of that name."))
    return None
