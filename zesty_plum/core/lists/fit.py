"""A value as it was written, brought onto a dial: what it becomes there, and why."""

from collections.abc import Callable
from dataclasses import dataclass, field
from math import log2

from ..base.errors import PlumError
from ..base.text import shortened
from ..bodies import Body, Dial, Value, Values, bodies, first
from .lexicon import Lexicon, Phrase, nearest
from .protocol import Kind
from .stand_in import standing_in
from .tokens import LARGEST, Token

THIRDS = 0.05  # 0.3 and 0.7 are how people write thirds
BEYOND = 0.5  # of a dial's whole way that a number may lie outside and still mean its end
FEWEST_MIRED = 5  # below which a number without a unit is steps of some camera, not mired
FASTEST = 240  # pictures a second: 25p is a rate, 1080p a size
GUARD = {100: 0, 200: 1, 400: 2, 800: 3}  # per cent of range, in stops


@dataclass(frozen=True)
class Fit:
    """Places of dials that a piece comes to, how, and a sentence on it; `joint` as in `Piece`."""

    kind: Kind
    sets: Values = field(default_factory=dict)
    said: str = ""
    implied: Values = field(default_factory=dict)
    joint: bool = False


def printed(dial: Dial, value: Value) -> str:
    """A place as the body prints it."""
    return dial.choice(value).label


def numbers(dial: Dial) -> list[float]:
    """The places that are numbers, in order."""
    return [v for v in dial.values if not isinstance(v, str)]


def _distance(dial: Dial) -> Callable[[float, float], float]:
    """How far two numbers of a dial are apart, as the eye counts: stops of ISO, mired of kelvin."""
    if dial.unit == "K":
        return lambda a, b: abs(1e6 / a - 1e6 / b) if a > 0 and b > 0 else float("inf")
    if dial.unit in ("ISO", "size", "Mbit/s"):
        return lambda a, b: abs(log2(a / b)) if a > 0 and b > 0 else float("inf")
    return lambda a, b: abs(a - b)


def number(camera: Body, dial: Dial, given: Token) -> Fit:
    """A number on a dial of numbers."""
    value, places = given.value, numbers(dial)
    if dial.unit == "Duv" and abs(value) < 0.1:
        value *= 1000  # printed as 0.003, turned in thousandths
    if dial.id == "guard" and (given.unit == "%" or value >= min(GUARD)):
        return _guard(camera, dial, value)
    apart = _distance(dial)
    steps = dial.unit == "mired" and given.unit != "mired" and abs(value) < FEWEST_MIRED
    if steps and value and (fit := other_scale(camera, dial, value)):
        return fit
    near = sorted(places, key=lambda v: (round(apart(v, value), 9), abs(v)))
    if _exact(dial, near[0], value):
        return Fit(Kind.TAKEN, {dial.id: near[0]})
    if not places[0] <= value <= places[-1] and (fit := other_scale(camera, dial, value)):
        return fit
    if not places[0] <= value <= places[-1]:
        return _outside(camera, dial, given, near[0])
    a, b = near[0], near[1]
    low, high = (printed(dial, v) for v in sorted((a, b)))
    if dial.unit == "K":
        away = apart(a, value)
        said = f"{value:g} K is not on this dial; {a:g} K is nearest, {away:.1f} mired away."
    elif round(apart(a, value) - apart(b, value), 6) == 0:
        said = f"{given.text} lies midway between {low} and {high}; the smaller is taken."
    else:
        said = f"{given.text} lies between {low} and {high}; {printed(dial, a)} is nearer."
    return Fit(Kind.ROUNDED, {dial.id: a}, said)


def _exact(dial: Dial, place: float, value: float) -> bool:
    thirds = any(abs(v * 3 - round(v * 3)) < 0.03 and v != round(v) for v in numbers(dial))
    return abs(place - value) < (THIRDS if thirds else 0.006)


def _outside(camera: Body, dial: Dial, given: Token, end: float) -> Fit:
    places = numbers(dial)
    goes = f"{dial.label} goes from {printed(dial, places[0])} to {printed(dial, places[-1])}"
    written = _distance(dial)(given.value, end)
    if written <= BEYOND * _distance(dial)(places[0], places[-1]):
        return Fit(
            Kind.NEAREST,
            {dial.id: end},
            f"{goes} on {camera.name}; {printed(dial, end)} is nearest to {given.text}.",
        )
    return Fit(Kind.UNCLEAR, {}, f"{goes} on {camera.name}; {given.text} must be of another scale.")


def _guard(camera: Body, dial: Dial, value: float) -> Fit:
    stops = GUARD.get(round(value))
    if stops is None:
        return Fit(
            Kind.UNCLEAR, {}, "A guard in per cent is 100, 200 or 400, for no, one or two stops."
        )
    if stops in dial.values:
        return Fit(Kind.NEAREST, {dial.id: stops}, f"{value:g} % is {printed(dial, stops)} here.")
    end = numbers(dial)[-1]
    return Fit(
        Kind.NEAREST,
        {dial.id: end},
        f"{value:g} % would be {stops} stops; {camera.name} goes to {printed(dial, end)}.",
    )


