"""All sums as a sheet: what each asks for, what follows, by which formula, and whose rule it is."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..errors import PlumError
from ..nominal import APERTURES, nearest, printed_iso, printed_time
from . import brackets, cards, codes, light, time, view

Values = Mapping[str, float]
Answers = list[tuple[str, str]]


@dataclass(frozen=True)
class Field:
    """Something that is asked for: its name, label with unit, and what stands in it first; `time`
    where it is written as 1/125, 20s or 2h, `free` where it may be left empty."""

    name: str
    label: str
    first: str
    time: bool = False
    free: bool = False


@dataclass(frozen=True)
class Sum:
    """A sum of the sheet."""

    id: str
    label: str
    fields: tuple[Field, ...]
    follows: Callable[[Values], Answers]
    formula: str
    rule: str


def _exposure(given: Values) -> Answers:
    """Of EV, aperture, time and ISO whichever is left empty."""
    asked = {"ev", "aperture", "time", "iso"} - given.keys()
    if len(asked) > 1:
        raise PlumError("Fill three of the four; the empty one follows.")
    if not asked or "ev" in asked:
        ev = light.ev100(given["aperture"], given["time"], given["iso"])
        return [("EV at ISO 100", f"{ev:.1f}"), ("light", f"{light.lux(ev):,.0f} lux")]
    ev = given["ev"]
    if "time" in asked:
        seconds = light.time_for(ev, given["aperture"], given["iso"])
        return [("time", f"{printed_time(seconds)} s")]
    if "aperture" in asked:
        squared = given["time"] * 2.0 ** (ev + math.log2(given["iso"] / 100))
        return [("aperture", f"f/{nearest(APERTURES, math.sqrt(squared)):g}")]
    iso = 100 * 2.0 ** (math.log2(given["aperture"] ** 2 / given["time"]) - ev)
    return [("ISO", printed_iso(iso))]


def _hand(given: Values) -> Answers:
    seconds = light.by_hand(given["focal"], given["crop"], given.get("stabilised", 0.0))
    return [("slowest time by hand", f"{printed_time(seconds)} s")]


def _movement(given: Values) -> Answers:
    smear = light.blur(*(given[k] for k in ("speed", "near", "focal", "time", "photosite")))
    near = "sharp in a large print" if smear <= 2 else "sharp on a screen"
    words = near if smear <= 12 else "soft"
    return [("it moves", f"{smear:.0f} photosites: {words}")]


def _filter(given: Values) -> Answers:
    seconds = time.by_angle(given["rate"], given.get("angle", 180.0))
    found = light.filter_for(given["ev"], given["aperture"], given["iso"], seconds)
    bag = f"ND{2**found.sold}, then {abs(found.rest):.1f} stops by the aperture"
    return [
        ("time", f"{printed_time(seconds)} s"),
        ("grey filter", f"{max(0.0, found.stops):.1f} stops"),
        ("in the bag", bag if found.sold else "none"),
    ]


def _grey(given: Values) -> Answers:
    factor = given["factor"]
    return [
        ("stops", f"{light.stops_of(factor):.2f}"),
        ("density", f"{light.density_of(factor):.2f}"),
    ]


def _flicker(given: Values) -> Answers:
    listed = ", ".join(f"1/{round(1 / t)}" for t in time.safe_times(given["mains"])[:6])
    out = [("times that do not band", listed)]
    if "rate" in given:
        drifts = time.drifts(given["mains"], given["rate"])
        out.append(("this rate", "drifts" if drifts else "stands still"))
    return out


def _slow(given: Values) -> Answers:
    found = time.slower(given["record"], given["timeline"], given.get("seconds", 1.0))
    return [
        ("slower by", f"{found.factor:g} times, {100 / found.factor:.0f} % speed"),
        ("it lasts", f"{found.seconds:.1f} s"),
    ]


def _card(given: Values) -> Answers:
    out = []
    if "mbps" in given:
        paper, usable = cards.minutes(given["gigabytes"], given["mbps"])
        out.append(("clips", f"{usable:.0f} min, {paper:.0f} on paper"))
        out.append(("the card should sustain", f"{cards.SPARE * given['mbps'] / 8:.0f} MB/s"))
    if "megabytes" in given:
        out.append(("pictures", f"{cards.files(given['gigabytes'], given['megabytes']):,}"))
    if not out:
        raise PlumError("Fill Mbit/s for clips, or MB for pictures.")
    return out


def _bracket(given: Values) -> Answers:
    listed = brackets.printed_bracket(given["time"], int(given["frames"]), given["step"])
    total = brackets.total_seconds(given["time"], int(given["frames"]), given["step"])
    return [("times", ", ".join(listed)), ("open together", f"{total:.2g} s")]


def _balance(given: Values) -> Answers:
    made = brackets.balance(given["kelvin"], given["mired"], int(given["frames"]))
    return [("kelvins", ", ".join(f"{round(k, -1):.0f}" for k in made))]


def _guard(given: Values) -> Answers:
    return [("least ISO", printed_iso(light.guard_iso(given["base"], given["stops"])))]


def _index(given: Values) -> Answers:
    found = light.at_index(given["base"], given["above"], given["index"])
    return [("stops above mid grey", f"{found.above:.1f}"), ("below", f"{found.below:.1f}")]


def _view(given: Values) -> Answers:
    focal = view.same_view(given["focal"], given["from"], given["to"])
    out = [("focal length", f"{focal:.0f} mm")]
    if "aperture" in given:
        depth = view.same_depth(given["aperture"], given["from"], given["to"])
        out.append(("aperture for the same depth", f"f/{nearest(APERTURES, depth):g}"))
    return out


def _lapse(given: Values) -> Answers:
    found = time.lapse(given["clip"], given["rate"], given["over"])
    out = [("frames", f"{found.frames:,}"), ("interval", f"{found.interval:.1f} s")]
    if "open" in given and given["open"] >= found.interval:
        out.append(("but", "a frame is open longer than the interval"))
    return out


def _codes(given: Values) -> Answers:
    bits = int(given["bits"])
    return [
        (curve, f"{codes.codes(curve, bits, 'full'):.0f}, grey at {codes.grey_level(curve):.0f} %")
        for curve in codes.curves()
    ]


def _focus(given: Values) -> Answers:
    circle = given["circle"] / 1000
    frames = view.focus_frames(given["spread"], given["aperture"], circle)
    depth = view.depth_in_image(given["aperture"], circle)
    return [("frames", f"{frames}"), ("depth of one behind the lens", f"{depth:.3f} mm")]


def _pixels(given: Values) -> Answers:
    left = view.cropped(given["megapixels"], given["crop"])
    wide = math.sqrt(left * 1.5e6)
    return [
        ("left of it", f"{left:.1f} megapixels"),
        ("printed at 300 an inch", f"{view.print_size(round(wide)):.0f} cm wide"),
    ]


_TIME = Field("time", "time", "1/125", time=True)
_RATE = Field("rate", "pictures a second", "25")
_ISO = Field("iso", "ISO", "100")
_F = Field("aperture", "f-number", "2.8")
_FOCAL, _CROP = Field("focal", "lens, mm", "50"), Field("crop", "crop factor", "1.5")
SHEET = (
    Sum(
        *("ev", "Exposure"),
        (
            Field("ev", "EV at ISO 100", "", free=True),
            Field("aperture", "f-number", "2.8", free=True),
            Field("time", "time", "1/125", time=True, free=True),
            Field("iso", "ISO", "3200", free=True),
        ),
        _exposure,
        "EV = log₂(N² / t) − log₂(ISO / 100)",
        "ISO 2720. Leave one empty, it follows.",
    ),
    Sum(
        *("hand", "By hand"),
        (_FOCAL, _CROP, Field("stabilised", "stops of stabilisation", "0", free=True)),
        _hand,
        "t = 2^stops / (f × crop)",
        "A rule of thumb; what moves may ask for less.",
    ),
    Sum(
        *("movement", "Movement"),
        (
            Field("speed", "across, m/s", "1.5"),
            Field("near", "distance, m", "5"),
            _FOCAL,
            _TIME,
            Field("photosite", "photosite, µm", "6"),
        ),
        _movement,
        "v × t × f / (distance − f)",
        "One or two photosites for a large print, more for a screen.",
    ),
    Sum(
        *("filter", "Filter for a clip"),
        (Field("ev", "EV of the light", "15"), _F, _ISO, _RATE, Field("angle", "angle", "180")),
        _filter,
        "stops = EV + log₂(ISO / 100) − log₂(N² / t)",
        "A grey filter is no sun filter.",
    ),
    Sum(
        *("grey", "Grey filter"),
        (Field("factor", "factor", "64"),),
        _grey,
        "stops = log₂(factor), density = log₁₀(factor)",
        "",
    ),
    Sum(
        *("flicker", "Flicker"),
        (Field("mains", "mains, Hz", "50"), Field("rate", "pictures a second", "25", free=True)),
        _flicker,
        "t = n / (2 × mains)",
        "Lamps flicker at twice the mains; LED drivers at anything: try first.",
    ),
    Sum(
        *("slow", "Slow motion"),
        (
            Field("record", "recorded rate", "100"),
            Field("timeline", "timeline rate", "25"),
            Field("seconds", "recorded", "10s", time=True),
        ),
        _slow,
        "recorded / timeline",
        "Sound is usually lost.",
    ),
    Sum(
        *("card", "Card"),
        (
            Field("gigabytes", "GB", "256"),
            Field("mbps", "Mbit/s of clips", "100", free=True),
            Field("megabytes", "MB a picture", "36.5", free=True),
        ),
        _card,
        "min = GB × 8000 / Mbit/s / 60 × 0.95",
        "A card counts 10⁹ bytes a GB; about 95 % can be used.",
    ),
    Sum(
        *("bracket", "Exposure bracket"),
        (_TIME, Field("frames", "frames", "7"), Field("step", "step, stops", "1")),
        _bracket,
        "t × 2^(k × step)",
        "",
    ),
    Sum(
        *("balance", "White-balance bracket"),
        (
            Field("kelvin", "kelvin", "5000"),
            Field("mired", "step, mired", "30"),
            Field("frames", "frames", "3"),
        ),
        _balance,
        "10⁶ / (10⁶ / K ± n × step)",
        "Steps are even in mired, not in kelvin.",
    ),
    Sum(
        *("guard", "Guard"),
        (Field("base", "base ISO", "125"), Field("stops", "stops of guard", "2")),
        _guard,
        "ISO = base × 2^stops",
        "A lower automatic minimum is raised silently.",
    ),
    Sum(
        *("index", "Exposure index"),
        (
            Field("base", "base ISO", "800"),
            Field("above", "stops above at base", "6"),
            Field("index", "index", "320"),
        ),
        _index,
        "above + log₂(index / base)",
        "A lower index gives cleaner shadows and clips earlier.",
    ),
    Sum(
        *("view", "The same view"),
        (
            Field("focal", "lens, mm", "35"),
            Field("from", "crop here", "1.5"),
            Field("to", "crop there", "1"),
            Field("aperture", "f-number", "2.8", free=True),
        ),
        _view,
        "f × crop / crop",
        "Exposure stays as it is.",
    ),
    Sum(
        *("lapse", "Time lapse"),
        (
            Field("clip", "clip", "20s", time=True),
            _RATE,
            Field("over", "what is filmed lasts", "2h", time=True),
            Field("open", "a frame is open", "", time=True, free=True),
        ),
        _lapse,
        "interval = event / (frames − 1)",
        "A dark frame after each doubles its time.",
    ),
    Sum(
        *("focus", "Focus bracket"),
        (
            Field("spread", "range behind the lens, mm", "0.5"),
            Field("aperture", "f-number", "8"),
            Field("circle", "circle of confusion, µm", "10"),
        ),
        _focus,
        "frames = range / (2 N c)",
        "",
    ),
    Sum(
        *("pixels", "Crop and print"),
        (Field("megapixels", "megapixels", "24"), _CROP),
        _pixels,
        "MP / crop²",
        "",
    ),
    Sum(
        *("codes", "Code values of a stop"),
        (Field("bits", "bits", "8"),),
        _codes,
        "(encode(0.36) − encode(0.18)) × (2^bits − 1)",
        "Between mid grey and a stop above it.",
    ),
)
BY_ID = {one.id: one for one in SHEET}
