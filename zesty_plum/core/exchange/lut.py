"""LUT files: a look baked into a table that other programs apply.

The input is a finished neutral picture in sRGB (`srgb`), taken as our style Plain made it; or a
clip in one of our flat styles (`ledger`, `sounding`), brought back to the light it was made of; or
ACEScct, a published log encoding (Academy S-2016-001). Noise, grain, clarity, sharpness and noise
reduction need neighbouring pixels and cannot be in a table; the file says so.
"""

from dataclasses import replace
from functools import lru_cache
from xml.sax.saxutils import escape, quoteattr

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..base.errors import PlumError
from ..bodies import Value
from ..colour.light import DAYLIGHT_MIRED
from ..colour.spaces import D65_XY, REC2020_TO_XYZ, apply_matrix, rgb_to_xyz_matrix
from ..colour.white import adapt
from ..develop import balance, point, tone
from ..develop.undo import undo
from ..look import Look, about, missing
from ..recipe import Recipe
from ..styles import style

INPUTS = {
    "srgb": "a finished neutral picture",
    "ledger": "a clip in our style Ledger, neutral, nothing else changed",
    "sounding": "a clip in our style Sounding, neutral, nothing else changed",
    "acescct": "ACEScct: AP1 primaries, log encoded, mid grey at 0.4136",
}
AP1_TO_REC2020 = (
    np.linalg.inv(REC2020_TO_XYZ)
    @ adapt((0.32168, 0.33767), D65_XY)
    @ rgb_to_xyz_matrix([(0.713, 0.293), (0.165, 0.830), (0.128, 0.044)], (0.32168, 0.33767))
)
LEAST, MOST = 2, 129
SIZES = (17, 33, 65)
OFFSETS = tuple(f"{round(k / 3, 2):g}" for k in range(-12, 13))  # stops, in thirds
# What a table cannot hold, as it needs neighbouring pixels, the camera's meter or its file.
_HELD = {name for name, known in about().items() if known.in_lut}
LEFT_OUT = "A table cannot hold {} or noise.".format(
    ", ".join(
        dict.fromkeys(
            known.called
            for name, known in about().items()
            if known.called and not known.in_lut and name != "guard"  # which has `NO_ROOM`
        )
    )
)
ROOMY = (
    "sounding",
    "acescct",
)  # inputs that hold highlights beyond the white of a finished picture
NO_ROOM = "Guard changes nothing here: the input holds no more highlights than it shows."


def table(
    recipe: Recipe, size: int = point.FILED, source: str = "srgb", offset: float = 0.0
) -> Array:
    """Return the look as (size, size, size, 3), indexed [red, green, blue]; `source` is a key of
    `INPUTS`, out comes sRGB.

    `offset` stops are added to the exposure: +1 for pictures that were exposed a stop under, as at
    twice the exposure index.
    """
    if source not in INPUTS:
        raise PlumError(f"There is no LUT input '{source}'. The inputs are {', '.join(INPUTS)}.")
    if not LEAST <= size <= MOST:
        raise PlumError(
            f"A LUT can have {LEAST} to {MOST} points a side, not {size}. 33 suits most programs."
        )
    look = replace(recipe.look, exposure=recipe.look.exposure + offset)
    # A finished picture has no other light to find than its own, so automatic and grey card leave
    # it as it is.
    own = (DAYLIGHT_MIRED, 0.0)
    white = point.FINISHED_WHITE + (look.guard if source in ROOMY else 0)
    if source == "srgb":
        matrix = balance.look_matrix(look, own, own, finished=True)
        return point.Point(
            look, style(look.style), white, point.as_tuple(matrix), finished=True
        ).table(size)
    steps = np.linspace(0, 1, size, dtype=np.float32)
    grid = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1).reshape(-1, 3)
    scene = (
        apply_matrix(acescct_decode(grid), AP1_TO_REC2020)
        if source == "acescct"
        else _unflatten(grid, source)
    )
    # The scene found is neutral already: put it back under the light that counts as its own, then
    # balance as the look does.
    balanced = balance.look_matrix(look, own, own) @ np.linalg.inv(balance.balance_matrix(own))
    scene = np.maximum(apply_matrix(scene * np.float32(2.0**look.exposure), balanced), 0)
    made = point.Point(look, style(look.style), white, point.as_tuple(np.eye(3)), finished=False)
    clip = np.float32(MID_GREY * 2.0**white)
    return np.asarray(
        made.develop(np.minimum(scene, clip)).reshape(size, size, size, 3), np.float32
    )


