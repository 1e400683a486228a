"""A name for a recipe from what it looks like beside the same scene as shipped."""

from ..measure.report import Report
from ..recipe import Recipe
from ..scenes.scene import Scene
from ..seen import FIGURES, NAME_FROM
from ..styles import style
from .workbench import TRY_AT, Workbench

MOST = 2


def suggested_name(scene: Scene, recipe: Recipe) -> str:
    """Up to two adjectives and the style, for example 'Warm soft Linen'; the style alone where
    nothing more is to be seen."""
    bench = Workbench(scene, recipe.camera, TRY_AT)
    plain, now = bench.report(recipe.camera.shipped), bench.report(recipe.dials)
    words = [*adjectives(plain, now), style(recipe.look.style).name]
    return " ".join([words[0], *(w.lower() for w in words[1:-1]), *words[1:][-1:]])


def adjectives(plain: Report, now: Report) -> list[str]:
    """The strongest two of what is seen of a recipe beside the body as shipped."""
    found = []
    for figure in FIGURES:
        if figure.name is None or (figure.in_colour and now.flags.monochrome):
            continue
        was, here = plain.value(figure.at), now.value(figure.at)
        if was is None or here is None:
            continue
        size = figure.size(was, here)
        if abs(size) >= NAME_FROM and figure.name[size < 0]:
            found.append((abs(size), figure.name[size < 0]))
    return [word for _, word in sorted(found, reverse=True)[:MOST]]
