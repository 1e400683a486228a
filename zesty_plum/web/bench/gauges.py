"""Small drawings that belong to the line in hand: what a step of it moves, as figures that the core
computes."""

from collections.abc import Callable
from html import escape

import numpy as np

from ...core.arrays import MID_GREY, Array
from ...core.bodies import Dial
from ...core.colour.spaces import (
    linear_srgb_to_oklab,
    oklab_to_linear_srgb,
    srgb_decode,
    srgb_encode,
)
from ...core.develop import balance, colouring, encode, sense
from ...core.develop.pipeline import exposure_of, make_point
from ...core.measure import texture
from ...core.nominal import printed_iso
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from .. import address
from ..address import ENGINE

WIDE, HIGH = 208, 168
# Colours of the theme.
PLUM, ZEST, SOFT, FAINT = (f"var(--color-{name})" for name in ("plum", "zest", "soft", "edge"))
PAPER, INK, WHITE, HAIR = (f"var(--color-{name})" for name in ("paper", "ink", "white", "hair"))
SIX_NAMES = ("red", "yellow", "green", "cyan", "blue", "magenta")  # of `colouring.SIX`
# Fields of a look, and the gauge that shows what they do; a dial gets the gauge of the first field
# it touches.
KINDS = {
    "saturation": "hues",
    "phase": "hues",
    "density": "hues",
    "depth_red": "hues",
    "depth_yellow": "hues",
    "depth_green": "hues",
    "depth_cyan": "hues",
    "depth_blue": "hues",
    "depth_magenta": "hues",
    "mono_filter": "hues",
    "light_mired": "light",
    "balance": "light",
    "shift_mired": "light",
    "shift_duv": "light",
    "noise_filter": "noise",
    "colour_filter": "noise",
    "iso_least": "noise",
    "iso_most": "noise",
    "sharpness": "edge",
    "clarity": "edge",
    "grain": "grain",
    "grain_size": "grain",
    "bits": "codes",
    "limited": "codes",
    "clip": "codes",
}


def kind_of(dial: Dial) -> str:
    """Which gauge belongs to a dial."""
    touched = {field for choice in dial.choices for field in (*choice.sets, *choice.adds)}
    return next((kind for field, kind in KINDS.items() if field in touched), "tone")


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


