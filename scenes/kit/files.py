"""Writing a finished scene where the application finds it: picture, label mask, and what it says of itself."""

import warnings
from pathlib import Path

import numpy as np

from .exr import write_exr, write_mask

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

SHIPPED = Path(__file__).parents[2] / "zesty_plum" / "core" / "scenes" / "data"


def colour_temperature(rec2020):
    """Correlated colour temperature (K) and Duv of a linear Rec.2020 colour (Ohno 2013)."""
    space = colour.RGB_COLOURSPACES["ITU-R BT.2020"]
    uv = colour.UCS_to_uv(colour.XYZ_to_UCS(space.matrix_RGB_to_XYZ @ np.asarray(rec2020)))
    kelvin, duv = colour.temperature.uv_to_CCT_Ohno2013(uv)
    return float(kelvin), float(duv)


def measured_range(linear):
    """Stops between the 0.1st and 99.9th percentile of luminance."""
    light = linear @ [0.2627, 0.6780, 0.0593]
    low, high = np.percentile(light, [0.1, 99.9])
    return float(np.log2(high / max(low, 1e-4)))


def _table(value):
    return "[" + ", ".join(f'"{v}"' if isinstance(v, str) else f"{v:.5g}" for v in value) + "]"


def write(name, program, linear, mask, card):
    """Write data/<name>/frame.exr, regions.png and scene.toml; `card` is the grey card reading (3,)."""
    folder = SHIPPED / name
    folder.mkdir(parents=True, exist_ok=True)
    write_exr(folder / "frame.exr", linear)
    write_mask(folder / "regions.png", mask)
    kelvin, duv = colour_temperature(card)
    lines = [
        f"order = {program.ORDER}",
        f'title = "{program.TITLE}"',
        f'story = "{program.STORY}"',
        f'group = "{program.GROUP}"',
        f"good_for = {_table(program.GOOD_FOR)}",
        f"ev100 = {program.EV100}",
        "# Measured at the subject with a grey card, before any white balance.",
        f"kelvin = {kelvin:.0f}",
        f"duv = {duv:.4f}",
        f"grey_card = {_table(card)}",
        f"stops = {measured_range(linear):.1f}",
        f"regions = {_table(program.REGIONS)}",
    ]
    for light in program.LIGHTS:
        lines += ["", "[[lights]]", f'kind = "{light["kind"]}"', f"kelvin = {light['kelvin']}"]
    (folder / "scene.toml").write_text("\n".join(lines) + "\n")
