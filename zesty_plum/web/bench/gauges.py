"""Small drawings that belong to the line in hand: what a step of it moves, as SVG. The figures are
the core's (`measure.gauges`)."""

from collections.abc import Callable
from html import escape

import numpy as np

from ...core.base.arrays import Array
from ...core.base.nominal import printed_iso, printed_kelvin
from ...core.colour.spaces import oklab_to_linear_srgb, srgb_encode
from ...core.develop import colouring
from ...core.look import Gauge
from ...core.measure import gauges
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ..render import address

WIDE, HIGH = 208, 168
# Colours of the theme.
PLUM, ZEST, SOFT, FAINT = (f"var(--color-{name})" for name in ("plum", "zest", "soft", "edge"))
PAPER, INK, WHITE, HAIR = (f"var(--color-{name})" for name in ("paper", "ink", "white", "hair"))
SIX_NAMES = ("red", "yellow", "green", "cyan", "blue", "magenta")  # of `colouring.SIX`
RING = np.array([WIDE / 2, 78.0])  # middle of the hue ring
RADIUS, MOST_CHROMA = 62.0, 0.28  # of the ring, and the chroma that reaches it
COOLEST, WARMEST = 90.0, 420.0  # mired at the ends of the scale of lights
KELVINS = (2500, 3200, 4000, 5500, 10000)


def _text(x: float, y: float, words: str, anchor: str = "start", fill: str = SOFT) -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="11" text-anchor="{anchor}" '
        f'fill="{fill}">{escape(words)}</text>'
    )


def _path(points: Array, stroke: str, width: float = 2.2, dashes: str = "") -> str:
    steps = "L".join(f"{x:.1f} {y:.1f}" for x, y in points)
    dashed = f' stroke-dasharray="{dashes}"' if dashes else ""
    return f'<path d="M{steps}" fill="none" stroke="{stroke}" stroke-width="{width}"{dashed}/>'


def _drawing(words: str, *parts: str, role: str = "img") -> str:
    label = escape(words, quote=True)
    return (
        f'<svg class="curve" viewBox="0 0 {WIDE} {HIGH}" role="{role}" '
        f'aria-label="{label}">{"".join(parts)}</svg>'
    )


def _hex(rgb: Array) -> str:
    return "#" + "".join(f"{round(255 * float(v)):02x}" for v in np.clip(rgb, 0, 1))


def _ring() -> list[str]:
    """The circle of hues."""
    parts = []
    for k in range(72):
        a, b = np.radians(5 * k), np.radians(5 * k + 5.4)
        lab = np.array([[0.72, 0.11 * np.cos(a), 0.11 * np.sin(a)]], np.float32)
        colour = _hex(srgb_encode(np.clip(oklab_to_linear_srgb(lab), 0, 1))[0])
        x, y = RING[0] + RADIUS * np.cos([a, b]), RING[1] - RADIUS * np.sin([a, b])
        parts.append(
            f'<path d="M{x[0]:.1f} {y[0]:.1f}L{x[1]:.1f} {y[1]:.1f}" stroke="{colour}" '
            'stroke-width="7"/>'
        )
    return parts