def hues(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Colours of the scene around the hue ring: where they were as shipped, and where they are."""
    small = scene.at_width(60).reshape(-1, 3)
    sensor, at = recipe.camera.sensor, []
    for each in (shipped, recipe):
        made = make_point(scene, each.look, sensor)
        if scene.finished:
            encoded = made.finish(small)
        else:
            encoded = made.develop(
                np.clip(
                    small @ np.array(made.matrix, np.float32).T * 2.0**each.look.exposure,
                    0,
                    made.clip,
                )
            )
        at.append(linear_srgb_to_oklab(srgb_decode(encoded).astype(np.float32)))
    before, now = at
    middle, radius, scale = np.array([WIDE / 2, 78.0]), 62.0, 62.0 / 0.28
    ring = []
    for k in range(72):
        a, b = np.radians(5 * k), np.radians(5 * k + 5.4)
        rgb = srgb_encode(
            np.clip(
                oklab_to_linear_srgb(
                    np.array([[0.72, 0.11 * np.cos(a), 0.11 * np.sin(a)]], np.float32)
                ),
                0,
                1,
            )
        )[0]
        colour = "#" + "".join(f"{round(255 * float(v)):02x}" for v in rgb)
        x, y = middle[0] + radius * np.cos([a, b]), middle[1] - radius * np.sin([a, b])
        ring.append(
            f'<path d="M{x[0]:.1f} {y[0]:.1f}L{x[1]:.1f} {y[1]:.1f}" stroke="{colour}" '
            'stroke-width="7"/>'
        )
    # One dot for every small square of the ring's plane that the scene has a colour in.
    _, order = np.unique(np.round(before[:, 1:] / 0.032).astype(int), axis=0, return_index=True)
    dots = []
    for k in order:
        (x0, y0), (x1, y1) = (middle + np.array([p[k, 1], -p[k, 2]]) * scale for p in (before, now))
        dots.append(
            f'<path d="M{x0:.1f} {y0:.1f}L{x1:.1f} {y1:.1f}" stroke="{FAINT}" stroke-width="1.2"/>'
        )
        dots.append(f'<circle cx="{x1:.1f}" cy="{y1:.1f}" r="2.4" fill="{PLUM}"/>')
    chips = _depth_chips(recipe, middle, radius)
    grown = float(
        np.hypot(now[:, 1], now[:, 2]).mean()
        / max(np.hypot(before[:, 1], before[:, 2]).mean(), 1e-6)
    )
    words = (
        "as strong as shipped"
        if abs(grown - 1) < 0.01
        else f"{abs(grown - 1):.0%} {'stronger' if grown > 1 else 'weaker'} than shipped"
    )
    note = _text(4, 165, f"colour {words}")
    return _drawing(
        f"The scene's colours on the hue ring: {words}",
        *ring,
        *dots,
        *chips,
        note,
        role="group" if chips else "img",
    )


def _depth_chips(recipe: Recipe, middle: Array, radius: float) -> list[str]:
    """Depth of six hues around the ring, each a way to its line, for bodies that have it."""
    chips = []
    for name, degrees in zip(SIX_NAMES, colouring.SIX, strict=True):
        dial = next((d for d in recipe.camera.dials if d.id == f"depth_{name}"), None)
        if dial is None:
            continue
        printed = dial.choice(recipe.dials[dial.id]).label
        x, y = middle + radius * np.array(
            [np.cos(np.radians(degrees)), -np.sin(np.radians(degrees))]
        )
        words = escape(f"{dial.label} {printed}", quote=True)
        changed = recipe.dials[dial.id] != dial.default
        fill, ink = (PLUM, WHITE) if changed else (PAPER, INK)
        chips.append(
            f'<g data-line="{dial.id}" role="button" tabindex="0" '
            f'aria-label="{words}"><title>{words}</title>'
            f'<circle cx="{x:.1f}" cy="{y:.1f}" r="12" fill="{fill}" stroke="{SOFT}"/>'
            f"{_text(x, y + 4, printed, 'middle', ink)}</g>"
        )
    return chips


def printed(mired: float) -> str:
    """Kelvin as bodies print it, to ten."""
    return f"{round(1e6 / mired, -1):.0f} K"


def light(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """The scene's lights from cool to warm, and what the recipe takes for white."""
    del shipped
    mired, duv = balance.assumed_light(recipe.look, scene.auto_light, scene.card_light)
    low, high = 90.0, 420.0

    def x(value: float) -> float:
        return 8 + (min(max(value, low), high) - low) / (high - low) * (WIDE - 16)

    parts = []
    for k in range(48):
        at = low + (high - low) * k / 47
        warm = (at - 190) / 230
        rgb = np.clip([0.80 + 0.16 * warm, 0.80 - 0.04 * abs(warm), 0.80 - 0.34 * warm], 0, 1)
        colour = "#" + "".join(f"{round(255 * float(v)):02x}" for v in rgb)
        parts.append(
            f'<rect x="{8 + (WIDE - 16) * k / 48:.1f}" y="58" width="5" height="26" '
            f'fill="{colour}"/>'
        )
    for kelvin in (2500, 3200, 4000, 5500, 10000):
        parts.append(_text(min(max(x(1e6 / kelvin), 16), WIDE - 14), 98, f"{kelvin}", "middle"))
    for k, lamp in enumerate(scene.lights[:3]):
        at = x(1e6 / lamp.kelvin)
        parts.append(f'<path d="M{at:.1f} {44 - 14 * k}V58" stroke="{SOFT}" stroke-width="1.4"/>')
        half = 2.9 * len(lamp.kind)
        parts.append(_text(min(max(at, half), WIDE - half), 40 - 14 * k, lamp.kind, "middle"))
    here = x(mired)
    parts.append(f'<path d="M{here:.1f} 86l-6 11h12z" transform="translate(0 16)" fill="{PLUM}"/>')
    parts.append(
        _text(min(max(here, 52), WIDE - 52), 126, f"white at {printed(mired)}", "middle", PLUM)
    )
    if scene.auto_light and not scene.finished:
        card = mired - scene.card_light[0]
        # Taking a bluer light than the card's for white makes the picture warmer.
        words = (
            "as the grey card says"
            if abs(card) < 2
            else f"{abs(card):.0f} mired {'warmer' if card < 0 else 'cooler'} than by card"
        )
        parts.append(_text(WIDE / 2, 146, words, "middle"))
    parts.append(_text(WIDE / 2, 162, f"Duv {duv:+.3f}", "middle"))
    return _drawing(f"White is taken at {printed(mired)}", *parts)


def noise(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Noise at mid grey against ISO, with the guard's floor, the second native ISO, and where this
    scene is."""
    del shipped
    sensor, look = recipe.camera.sensor, recipe.look
    isos = np.geomspace(sensor.base_iso, sensor.top_iso, 120)
    stops = [
        float(sense.noise_deviation(np.array([MID_GREY], np.float32), sensor, iso, sensor.width)[0])
        for iso in isos
    ]
    top = max(stops)

    def place(iso: float, noise_: float) -> tuple[float, float]:
        return 8 + (WIDE - 16) * np.log2(iso / isos[0]) / np.log2(
            isos[-1] / isos[0]
        ), 140 - 118 * noise_ / top

    line = np.array([place(i, n) for i, n in zip(isos, stops)])
    parts = [_path(line, PLUM)]
    exposure = exposure_of(scene, look, sensor)
    words = "No ISO is known of a finished picture"
    if exposure is not None:
        floor, _ = place(exposure.floor, 0)
        parts.insert(
            0,
            f'<rect x="8" y="14" width="{max(floor - 8, 0):.1f}" height="126" fill="{HAIR}"/>',
        )
        now = float(
            sense.noise_deviation(
                np.array([MID_GREY], np.float32), sensor, exposure.iso, sensor.width
            )[0]
        )
        at = place(exposure.iso, now)
        parts.append(
            f'<circle cx="{at[0]:.1f}" cy="{at[1]:.1f}" r="5" fill="{ZEST}" stroke="{PLUM}" '
            'stroke-width="1.5"/>'
        )
        words = f"ISO {printed_iso(exposure.iso)} here"
    if sensor.second_iso:
        x = place(sensor.second_iso, 0)[0]
        parts.append(f'<path d="M{x:.1f} 14V140" stroke="{SOFT}" stroke-dasharray="3 3"/>')
        parts.append(_text(x - 3, 24, f"{sensor.second_iso:.0f}", "end"))
    parts += [
        _text(8, 154, f"{isos[0]:.0f}"),
        _text(WIDE - 8, 154, f"{isos[-1]:.0f}", "end"),
        _text(WIDE / 2, 166, words, "middle"),
    ]
    return _drawing(f"Noise at mid grey by ISO. {words}", *parts)


def edge(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """An edge before and after clarity and sharpness."""
    del scene
    parts = [f'<path d="M0 {y}H{WIDE}" stroke="{HAIR}"/>' for y in (42, 118)]
    for each, stroke, width, dashes in (
        (shipped, SOFT, 1.3, "3 3"),
        (recipe, PLUM, 2.4, ""),
    ):
        line = texture.profile(each.look)
        x = np.linspace(0, WIDE, len(line))
        parts.append(
            _path(np.stack([x, 118 - (line - 0.30) / 0.40 * 76], 1), stroke, width, dashes)
        )
    over, mtf50 = texture.edge(recipe.look)
    words = f"overshoot {100 * over:.1f} %, MTF50 {mtf50:.2f} cycles/pixel"
    return _drawing(f"An edge: {words}", *parts, _text(4, 164, words))


def grain(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """A swatch of the scene at 100 percent with its grain, and the grain's figures."""
    del shipped
    look = recipe.look
    asked = address.query(address.dial_args(recipe) | {"width": "416", "detail": "1", "v": ENGINE})
    swatch = (
        f'<image href="/render/{scene.id}.jpg?{escape(asked)}" x="0" y="0" '
        f'width="{WIDE}" height="{WIDE / 1.5:.0f}"/>'
    )
    words = (
        "no grain"
        if not look.grain
        else f"RMS {100 * look.grain:.1f} %, size 1/{1 / look.grain_size:.0f} of the width"
    )
    return _drawing(f"Grain at 100 percent: {words}", swatch, _text(4, 160, words))


def codes(scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """Code values that each stop of light gets in the file."""
    del shipped
    look = recipe.look
    made = make_point(scene, look, recipe.camera.sensor)
    stops = np.arange(-6, 5)
    black, white = encode.levels(look.bits, look.limited)
    values = np.diff(made.grey_curve((MID_GREY * np.exp2(stops)).astype(np.float32))) * (
        white - black
    )
    top = max(float(values.max()), 1)
    parts = []
    for k, value in enumerate(values):
        high = 126 * max(float(value), 0) / top
        x = 8 + 19.4 * k
        parts.append(
            f'<rect x="{x:.1f}" y="{140 - high:.1f}" width="15" height="{high:.1f}" '
            f'fill="{PLUM if value >= 8 else ZEST}"/>'
        )
        parts.append(_text(x + 7.5, 136 - high, f"{value:.0f}", "middle"))
        parts.append(_text(x + 7.5, 153, f"{stops[k]:+d}", "middle"))
    words = f"code values a stop, {look.bits} bits, {'limited' if look.limited else 'full'} range"
    return _drawing(words, *parts, _text(WIDE / 2, 166, words, "middle"))


DRAWN: dict[str, Callable[[Scene, Recipe, Recipe], str]] = {
    "hues": hues,
    "light": light,
    "noise": noise,
    "edge": edge,
    "grain": grain,
    "codes": codes,
}


def drawn(kind: str, scene: Scene, recipe: Recipe, shipped: Recipe) -> str:
    """The gauge of a kind as SVG; empty for tone, which the page draws itself."""
    return DRAWN[kind](scene, recipe, shipped) if kind in DRAWN else ""