def other_scale(camera: Body, dial: Dial, value: float) -> Fit | None:
    """A number of another body's scale for the same thing, by what it means for the picture."""
    every = [(o, d) for o in (*bodies().values(), *first().values()) for d in o.dials]
    for alike in (True, False):  # dials of its own name tell more than others
        for other, theirs in every:
            same = theirs.touches <= dial.touches or dial.touches <= theirs.touches
            if other is camera or not (theirs.touches and same) or value not in theirs.values:
                continue
            if (theirs.id == dial.id) is not alike:
                continue
            own = standing_in(camera, [dial], other, {theirs.id: value}, {})
            if own is None:
                continue
            ends = [printed(theirs, v) for v in (theirs.values[0], theirs.values[-1])]
            mine = [printed(dial, v) for v in (dial.values[0], dial.values[-1])]
            return Fit(
                Kind.NEAREST,
                own,
                f"{dial.label} goes from {mine[0]} to {mine[1]} on {camera.name}. "
                f"{printed(theirs, value)} on a scale of {ends[0]} to {ends[1]} is "
                f"{printed(dial, own[dial.id])} here.",
            )
    return None


def worded(camera: Body, dial: Dial, said: Phrase, known: Lexicon) -> Fit | None:
    """A value in words: a place by its name, what stands for one in other words, or a strength."""
    text = " ".join(said)
    if dial.id == "kelvin" and said in known.places["white_balance"]:
        return _preset(camera, dial, str(known.places["white_balance"][said]))
    places = known.places.get(dial.id, {})
    if said in places and places[said] in dial.values:
        return Fit(Kind.TAKEN, {dial.id: places[said]})
    if said in places:
        return _preset(camera, dial, str(places[said]))
    if said in known.levels:
        return _level(camera, dial, known.levels[said], text)
    meant = nearest(text, [p[0] for p in places if len(p) == 1]) if len(said) == 1 else None
    if meant and places[(meant,)] in dial.values:
        value = places[(meant,)]
        return Fit(Kind.GUESSED, {dial.id: value}, f"Read as {printed(dial, value)}.")
    return None


def _preset(camera: Body, dial: Dial, name: str) -> Fit:
    """A place that other bodies have: the nearest kelvin for a light, or nothing."""
    lights = {
        c.label: c.sets["light_mired"]
        for b in bodies().values()
        if "white_balance" in b.by_id
        for c in b.dial("white_balance").choices
        if c.value == name and "light_mired" in c.sets
    }
    word = name.replace("_", " ")
    if lights and dial.id == "white_balance" and "kelvin" not in camera.by_id:
        near = _lit(dial, next(iter(lights.values())))
        said = f"{camera.name} has no '{word}'; {printed(dial, near)} comes nearest."
        return Fit(Kind.NEAREST, {dial.id: near}, said)
    if lights and dial.id in ("kelvin", "white_balance") and "kelvin" in camera.by_id:
        kelvins = camera.dial("kelvin")
        mired = next(iter(lights.values()))
        near = min(numbers(kelvins), key=lambda v: abs(1e6 / v - mired))
        implied: Values = {"white_balance": "kelvin"} if "white_balance" in camera.by_id else {}
        return Fit(
            Kind.NEAREST,
            {"kelvin": near},
            f"{camera.name} has no '{word}'; {near:g} K comes nearest.",
            implied=implied,
        )
    return Fit(Kind.LACKING, {}, f"{camera.name} has no '{word}' for {dial.spoken}.")


def _lit(dial: Dial, mired: float) -> Value:
    """The place of a white balance that holds the light nearest to a colour temperature."""
    fixed = [c for c in dial.choices if "light_mired" in c.sets]
    return min(fixed, key=lambda c: abs(c.sets["light_mired"] - mired)).value


def _level(camera: Body, dial: Dial, level: str, text: str) -> Fit | None:
    places = numbers(dial)
    if len(places) < len(dial.values):
        return _level_by_name(camera, dial, level, text)
    if dial.unit not in ("steps", "stops"):
        return None
    first, last = places[0], places[-1]
    signed = first < 0
    to = {
        "off": 0.0,
        "least": first,
        "low": first / 2 if signed else last / 4,
        "middle": 0.0 if signed else last / 2,
        "high": last / 2 if signed else last * 3 / 4,
        "most": last,
    }
    if level not in to:
        return None
    near = min(places, key=lambda v: (round(abs(v - to[level]), 6), -abs(v)))
    plain = signed and level in ("off", "middle")
    goes = f"{dial.label} goes from {printed(dial, first)} to {printed(dial, last)}"
    return Fit(
        Kind.TAKEN if plain or level == "off" else Kind.NEAREST,
        {dial.id: near},
        "" if plain or level == "off" else f"{goes}; '{text}' is taken as {printed(dial, near)}.",
    )


