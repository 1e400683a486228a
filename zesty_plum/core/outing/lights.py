"""How bright and of what colour the lights are in which people work.

Exposure values at ISO 100 are those of the exposure tables that were printed on film boxes and in
ANSI PH2.7 (1986): a bright day f/16 at 1/100, and so on down; indoors they are means of wide
ranges, and measuring goes before them.
"""

from dataclasses import dataclass

OUT = "out of doors"
WEATHERS = {
    "clear": 0.0,
    "broken cloud": -1.0,
    "overcast": -2.5,
    "fog": -3.0,
    "snow": 0.5,
    "under a roof": -4.0,
}
# EV100 of a clear sky by band of the sun, and kelvin from, to.
BANDS = {
    "day": (15.0, 5200, 5800),
    "low sun": (12.5, 3000, 4500),
    "dawn": (7.0, 7000, 12000),
    "dusk": (7.0, 7000, 12000),
    "night": (-1.0, 3000, 4000),
}
DULL = (6000, 7500)  # kelvin under cloud
# The scene that shows a light, by its group.
SHOWN = {
    "sun": "beach",
    "shade": "painters",
    "dusk": "jetty",
    "lamps": "workshop",
    "night": "procession",
}


@dataclass(frozen=True)
class Light:
    """A light: its name, EV100, kelvin from and to, whether it flickers with the mains, the group
    of scenes that looks like it, and of daylight the sun's band."""

    id: str
    label: str
    ev100: float
    kelvins: tuple[int, int]
    mains: bool
    group: str
    band: str = ""


_INDOORS = (
    ("shade", "open shade", 12.0, 6500, 8000, False, "shade"),
    ("window", "a window", 8.0, 5500, 7000, False, "shade"),
    ("lamps", "lamps", 5.5, 2600, 3000, True, "lamps"),
    ("tubes", "tubes", 7.0, 3800, 4500, True, "lamps"),
    ("led", "LED panels", 7.0, 3000, 5600, True, "lamps"),
    ("candles", "candles", 3.5, 1850, 2000, False, "night"),
    ("lanterns", "lanterns", 2.5, 2200, 2700, False, "night"),
    ("street", "street lamps", 3.0, 2200, 4000, True, "night"),
    ("stage", "a stage", 7.5, 2900, 5600, True, "night"),
    ("mixed", "lamps and daylight", 7.0, 2800, 6500, True, "lamps"),
)
FIXED = {name: Light(name, label, ev, (a, b), m, g) for name, label, ev, a, b, m, g in _INDOORS}


def kinds() -> dict[str, str]:
    """All kinds of light by id, in words; out of doors first, where the sun says."""
    return {"out": OUT, **{light.id: light.label for light in FIXED.values()}}


def out_of_doors(band: str, weather: str) -> Light:
    """Daylight by the sun's band and the weather."""
    ev, low, high = BANDS[band]
    less = WEATHERS.get(weather, 0.0) if band != "night" else 0.0
    dull = weather in ("overcast", "fog", "under a roof") and band == "day"
    kelvins = DULL if dull else (low, high)
    group = {"day": "shade" if dull else "sun", "night": "night"}.get(band, "dusk")
    return Light("out", f"{band}, {weather}", ev + less, kelvins, False, group, band)
