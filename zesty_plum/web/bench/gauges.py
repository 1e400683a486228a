"""Small drawings that belong to the line in hand: what a step of it moves. The figures are the
core's (`measure.gauges`); here they become places on a drawing, which a template of each gauge's
name draws as SVG."""

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from flask import render_template, url_for

from ...core.base.arrays import Array
from ...core.base.nominal import printed_iso, printed_kelvin
from ...core.colour.spaces import oklab_to_linear_srgb, srgb_encode
from ...core.develop import colouring
from ...core.look import Gauge
from ...core.measure import gauges
from ...core.measure.tones import tones
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ..render import address

Drawing = dict[str, Any]  # what a template asks for
WIDE = 208  # of a drawing, which is 168 high
TALL = 148  # of the tone curve's
# Where depths lie on the ring: hues, and families, of which two are one hue, pale and full.
DEPTHS = dict(
    zip(("red", "yellow", "green", "cyan", "blue", "magenta"), colouring.SIX, strict=True)
) | {"skin": 64.0, "fire": 28.0, "leaves": 126.0, "water": 242.0}
RING = np.array([WIDE / 2, 78.0])  # middle of the hue ring
RADIUS, MOST_CHROMA = 62.0, 0.28  # of the ring, and the chroma that reaches it
COOLEST, WARMEST = 90.0, 420.0  # mired at the ends of the scale of lights
KELVINS = (2500, 3200, 4000, 5500, 10000)
ENOUGH = 8  # code values a stop, below which steps show


def _hex(rgb: Array) -> str:
    return "#" + "".join(f"{round(255 * float(v)):02x}" for v in np.clip(rgb, 0, 1))


def _ring() -> list[tuple[float, float, float, float, str]]:
    """The circle of hues: its pieces, from and to, and their colours."""
    out = []
    for k in range(72):
        a, b = np.radians(5 * k), np.radians(5 * k + 5.4)
        lab = np.array([[0.72, 0.11 * np.cos(a), 0.11 * np.sin(a)]], np.float32)
        shade = _hex(srgb_encode(np.clip(oklab_to_linear_srgb(lab), 0, 1))[0])
        x, y = RING[0] + RADIUS * np.cos([a, b]), RING[1] - RADIUS * np.sin([a, b])
        out.append((float(x[0]), float(y[0]), float(x[1]), float(y[1]), shade))
    return out


def _curve(values: Sequence[float]) -> list[tuple[float, float]]:
    """A curve of outputs, 0..1, from the darkest stop to the lightest."""
    step = WIDE / (len(values) - 1)
    return [(k * step, TALL - 2 - v * (TALL - 6)) for k, v in enumerate(values)]


