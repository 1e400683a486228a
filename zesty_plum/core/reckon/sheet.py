"""All sums as a sheet: what each asks for, what follows, by which formula, and whose rule it is."""

import math

from ..base.nominal import printed_iso, printed_kelvin, printed_time
from ..bodies import bodies
from . import brackets, cards, codes, light, natives, sun, time, view
from .solve import Answers, Field, Sum, Values, aperture, duration, number


def _iso(value: float) -> str:
    return printed_iso(value)


def _whole(value: float) -> str:
    return f"{math.floor(value + 1e-9):,}".replace(",", " ")


def _kelvin(value: float) -> str:
    return printed_kelvin(1e6 / value)


def _up(value: float) -> str:
    return str(math.ceil(value - 1e-9))


def _tenth(value: float) -> str:
    return f"{value:.1f}"


def _nothing(_: Values) -> Answers:
    return []


TIME = Field("time", "time, s", "1/125", 1e-5, 3600, duration, time=True)
RATE = Field("rate", "pictures a second", "25", 1, 1000)
ISO = Field("iso", "ISO", "100", 12, 1e6, _iso)
NUMBER = Field("aperture", "f-number", "2.8", 0.7, 64, aperture)
FOCAL = Field("focal", "lens, mm", "50", 2, 2000)
CROP = Field("crop", "crop factor", "1.5", 0.2, 8)
EV = Field("ev", "EV at ISO 100", "15", -8, 22, _tenth)
GIGABYTES = Field("gigabytes", "card, GB", "256", 0.5, 8000)


def _filter(v: Values) -> Answers:
    found = light.filter_for(v["ev"], v["aperture"], v["iso"], _frame(v))
    bag = f"ND{2**found.sold}, then {abs(found.rest):.1f} stops by the aperture"
    return [
        ("open for", f"{printed_time(_frame(v))} s"),
        ("in the bag", bag if found.sold else "none"),
    ]


def _frame(v: Values) -> float:
    return time.by_angle(v["rate"], v.get("angle", 180.0))


def _movement(v: Values) -> Answers:
    smear = v["smear"]
    near = "sharp in a large print" if smear <= 2 else "sharp on a screen"
    return [("that is", near if smear <= 12 else "soft")]


def _flicker(v: Values) -> Answers:
    listed = ", ".join(f"1/{round(1 / t)}" for t in time.safe_times(v["mains"])[:6])
    out = [("times that do not band", listed)]
    if "rate" in v:
        drifts = time.drifts(v["mains"], v["rate"])
        out.append(("this rate", "drifts" if drifts else "stands still"))
    return out


def _index(v: Values) -> Answers:
    moved = light.at_index(v["base"], v["above"], v["index"]).above - v["above"]
    side = "brighter" if moved > 0 else "darker"
    return [("shadows get", f"{abs(moved):.1f} stops {'less' if moved > 0 else 'more'}"),
            ("the editor's LUT", f"{abs(moved):.1f} stops {side}")]  # fmt: skip


def _natives(v: Values) -> Answers:
    out = []
    for body in bodies().values():
        sensor = body.sensor
        if not sensor.second_iso:
            continue
        second = printed_iso(sensor.second_iso)
        for words, stops in (("greys", 0.0), ("shadows", -natives.SHADOW)):
            here = natives.signal_to_noise(sensor, v["iso"], stops)
            there = natives.signal_to_noise(sensor, sensor.second_iso, stops)
            out.append((f"{body.name}, {words}", f"noise 1/{here:.0f}, at {second} 1/{there:.0f}"))
        grey, dark = (natives.better_from(sensor, s) for s in (0.0, -natives.SHADOW))
        out.append((f"{second} is cleaner", f"from {grey:.0f}, in shadows from {dark:.0f}"))
    return out or [("", "No camera here has two native ISOs.")]


def _slower(v: Values) -> str:
    factor = v["record"] / v["timeline"]
    return f"{factor:g} times, {100 / factor:.0f} % speed"


def _lapse(v: Values) -> Answers:
    if v.get("open", 0.0) >= v["interval"]:
        return [("but", "a frame is open longer than the interval")]
    return []


def _codes(v: Values) -> Answers:
    bits = int(v["bits"])
    return [
        (curve, f"{codes.codes(curve, bits, 'full'):.0f}, grey at {codes.grey_level(curve):.0f} %")
        for curve in codes.curves()
    ]


