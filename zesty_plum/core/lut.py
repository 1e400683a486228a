"""LUT files: a look baked into a table that other programs apply.

The input is a finished neutral picture in sRGB (`srgb`), taken as our style Plain made it. Noise, grain, sharpness and
noise reduction need neighbouring pixels and cannot be in a table; the file says so.
"""

from xml.sax.saxutils import escape, quoteattr

import numpy as np

from .arrays import Array
from .bodies import Value
from .develop import balance, point
from .errors import PlumError
from .recipe import Recipe
from .styles import style

INPUTS = ("srgb",)
LEAST, MOST = 2, 129
LEFT_OUT = "A table cannot hold grain, noise, noise reduction or sharpness."


def table(recipe: Recipe, size: int = 33, source: str = "srgb") -> Array:
    """Return the look as (size, size, size, 3), indexed [red, green, blue], encoded sRGB in and out."""
    if source not in INPUTS:
        raise PlumError(f"There is no LUT input '{source}'. The inputs are {', '.join(INPUTS)}.")
    if not LEAST <= size <= MOST:
        raise PlumError(f"A LUT can have {LEAST} to {MOST} points a side, not {size}. 33 suits most programs.")
    look = recipe.look
    # A finished picture has no other light to find than its own, so automatic and grey card leave it as it is.
    own = (balance.DAYLIGHT_MIRED, 0.0)
    matrix = balance.balance_matrix(balance.assumed_light(look, own, own), finished=True)
    white = point.FINISHED_WHITE + look.guard
    made = point.Point(look, style(look.style), white, point.as_tuple(matrix), finished=True)
    return made.table(size)


def _remarks(recipe: Recipe, source: str) -> list[str]:
    body = recipe.camera
    changed: dict[str, Value] = body.changed(recipe.dials)
    dials = ", ".join(f"{body.dial(k).label} {body.dial(k).choice(v).label}" for k, v in changed.items())
    return [
        f"Recipe: {_line(recipe.name)}",
        f"Body: {body.name}",
        f"Dials not as shipped: {dials or 'none'}",
        f"Input: {source}, a finished neutral picture",
        "Output: sRGB",
        LEFT_OUT,
    ]


def _line(text: str) -> str:
    """Text on one line without control characters."""
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())


def cube(recipe: Recipe, size: int = 33, source: str = "srgb") -> str:
    """The look as a .cube file: red changes fastest."""
    values = np.clip(table(recipe, size, source), 0, 1).transpose(2, 1, 0, 3).reshape(-1, 3)
    title = _line(recipe.name).replace('"', "'")
    head = [f'TITLE "{title}"', *(f"# {r}" for r in _remarks(recipe, source)), f"LUT_3D_SIZE {size}"]
    head += ["DOMAIN_MIN 0.0 0.0 0.0", "DOMAIN_MAX 1.0 1.0 1.0"]
    rows = ("%.6f %.6f %.6f\n" * len(values)) % tuple(values.ravel())
    return "\n".join(head) + "\n" + rows


def clf(recipe: Recipe, size: int = 33, source: str = "srgb") -> str:
    """The look as a Common LUT Format file (Academy S-2014-006, version 3): blue changes fastest."""
    values = np.clip(table(recipe, size, source), 0, 1).reshape(-1, 3)
    rows = ("%.6f %.6f %.6f\n" * len(values)) % tuple(values.ravel())
    remarks = "\n".join(f"  <Description>{escape(r)}</Description>" for r in _remarks(recipe, source))
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<ProcessList id="zesty-plum" name={quoteattr(_line(recipe.name))} compCLFversion="3.0">\n'
        f"{remarks}\n"
        '  <LUT3D id="look" inBitDepth="32f" outBitDepth="32f" interpolation="tetrahedral">\n'
        f'    <Array dim="{size} {size} {size} 3">\n{rows}    </Array>\n  </LUT3D>\n</ProcessList>\n'
    )