def tone(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """The tone curve, and the reference's, over the scene's histogram in stops."""
    found = tones(scene, recipe.look, shipped.look, recipe.camera.sensor)
    wide = WIDE / len(found.histogram)
    return {
        "label": "Tone curve of the recipe over the scene's histogram in stops",
        "bars": [(k * wide, TALL - 0.55 * TALL * v) for k, v in enumerate(found.histogram)],
        "before": _curve(found.before),
        "now": _curve(found.curve),
        "bands": [
            {"x": b.low * WIDE, "wide": max(3, (b.high - b.low) * WIDE), "name": b.name}
            for b in found.bands
        ],
    }


def hues(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """Colours of the scene around the hue ring: where they were as shipped, and where they are."""
    found = gauges.hues(scene, recipe.look, shipped.look, recipe.camera.sensor)
    moved = []
    for pair in zip(found.before, found.now, strict=True):
        ends = [RING + np.array([a, -b]) * RADIUS / MOST_CHROMA for a, b in pair]
        moved.append(tuple(float(v) for end in ends for v in end))
    more = found.grown - 1
    words = f"{abs(more):.0%} {'stronger' if more > 0 else 'weaker'} than shipped"
    if abs(more) < 0.01:
        words = "as strong as shipped"
    return {
        "label": f"The scene's colours on the hue ring: {words}",
        "ring": _ring(),
        "moved": moved,
        "chips": _depth_chips(recipe),
        "note": f"colour {words}",
    }


def _depth_chips(recipe: Recipe) -> list[Drawing]:
    """Depths of hues and families around the ring, each a way to its line."""
    chips = []
    for name, degrees in DEPTHS.items():
        dial = next((d for d in recipe.camera.dials if f"depth_{name}" in d.touches), None)
        if dial is None:
            continue
        printed = dial.choice(recipe.dials[dial.id]).label
        angle = np.radians(degrees)
        x, y = RING + RADIUS * np.array([np.cos(angle), -np.sin(angle)])
        chips.append(
            {
                "dial": dial.id,
                "words": f"{dial.label} {printed}",
                "printed": printed,
                "x": float(x),
                "y": float(y),
                "turned": recipe.dials[dial.id] != dial.default,
            }
        )
    return chips


def _warmth(mired: float) -> float:
    """Place of a light between cool and warm."""
    share = (min(max(mired, COOLEST), WARMEST) - COOLEST) / (WARMEST - COOLEST)
    return 8 + share * (WIDE - 16)


def _inside(x: float, room: float) -> float:
    """A place from which words of some width to both sides stay on the drawing."""
    return min(max(x, room), WIDE - room)


def _bar() -> list[tuple[float, str]]:
    """The bar from cool to warm: where its pieces begin, and their colours."""
    out = []
    for k in range(48):
        warm = (COOLEST + (WARMEST - COOLEST) * k / 47 - 190) / 230
        shade = _hex(np.array([0.80 + 0.16 * warm, 0.80 - 0.04 * abs(warm), 0.80 - 0.34 * warm]))
        out.append((8 + (WIDE - 16) * k / 48, shade))
    return out


def light(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """The scene's lights from cool to warm, and what the recipe takes for white."""
    del shipped
    found = gauges.white(scene, recipe.look)
    lamps = []
    for k, lamp in enumerate(found.lights[:3]):
        at = _warmth(1e6 / lamp.kelvin)
        words_at = _inside(at, 2.9 * len(lamp.kind))
        lamps.append({"at": at, "top": 44 - 14 * k, "kind": lamp.kind, "words_at": words_at})
    here, kelvin = _warmth(found.mired), printed_kelvin(found.mired)
    return {
        "label": f"White is taken at {kelvin}",
        "bar": _bar(),
        "kelvins": [(min(max(_warmth(1e6 / k), 16), WIDE - 14), k) for k in KELVINS],
        "lamps": lamps,
        "here": here,
        "words": f"white at {kelvin}",
        "words_at": _inside(here, 52),
        "off": _off_card(found.off_card),
        "duv": f"Duv {found.duv:+.3f}",
    }


def _off_card(mired: float | None) -> str:
    if mired is None:
        return ""
    if abs(mired) < 2:
        return "as the grey card says"
    # Taking a bluer light than the card's for white makes the picture warmer.
    return f"{abs(mired):.0f} mired {'warmer' if mired < 0 else 'cooler'} than by card"


def noise(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """Noise at mid grey against ISO, with the guard's floor, the second native ISO, and where this
    scene is."""
    del shipped
    law = gauges.noise_law(scene, recipe.look, recipe.camera.sensor)
    first, last, most = law.isos[0], law.isos[-1], float(law.deviations.max())

    def across(iso: float) -> float:
        return 8 + (WIDE - 16) * float(np.log2(iso / first) / np.log2(last / first))

    def up(deviation: float) -> float:
        return 140 - 118 * deviation / most

    known = law.iso is not None and law.here is not None
    words = (
        f"ISO {printed_iso(law.iso)} here" if law.iso else "No ISO is known of a finished picture"
    )
    return {
        "label": f"Noise at mid grey by ISO. {words}",
        "floor": None if law.floor is None else max(across(law.floor) - 8, 0),
        "line": [(across(i), up(d)) for i, d in zip(law.isos, law.deviations, strict=True)],
        "here": (across(law.iso or 1), up(law.here or 0)) if known else None,
        "second": (across(law.second_iso), f"{law.second_iso:.0f}") if law.second_iso else None,
        "first": f"{first:.0f}",
        "last": f"{last:.0f}",
        "words": words,
    }


def edge(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """An edge before and after clarity and sharpness."""
    del scene
    found = gauges.edge(recipe.look, shipped.look)

    def line(profile: Array) -> Any:
        x = np.linspace(0, WIDE, len(profile))
        return np.stack([x, 118 - (profile - 0.30) / 0.40 * 76], 1).tolist()

    words = f"overshoot {100 * found.overshoot:.1f} %, MTF50 {found.mtf50:.2f} cycles/pixel"
    lines = {"before": line(found.before), "now": line(found.now)}
    return {"label": f"An edge: {words}", "words": words, **lines}


def grain(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """A swatch of the scene at 100 percent with its grain, and the grain's figures."""
    del shipped
    look = recipe.look
    asked = address.look_query(recipe, width=str(2 * WIDE), detail="1")
    size = f"{look.grain_size:g} photosites across"
    words = f"RMS {100 * look.grain:.1f} %, {size}" if look.grain else "no grain"
    at = url_for("rendering.picture", scene_id=scene.id)
    return {"label": f"Grain at 100 percent: {words}", "swatch": f"{at}?{asked}", "words": words}


def codes(scene: Scene, recipe: Recipe, shipped: Recipe) -> Drawing:
    """Code values that each stop of light gets in the file."""
    del shipped
    found = gauges.codes(scene, recipe.look, recipe.camera.sensor)
    top = max(float(found.values.max()), 1)
    bars = [
        {
            "x": 8 + 19.4 * k,
            "high": 126 * max(float(value), 0) / top,
            "value": f"{value:.0f}",
            "stop": f"{stop:+.0f}",
            "enough": value >= ENOUGH,
        }
        for k, (stop, value) in enumerate(zip(found.stops, found.values, strict=True))
    ]
    span = "limited" if found.limited else "full"
    return {"label": f"code values a stop, {found.bits} bits, {span} range", "bars": bars}


DRAWN: dict[Gauge, Callable[[Scene, Recipe, Recipe], Drawing]] = {
    Gauge.TONE: tone,
    Gauge.HUES: hues,
    Gauge.LIGHT: light,
    Gauge.NOISE: noise,
    Gauge.EDGE: edge,
    Gauge.GRAIN: grain,
    Gauge.CODES: codes,
}


def drawn(kind: Gauge, scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """The gauge of a kind as SVG."""
    return render_template(f"gauges/{kind}.html", **DRAWN[kind](scene, recipe, shipped)).strip()
