"""A name for a recipe from what it looks like beside the same scene as shipped."""

from ..recipe import Recipe
from ..scenes.scene import Scene
from ..styles import style
from .verdicts import TRY_AT, Workbench

# Figure, how much of a change people see, and the words for less and more; the two strongest make
# the name.
ADJECTIVES = (
    ("warmth", 9.0, "Cool", "Warm"),
    ("contrast", 0.09, "Soft", "Firm"),
    ("lightness", 4.0, "Low", "Bright"),
    ("colour", 0.12, "Quiet", "Full"),
    ("grain", 0.008, "", "Grainy"),
)
MOST = 2


def suggested_name(scene: Scene, recipe: Recipe) -> str:
    """Up to two adjectives and the style, for example 'Warm soft Linen'; the style alone where
    nothing more is to be seen."""
    bench = Workbench(scene, recipe.camera, TRY_AT)
    now, plain = bench.report(dict(recipe.dials)), bench.report(recipe.camera.complete({}))
    change = {
        "warmth": now.cast.mired - plain.cast.mired if now.cast and plain.cast else 0.0,
        "contrast": now.curve.contrast / plain.curve.contrast - 1,
        "lightness": now.frame.lightness - plain.frame.lightness,
        "colour": now.frame.chroma / max(plain.frame.chroma, 1e-6) - 1,
        "grain": recipe.look.grain,
    }
    called = style(recipe.look.style)
    if called.colouring.mono is not None:
        change["colour"] = change["warmth"] = 0.0
    found = sorted(
        (
            (abs(change[n]) / least, less if change[n] < 0 else more)
            for n, least, less, more in ADJECTIVES
        ),
        reverse=True,
    )
    words = [word for size, word in found if size >= 1 and word][:MOST]
    return _joined(words, called.name)


def _joined(words: list[str], style_name: str) -> str:
    first, *rest = [*words, style_name] if words else [style_name]
    return " ".join([first, *(w if w == style_name else w.lower() for w in rest)])