@lru_cache(maxsize=2)
def _flat_scene(source: str, size: int) -> Array:
    made = point.Point(
        Look(style=source),
        style(source),
        tone.log_end(style(source).tone) or point.FINISHED_WHITE,
        point.as_tuple(np.eye(3)),
        finished=False,
    )
    steps = np.linspace(0, 1, size, dtype=np.float32)
    grid = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), -1).reshape(-1, 3)
    return undo(made, grid)


def _unflatten(grid: Array, source: str) -> Array:
    return _flat_scene(source, round(len(grid) ** (1 / 3)))


def acescct_decode(encoded: Array) -> Array:
    """Linear AP1 from ACEScct (Academy S-2016-001)."""
    return np.asarray(
        np.where(
            encoded <= 0.155251141552511,
            (encoded - 0.0729055341958355) / 10.5402377416545,
            np.exp2(encoded * 17.52 - 9.72),
        ),
        np.float32,
    )


def _remarks(recipe: Recipe, source: str, offset: float) -> list[str]:
    body, look = recipe.camera, recipe.look
    lost = missing(replace(look, guard=0.0), _HELD)
    changed: dict[str, Value] = body.changed(recipe.dials)
    dials = ", ".join(
        f"{body.dial(k).label} {body.dial(k).choice(v).label}" for k, v in changed.items()
    )
    return [
        f"Recipe: {_line(recipe.name)}",
        f"Body: {body.name}",
        f"Dials not as shipped: {dials or 'none'}",
        f"Input: {source}, {INPUTS[source]}",
        "Output: sRGB",
        *([f"Exposure offset: {offset:+g} stops"] if offset else []),
        LEFT_OUT,
        *([NO_ROOM] if look.guard and source not in ROOMY else []),
        *([f"This recipe loses {', '.join(lost)}."] if lost else []),
    ]


def _line(text: str) -> str:
    """Text on one line without control characters."""
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())


def cube(recipe: Recipe, size: int = point.FILED, source: str = "srgb", offset: float = 0.0) -> str:
    """The look as a .cube file: red changes fastest."""
    values = np.clip(table(recipe, size, source, offset), 0, 1).transpose(2, 1, 0, 3).reshape(-1, 3)
    title = _line(recipe.name).replace('"', "'")
    head = [
        f'TITLE "{title}"',
        *(f"# {r}" for r in _remarks(recipe, source, offset)),
        f"LUT_3D_SIZE {size}",
    ]
    head += ["DOMAIN_MIN 0.0 0.0 0.0", "DOMAIN_MAX 1.0 1.0 1.0"]
    rows = ("%.6f %.6f %.6f\n" * len(values)) % tuple(values.ravel())
    return "\n".join(head) + "\n" + rows


def clf(recipe: Recipe, size: int = point.FILED, source: str = "srgb", offset: float = 0.0) -> str:
    """The look as a Common LUT Format file (Academy S-2014-006, version 3): blue changes
    fastest."""
    values = np.clip(table(recipe, size, source, offset), 0, 1).reshape(-1, 3)
    rows = ("%.6f %.6f %.6f\n" * len(values)) % tuple(values.ravel())
    remarks = "\n".join(
        f"  <Description>{escape(r)}</Description>" for r in _remarks(recipe, source, offset)
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<ProcessList id="zesty-plum" name={quoteattr(_line(recipe.name))} compCLFversion="3.0">\n'
        f"{remarks}\n"
        '  <LUT3D id="look" inBitDepth="32f" outBitDepth="32f" interpolation="tetrahedral">\n'
        f'    <Array dim="{size} {size} {size} 3">\n{rows}    </Array>\n  '
        "</LUT3D>\n</ProcessList>\n"
    )