def hues(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Colours of the scene around the hue ring: where they were as shipped, and where they are."""
    found = gauges.hues(scene, recipe.look, shipped.look, recipe.camera.sensor)
    dots = []
    for pair in zip(found.before, found.now, strict=True):
        (x0, y0), (x1, y1) = (RING + np.array([a, -b]) * RADIUS / MOST_CHROMA for a, b in pair)
        dots.append(
            f'<path d="M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}" stroke="{FAINT}" stroke-width="1.2"/>'
            f'<circle cx="{x1:.1f}" cy="{y1:.1f}" r="2.4" fill="{PLUM}"/>'
        )
    more = found.grown - 1
    words = f"{abs(more):.0%} {'stronger' if more > 0 else 'weaker'} than shipped"
    if abs(more) < 0.01:
        words = "as strong as shipped"
    chips = _depth_chips(recipe)
    note = _text(4, 165, f"colour {words}")
    label = f"The scene's colours on the hue ring: {words}"
    return _drawing(label, *_ring(), *dots, *chips, note, role="group" if chips else "img")


def _depth_chips(recipe: Recipe) -> list[str]:
    """Depth of six hues around the ring, each a way to its line, for bodies that have it."""
    chips = []
    for name, degrees in zip(SIX_NAMES, colouring.SIX, strict=True):
        dial = next((d for d in recipe.camera.dials if f"depth_{name}" in d.touches), None)
        if dial is None:
            continue
        printed = dial.choice(recipe.dials[dial.id]).label
        angle = np.radians(degrees)
        x, y = RING + RADIUS * np.array([np.cos(angle), -np.sin(angle)])
        words = escape(f"{dial.label} {printed}", quote=True)
        turned = recipe.dials[dial.id] != dial.default
        fill, ink = (PLUM, WHITE) if turned else (PAPER, INK)
        chips.append(
            f'<g data-line="{dial.id}" role="button" tabindex="0" '
            f'aria-label="{words}"><title>{words}</title>'
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="12" fill="{fill}" stroke="{SOFT}"/>'
            f"{_text(x, y + 4, printed, 'middle', ink)}</g>"
        )
    return chips


def _warmth(mired: float) -> float:
    """Place of a light between cool and warm."""
    share = (min(max(mired, COOLEST), WARMEST) - COOLEST) / (WARMEST - COOLEST)
    return 8 + share * (WIDE - 16)


def _inside(x: float, room: float) -> float:
    """A place from which words of some width to both sides stay on the drawing."""
    return min(max(x, room), WIDE - room)


def _lights_scale() -> list[str]:
    """A bar from cool to warm with kelvin below."""
    parts = []
    for k in range(48):
        warm = (COOLEST + (WARMEST - COOLEST) * k / 47 - 190) / 230
        colour = _hex(np.array([0.80 + 0.16 * warm, 0.80 - 0.04 * abs(warm), 0.80 - 0.34 * warm]))
        x = 8 + (WIDE - 16) * k / 48
        parts.append(f'<rect x="{x:.1f}" y="58" width="5" height="26" fill="{colour}"/>')
    for kelvin in KELVINS:
        x = min(max(_warmth(1e6 / kelvin), 16), WIDE - 14)
        parts.append(_text(x, 98, f"{kelvin}", "middle"))
    return parts


def light(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """The scene's lights from cool to warm, and what the recipe takes for white."""
    del shipped
    found = gauges.white(scene, recipe.look)
    parts, words = _lights_scale(), []
    for k, lamp in enumerate(found.lights[:3]):
        at = _warmth(1e6 / lamp.kelvin)
        top = 44 - 14 * k
        parts.append(f'<path d="M{at:.1f} {top}V58" stroke="{SOFT}" stroke-width="1.4"/>')
        words.append(_text(_inside(at, 2.9 * len(lamp.kind)), top - 4, lamp.kind, "middle"))
    # The lines stop short of the words that they pass.
    parts.append(f'<g class="over-lines">{"".join(words)}</g>')
    here, kelvin = _warmth(found.mired), printed_kelvin(found.mired)
    parts.append(f'<path d="M{here:.1f} 86l-6 11h12z" transform="translate(0 16)" fill="{PLUM}"/>')
    parts.append(_text(_inside(here, 52), 126, f"white at {kelvin}", "middle", PLUM))
    if found.off_card is not None:
        # Taking a bluer light than the card's for white makes the picture warmer.
        side = "warmer" if found.off_card < 0 else "cooler"
        off = f"{abs(found.off_card):.0f} mired {side} than by card"
        if abs(found.off_card) < 2:
            off = "as the grey card says"
        parts.append(_text(WIDE / 2, 146, off, "middle"))
    parts.append(_text(WIDE / 2, 162, f"Duv {found.duv:+.3f}", "middle"))
    return _drawing(f"White is taken at {kelvin}", *parts)


def noise(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Noise at mid grey against ISO, with the guard's floor, the second native ISO, and where this
    scene is."""
    del shipped
    law = gauges.noise_law(scene, recipe.look, recipe.camera.sensor)
    first, last, most = law.isos[0], law.isos[-1], float(law.deviations.max())

    def across(iso: float) -> float:
        return 8 + (WIDE - 16) * float(np.log2(iso / first) / np.log2(last / first))

    def up(deviation: float) -> float:
        return 140 - 118 * deviation / most

    parts, words = [], "No ISO is known of a finished picture"
    if law.floor is not None:
        wide = max(across(law.floor) - 8, 0)
        parts.append(f'<rect x="8" y="14" width="{wide:.1f}" height="126" fill="{HAIR}"/>')
    line = [(across(i), up(d)) for i, d in zip(law.isos, law.deviations, strict=True)]
    parts.append(_path(np.array(line), PLUM))
    if law.iso is not None and law.here is not None:
        x, y = across(law.iso), up(law.here)
        parts.append(
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="5" fill="{ZEST}" stroke="{PLUM}" '
            'stroke-width="1.5"/>'
        )
        words = f"ISO {printed_iso(law.iso)} here"
    if law.second_iso:
        x = across(law.second_iso)
        parts.append(f'<path d="M{x:.1f} 14V140" stroke="{SOFT}" stroke-dasharray="3 3"/>')
        parts.append(_text(x - 3, 24, f"{law.second_iso:.0f}", "end"))
    parts += [
        _text(8, 154, f"{first:.0f}"),
        _text(WIDE - 8, 154, f"{last:.0f}", "end"),
        _text(WIDE / 2, 166, words, "middle"),
    ]
    return _drawing(f"Noise at mid grey by ISO. {words}", *parts)


def edge(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """An edge before and after clarity and sharpness."""
    del scene
    found = gauges.edge(recipe.look, shipped.look)
    parts = [f'<path d="M0 {y}H{WIDE}" stroke="{HAIR}"/>' for y in (42, 118)]
    for profile, stroke, width, dashes in (
        (found.before, SOFT, 1.3, "3 3"),
        (found.now, PLUM, 2.4, ""),
    ):
        x = np.linspace(0, WIDE, len(profile))
        points = np.stack([x, 118 - (profile - 0.30) / 0.40 * 76], 1)
        parts.append(_path(points, stroke, width, dashes))
    words = f"overshoot {100 * found.overshoot:.1f} %, MTF50 {found.mtf50:.2f} cycles/pixel"
    return _drawing(f"An edge: {words}", *parts, _text(4, 164, words))


def grain(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """A swatch of the scene at 100 percent with its grain, and the grain's figures."""
    del shipped
    look = recipe.look
    asked = address.look_query(recipe, width="416", detail="1")
    swatch = (
        f'<image href="/render/{scene.id}.jpg?{escape(asked)}" x="0" y="0" width="{WIDE}" '
        f'height="{WIDE / 1.5:.0f}"/>'
    )
    size = f"{look.grain_size:g} photosites across"
    words = f"RMS {100 * look.grain:.1f} %, {size}" if look.grain else "no grain"
    return _drawing(f"Grain at 100 percent: {words}", swatch, _text(4, 160, words))


def codes(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Code values that each stop of light gets in the file."""
    del shipped
    found = gauges.codes(scene, recipe.look, recipe.camera.sensor)
    top = max(float(found.values.max()), 1)
    parts = []
    for k, (stop, value) in enumerate(zip(found.stops, found.values, strict=True)):
        high, x = 126 * max(float(value), 0) / top, 8 + 19.4 * k
        fill = PLUM if value >= 8 else ZEST
        parts.append(
            f'<rect x="{x:.1f}" y="{140 - high:.1f}" width="15" height="{high:.1f}" fill="{fill}"/>'
        )
        parts.append(_text(x + 7.5, 136 - high, f"{value:.0f}", "middle"))
        parts.append(_text(x + 7.5, 153, f"{stop:+.0f}", "middle"))
    span = "limited" if found.limited else "full"
    words = f"code values a stop, {found.bits} bits, {span} range"
    return _drawing(words, *parts, _text(WIDE / 2, 166, words, "middle"))


DRAWN: dict[Gauge, Callable[[Scene, Recipe, Recipe], str]] = {
    Gauge.HUES: hues,
    Gauge.LIGHT: light,
    Gauge.NOISE: noise,
    Gauge.EDGE: edge,
    Gauge.GRAIN: grain,
    Gauge.CODES: codes,
}


def drawn(kind: Gauge, scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """The gauge of a kind as SVG; empty for tone, which the page draws itself."""
    return DRAWN[kind](scene, recipe, shipped) if kind in DRAWN else ""
