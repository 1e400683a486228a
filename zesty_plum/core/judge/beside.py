"""How one picture looks beside another, in words that are computed: what people would see, and
nothing below that."""

import numpy as np

from ..arrays import MID_GREY
from ..develop.pipeline import Picture, develop, make_point
from ..measure.figures import Report, measure
from ..recipe import Recipe
from ..scenes.scene import Scene

# What is just seen side by side: 5 mired is one step of a careful eye on greys; a fiftieth of the
# scale in light areas; two degrees of hue or two units of lightness on faces, which are judged most
# strictly; a twentieth of chroma or contrast.
SEEN_MIRED, SEEN_DUV, SEEN_TONE, SEEN_HUE, SEEN_LIGHT, SEEN_SHARE, SEEN_GRAIN = (
    5.0,
    0.0012,
    0.02,
    2.0,
    2.0,
    0.05,
    0.006,
)
# times what is just seen, from which on it is "much", and below half of which it is "a little"
MUCH = 3.0


def _degree(size: float) -> str:
    return "much " if size >= MUCH else "a little " if size < MUCH / 2 else ""


def _tones(scene: Scene, recipe: Recipe) -> dict[str, float]:
    """Encoded greys where highlights and shadows lie: two stops above and three below mid grey."""
    made = make_point(scene, recipe.look, recipe.camera.sensor)
    high, low = made.grey_curve(
        (MID_GREY * np.exp2(np.array([2.0, -3.0]) + recipe.look.exposure)).astype(np.float32)
    )
    return {"high": float(high), "low": float(low)}


def in_words(
    scene: Scene, standard: tuple[Recipe, Report], other: tuple[Recipe, Report]
) -> list[str]:
    """What the other is, beside the standard, the most visible first; empty when nobody would see a
    difference."""
    (first, a), (second, b) = standard, other
    found: list[tuple[float, str]] = []

    def say(change: float, seen: float, more: str, less: str) -> None:
        size = abs(change) / seen
        if size >= 1:
            found.append(
                (size, (more if change > 0 else less).format(how=_degree(size), much=abs(change)))
            )

    mono = [bool(report.flags["monochrome"]) for report in (a, b)]
    if mono[0] != mono[1]:
        found.append((np.inf, "without colour" if mono[1] else "in colour"))
    if a.cast and b.cast and not any(mono):
        say(
            b.cast.mired - a.cast.mired,
            SEEN_MIRED,
            "warmer by {much:.0f} mired",
            "cooler by {much:.0f} mired",
        )
        say(b.cast.duv - a.cast.duv, SEEN_DUV, "{how}greener", "{how}more magenta")
    before, after = _tones(scene, first), _tones(scene, second)
    lighter = b.frame.lightness - a.frame.lightness
    say(lighter, SEEN_LIGHT, "{how}lighter", "{how}darker")
    say(
        b.curve.contrast / a.curve.contrast - 1,
        SEEN_SHARE,
        "{how}firmer in the middle",
        "{how}softer in the middle",
    )
    say(
        after["high"] - before["high"],
        SEEN_TONE,
        "{how}brighter highlights",
        "{how}softer highlights",
    )
    say(after["low"] - before["low"], SEEN_TONE, "{how}more open shadows", "{how}deeper shadows")
    if not any(mono):
        say(
            b.frame.chroma / max(a.frame.chroma, 1e-6) - 1,
            SEEN_SHARE,
            "{how}fuller colours",
            "{how}quieter colours",
        )
    if a.skin and b.skin:
        if not any(mono):
            say(
                b.skin["off_line"] - a.skin["off_line"],
                SEEN_HUE,
                "skin {how}yellower",
                "skin {how}redder",
            )
        say(
            b.skin["lightness"] - a.skin["lightness"],
            SEEN_LIGHT,
            "skin {how}lighter",
            "skin {how}darker",
        )
    say(second.look.grain - first.look.grain, SEEN_GRAIN, "{how}more grain", "{how}less grain")
    say(b.detail["mtf50"] / a.detail["mtf50"] - 1, SEEN_SHARE, "{how}crisper", "{how}softer detail")
    say(
        b.frame.clipped - a.frame.clipped,
        0.01,
        "clips {much:.1%} more of the frame",
        "clips {much:.1%} less of the frame",
    )
    return [words for _, words in sorted(found, key=lambda pair: -pair[0])]


def looked_at(
    scene: Scene, recipe: Recipe, width: int, plain: Picture | None = None
) -> tuple[Picture, Report]:
    """A recipe's picture of a scene, `width` pixels across, and its figures; `plain` the body's
    own, where it is at hand."""
    camera = recipe.camera
    picture = develop(scene, recipe.look, camera.sensor, width)
    plain = plain or develop(scene, camera.interpret({}), camera.sensor, width)
    return picture, measure(scene, recipe.look, camera.sensor, picture, plain)


def compared(scene: Scene, standard: Recipe, other: Recipe, width: int) -> list[str]:
    """`in_words` for two recipes, pictures and figures made here."""
    first, second = (looked_at(scene, recipe, width)[1] for recipe in (standard, other))
    return in_words(scene, (standard, first), (other, second))