def _sun(v: Values) -> Answers:
    day = sun.day(sun.Place(v["latitude"], v["longitude"], v["zone"]), sun.date_of(v["date"]))
    times = {"dawn": day.dawn, "rise": day.rise, "set": day.set, "dusk": day.dusk}
    none = "stays up" if day.up else "stays down"
    return [(name, at.strftime("%H:%M") if at else none) for name, at in times.items()]


def _write(v: Values) -> Answers:
    return [(f"V{c}", f"{c * 8 / cards.SPARE:.0f} Mbit/s at most") for c in (30, 60, 90)]


SHEET = (
    Sum(
        *("ev", "Exposure"),
        (NUMBER, TIME, Field("iso", "ISO", "3200", 12, 1e6, _iso)),
        (EV,),
        lambda v: {"ev": light.ev100(v["aperture"], v["time"], v["iso"])},
        lambda v: [("light", f"{light.lux(v['ev']):,.0f} lux")],
        "EV = log₂(N² / t) − log₂(ISO / 100)",
        "ISO 2720.",
    ),
    Sum(
        *("hand", "By hand"),
        (FOCAL, CROP, Field("stabilised", "stops of stabilisation", "0", 0, 12)),
        (TIME,),
        lambda v: {"time": light.by_hand(v["focal"], v["crop"], v["stabilised"])},
        _nothing,
        "t = 2^stops / (f × crop)",
        "A rule of thumb; what moves may ask for less.",
    ),
    Sum(
        *("movement", "Movement"),
        (
            Field("speed", "across, m/s", "1.5", 0.001, 400),
            Field("near", "distance, m", "5", 0.05, 1e5),
            FOCAL,
            TIME,
            Field("photosite", "photosite, µm", "6", 0.5, 30),
        ),
        (Field("smear", "smear, photosites", "", 0.01, 1e6),),
        lambda v: {
            "smear": light.blur(*(v[k] for k in ("speed", "near", "focal", "time", "photosite")))
        },
        _movement,
        "v × t × f / (distance − f)",
        "One or two photosites for a large print, more for a screen.",
    ),
    Sum(
        *("angle", "Shutter angle"),
        (RATE, Field("angle", "angle", "180", 1, 360)),
        (TIME,),
        lambda v: {"time": time.by_angle(v["rate"], v["angle"])},
        _nothing,
        "t = angle / 360 / rate",
        "180° is the usual one; less is crisper, more is softer.",
    ),
    Sum(
        *("filter", "Filter for a clip"),
        (EV, NUMBER, ISO, RATE, Field("angle", "angle", "180", 1, 360)),
        (Field("stops", "grey filter, stops", "", -10, 20, _tenth),),
        lambda v: {"stops": light.filter_for(v["ev"], v["aperture"], v["iso"], _frame(v)).stops},
        _filter,
        "stops = EV + log₂(ISO / 100) − log₂(N² / t)",
        "A grey filter is no sun filter.",
    ),
    Sum(
        *("grey", "Grey filter"),
        (Field("factor", "factor", "64", 1, 1e6, number),),
        (Field("grey", "stops", "", 0, 20), Field("density", "density", "", 0, 6)),
        lambda v: {"grey": light.stops_of(v["factor"]), "density": light.density_of(v["factor"])},
        _nothing,
        "stops = log₂(factor), density = log₁₀(factor)",
        "",
    ),
    Sum(
        *("flicker", "Flicker"),
        (
            Field("mains", "mains, Hz", "50", 40, 70),
            Field("rate", "pictures a second", "25", 1, 1000, free=True),
        ),
        (),
        lambda v: {},
        _flicker,
        "t = n / (2 × mains)",
        "Lamps flicker at twice the mains; LED drivers at anything: try first.",
    ),
    Sum(
        *("slow", "Slow motion"),
        (
            Field("record", "recorded rate", "100", 1, 10000),
            Field("timeline", "timeline rate", "25", 1, 1000),
            Field("seconds", "recorded, s", "10s", 0.01, 86400, duration, time=True),
        ),
        (Field("lasts", "it lasts, s", "", 0.01, 1e6, duration, time=True),),
        lambda v: {"lasts": time.slower(v["record"], v["timeline"], v["seconds"]).seconds},
        lambda v: [
            (
                "slower by",
                _slower(v),
            )
        ],
        "recorded / timeline",
        "Sound is usually lost.",
    ),
    Sum(
        *("card", "Card, clips"),
        (GIGABYTES, Field("mbps", "Mbit/s", "100", 1, 5000)),
        (Field("minutes", "minutes", "", 0.01, 1e6, _whole),),
        lambda v: {"minutes": cards.minutes(v["gigabytes"], v["mbps"])[1]},
        lambda v: [("on paper", f"{cards.minutes(v['gigabytes'], v['mbps'])[0]:.0f} min")],
        "min = GB × 8000 / Mbit/s / 60 × 0.95",
        "A card counts 10⁹ bytes a GB; about 95 % can be used.",
    ),
    Sum(
        *("files", "Card, pictures"),
        (
            Field("gigabytes", "card, GB", "64", 0.5, 8000),
            Field("megabytes", "MB a picture", "36.5", 0.1, 1000),
        ),
        (Field("frames", "pictures", "", 1, 1e7, _whole),),
        lambda v: {"frames": cards.files(v["gigabytes"], v["megabytes"])},
        _nothing,
        "GB × 1000 × 0.95 / MB",
        "Two cards hold as one when both take the same, as their sum in turn.",
    ),
    Sum(
        *("speed", "Card, writing"),
        (Field("mbps", "clips, Mbit/s", "200", 1, 5000),),
        (Field("sustained", "the card sustains, MB/s", "", 0.1, 5000),),
        lambda v: {"sustained": v["mbps"] * cards.SPARE / 8},
        _write,
        "MB/s × 8 ≥ 1.2 × Mbit/s",
        "By what a card sustains, not by what is printed large on it.",
    ),
    Sum(
        *("battery", "Battery"),
        (
            Field("charge", "pictures a charge", "380", 1, 20000),
            Field("frames", "pictures", "900", 0, 1e6),
            Field("minutes", "minutes of clips", "20", 0, 1e5),
        ),
        (Field("batteries", "batteries", "", 0.01, 1e4, _tenth),),
        lambda v: {"batteries": (v["frames"] + cards.BATTERY_CLIPS * v["minutes"]) / v["charge"]},
        _nothing,
        "(pictures + 5 × minutes) / charge",
        "Count a charge of your own; in the cold it gives less.",
    ),
    Sum(
        *("bracket", "Exposure bracket"),
        (
            TIME,
            Field("frames", "frames", "7", 1, 99, puts="bracket"),
            Field("step", "step, stops", "1", 0.1, 10),
        ),
        (Field("shortest", "shortest time, s", "", 1.2e-4, 3600, duration, time=True),),
        lambda v: {"shortest": brackets.exposure(v["time"], int(v["frames"]), v["step"])[0]},
        lambda v: [
            ("times", ", ".join(brackets.printed_bracket(v["time"], int(v["frames"]), v["step"])))
        ],
        "t × 2^(k × step)",
        "",
    ),
    Sum(
        *("balance", "White-balance bracket"),
        (
            Field("kelvin", "kelvin", "5000", 1000, 50000),
            Field("mired", "step, mired", "30", 0.1, 200, puts="step"),
            Field("frames", "frames", "3", 1, 99, puts="bracket"),
        ),
        (Field("lowest", "lowest of them, kelvin", "", 500, 50000, _kelvin),),
        lambda v: {"lowest": brackets.balance(v["kelvin"], v["mired"], int(v["frames"]))[0]},
        lambda v: [
            (
                "kelvins",
                ", ".join(
                    printed_kelvin(1e6 / k)
                    for k in brackets.balance(v["kelvin"], v["mired"], int(v["frames"]))
                ),
            )
        ],
        "10⁶ / (10⁶ / K ± n × step)",
        "Steps are even in mired, not in kelvin.",
    ),
    Sum(
        *("mired", "Kelvin and mired"),
        (Field("kelvin", "kelvin", "5000", 1000, 50000, _kelvin),),
        (Field("mired", "mired", "", 20, 1000),),
        lambda v: {"mired": 1e6 / v["kelvin"]},
        lambda v: [("10 mired less", printed_kelvin(v["mired"] - 10))],
        "10⁶ / K",
        "A camera set to a higher kelvin makes a warmer picture.",
    ),
    Sum(
        *("guard", "Guard"),
        (
            Field("base", "base ISO", "125", 12, 1e5),
            Field("stops", "stops of guard", "2", 0, 6, _tenth, puts="guard"),
        ),
        (Field("iso", "least ISO", "", 12, 1e6, _iso),),
        lambda v: {"iso": light.guard_iso(v["base"], v["stops"])},
        _nothing,
        "ISO = base × 2^stops",
        "A lower automatic minimum is raised silently. A raw can lose guard later, not gain it.",
    ),
    Sum(
        *("index", "Exposure index"),
        (
            Field("base", "base ISO", "800", 12, 1e5),
            Field("above", "stops above at base", "6", 0, 16, _tenth),
            Field("index", "index", "320", 12, 1e6, _iso),
        ),
        (Field("room", "stops above mid grey", "", -10, 30, _tenth),),
        lambda v: {"room": light.at_index(v["base"], v["above"], v["index"]).above},
        _index,
        "above + log₂(index / base)",
        "A lower index gives cleaner shadows and clips earlier.",
    ),
    Sum(
        *("natives", "Two native ISOs"),
        (Field("iso", "ISO", "2000", 12, 1e6, _iso),),
        (),
        lambda v: {},
        _natives,
        "S / √(S + r²)",
        "Just under the second native ISO is the worst place.",
    ),
    Sum(
        *("view", "The same view"),
        (
            FOCAL,
            Field("from", "crop here", "1.5", 0.2, 8),
            Field("to", "crop there", "1", 0.2, 8),
            NUMBER,
        ),
        (
            Field("there", "lens there, mm", "", 1, 5000),
            Field("depth", "f-number there", "", 0.3, 128, aperture),
        ),
        lambda v: {
            "there": view.same_view(v["focal"], v["from"], v["to"]),
            "depth": view.same_depth(v["aperture"], v["from"], v["to"]),
        },
        _nothing,
        "f × crop / crop, N × crop / crop",
        "The same depth of field; exposure stays as it is.",
    ),
    Sum(
        *("lapse", "Time lapse"),
        (
            Field("clip", "clip, s", "20s", 0.1, 3600, duration, time=True, puts="lapse"),
            RATE,
            Field("over", "what is filmed lasts", "2h", 1, 1e6, duration, time=True),
            Field("open", "a frame is open", "", 1e-5, 3600, time=True, free=True),
        ),
        (Field("interval", "interval, s", "", 0.01, 1e6, _tenth),),
        lambda v: {"interval": time.lapse(v["clip"], v["rate"], v["over"]).interval},
        lambda v: [
            ("frames", f"{time.lapse(v['clip'], v['rate'], v['over']).frames:,}"),
            *_lapse(v),
        ],
        "interval = event / (frames − 1)",
        "A dark frame after each doubles its time.",
    ),
    Sum(
        *("focus", "Focus bracket"),
        (
            Field("spread", "range behind the lens, mm", "0.5", 1e-4, 100),
            Field("aperture", "f-number", "8", 0.7, 64, aperture),
            Field("circle", "circle of confusion, µm", "10", 0.5, 100),
        ),
        (Field("many", "frames", "", 0.01, 1e6, _up),),
        lambda v: {"many": v["spread"] / view.depth_in_image(v["aperture"], v["circle"] / 1000)},
        lambda v: [
            ("depth of one", f"{view.depth_in_image(v['aperture'], v['circle'] / 1000):.3f} mm")
        ],
        "frames = range / (2 N c)",
        "",
    ),
    Sum(
        *("pixels", "Crop and print"),
        (Field("megapixels", "megapixels", "24", 0.1, 1000), CROP),
        (Field("left", "left of it, megapixels", "", 0.01, 1000, _tenth),),
        lambda v: {"left": view.cropped(v["megapixels"], v["crop"])},
        lambda v: [
            (
                "printed at 300 an inch",
                f"{view.print_size(round(math.sqrt(v['left'] * 1.5e6))):.0f} cm wide",
            )
        ],
        "MP / crop²",
        "Of a frame of 3 to 2.",
    ),
    Sum(
        *("sun", "Sun"),
        (
            Field("date", "day", "2026-11-07", word=True),
            Field("latitude", "degrees north", "54.3", -90, 90),
            Field("longitude", "degrees east", "10.1", -180, 180),
            Field("zone", "time zone", "Europe/Berlin", word=True),
        ),
        (),
        lambda v: {},
        _sun,
        "NOAA, after Meeus",
        "Hills and houses are not in it.",
    ),
    Sum(
        *("codes", "Code values of a stop"),
        (Field("bits", "bits", "8", 8, 16),),
        (),
        lambda v: {},
        _codes,
        "(encode(0.36) − encode(0.18)) × (2^bits − 1)",
        "Between mid grey and a stop above it.",
    ),
)
BY_ID = {one.id: one for one in SHEET}