def _level_by_name(camera: Body, dial: Dial, level: str, text: str) -> Fit | None:
    """A strength on a dial whose places have names: by its rank."""
    if dial.unit not in ("level", "size", "switch"):
        return None
    names = [v for v in dial.values if isinstance(v, str)]
    off = next((v for v in names if v in ("off", "none")), None)
    some = [v for v in names if v != off]
    ranks = {"off": off or some[0], "least": some[0], "low": some[0]}
    ranks |= {"middle": some[(len(some) - 1) // 2]}
    ranks |= {"high": some[-1], "most": some[-1], "on": some[0]}
    value = ranks[level]
    exact = (level == "off" and off) or (level == "on" and len(some) == 1)
    listed = ", ".join(printed(dial, v) for v in dial.values)
    return Fit(
        Kind.TAKEN if exact else Kind.NEAREST,
        {dial.id: value},
        ""
        if exact
        else f"{dial.label} is {listed} on {camera.name}; '{text}' is taken as "
        f"{printed(dial, value)}.",
    )


def shape(camera: Body, given: Token) -> Fit | None:
    """What a value says by its shape alone: kelvin, an aperture, a time, a rate, a clip's size."""
    dial_id = shaped_dial(given)
    if dial_id == "kelvin" and "white_balance" in camera.by_id:
        return kelvin(camera, given)
    if dial_id not in camera.by_id:
        return None
    dial = camera.dial(dial_id)
    text = "".join(given.text.casefold().split())
    if dial_id == "chroma":
        return _listed(camera, dial, text)
    if dial_id == "aperture":
        return aperture(camera, dial, float(text.lstrip("f/").replace(",", ".")))
    return number(camera, dial, given)


def shaped_dial(given: Token) -> str:
    """The dial that a value belongs to by its shape or unit; empty where that says nothing."""
    if given.kind == "shape":
        return {":": "chroma", "f": "aperture"}.get(
            next((c for c in given.text.casefold() if c in ":f"), ""), "clip_size"
        )
    if given.unit == "p" and given.value <= FASTEST:
        return "rate"
    by_unit = {"ev": "exposure", "il": "exposure", "lw": "exposure", "fps": "rate"}
    by_unit |= dict.fromkeys(("mbps", "mbit/s", "mbits", "mb/s", "mbit"), "bit_rate")
    if given.unit.startswith("k") and given.value >= 1000:
        return "kelvin"
    return by_unit.get(given.unit, "")


def _listed(camera: Body, dial: Dial, text: str) -> Fit:
    try:
        return Fit(Kind.TAKEN, {dial.id: dial.choice(text).value})
    except PlumError:
        listed = ", ".join(c.label for c in dial.choices)
        return Fit(Kind.LACKING, {}, f"{dial.label} is {listed} on {camera.name}.")


def kelvin(camera: Body, given: Token) -> Fit:
    """A colour temperature, which also says how white is balanced."""
    if "kelvin" not in camera.by_id:
        return _named_light(camera, given)
    fit = number(camera, camera.dial("kelvin"), given)
    implied: Values = {"white_balance": "kelvin"} if "white_balance" in camera.by_id else {}
    return Fit(fit.kind, fit.sets, fit.said, implied if fit.sets else {})


def _named_light(camera: Body, given: Token) -> Fit:
    """A colour temperature on a body that has lights by name alone."""
    dial = camera.dial("white_balance")
    if not 0 < given.value < LARGEST:
        return Fit(Kind.UNCLEAR, {}, f"{dial.label} cannot be {shortened(given.text, 20)}.")
    near = _lit(dial, 1e6 / given.value)
    away = abs(dial.choice(near).sets["light_mired"] - 1e6 / given.value)
    if away < 1:
        return Fit(Kind.TAKEN, {dial.id: near})
    said = f"{given.value:g} K is none of its lights; {printed(dial, near)} is nearest"
    return Fit(Kind.ROUNDED, {dial.id: near}, f"{said}, {away:.0f} mired away.")


def aperture(camera: Body, dial: Dial, value: float) -> Fit:
    """An f-number on a dial of apertures."""
    return _scaled(camera, dial, value, "aperture", f"f/{value:g}")


def time(camera: Body, dial: Dial, given: Token) -> Fit:
    """A slowest time."""
    return _scaled(camera, dial, given.value, "slowest", given.text)


def _scaled(camera: Body, dial: Dial, value: float, field_: str, text: str) -> Fit:
    places = {v: dial.choice(v).sets[field_] for v in dial.values if field_ in dial.choice(v).sets}
    if not 0 < value < LARGEST:
        return Fit(Kind.UNCLEAR, {}, f"{dial.label} cannot be {shortened(text, 20)}.")
    near = min(places, key=lambda v: abs(log2(places[v] / value)))
    off = abs(log2(places[near] / value))
    if off < 0.03:
        return Fit(Kind.TAKEN, {dial.id: near})
    said = f"{camera.name} has no {text} here; {printed(dial, near)} is nearest."
    return Fit(Kind.ROUNDED if off < 1 else Kind.NEAREST, {dial.id: near}, said)
