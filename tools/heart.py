"""Write the plots and strips of docs/pipeline.md, all from the code: make figures."""

from pathlib import Path

import cv2
import numpy as np

from tools import asked
from tools.plots import curves
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies, body
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.colour.spaces import (
    REC2020_TO_SRGB,
    REC2020_TO_XYZ,
    linear_srgb_to_oklab,
    srgb_decode,
    xy_to_xyz,
)
from zesty_plum.core.colour.white import white_xy
from zesty_plum.core.develop import (
    balance,
    clarity,
    colouring,
    encode,
    photosites,
    point,
    reduce_noise,
    sense,
    tone,
)
from zesty_plum.core.develop.part import alone
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.look import Look
from zesty_plum.core.styles import style, styles

DOCS = Path(__file__).parents[1] / "docs"
PLOTS = DOCS / "plots"
HERON, WADER = body("heron-m2"), body("wader-v1")
STOPS = np.linspace(-8, 4, 400)


def shot(scene_id, width=360, camera=HERON, detail=False, **dials):
    """A rendered picture (h, w, 3) uint8."""
    scene = scenes.load(scene_id)
    return develop(scene, camera.interpret(dials), camera.sensor, width, 1, detail).pixels


def strip(name, pictures, gap=8):
    """Pictures side by side on a neutral mount, saved as JPEG."""
    bar = np.full((pictures[0].shape[0], gap, 3), 201, np.uint8)
    row = [pictures[0]]
    for picture in pictures[1:]:
        row += [bar, picture]
    cv2.imwrite(
        str(PLOTS / f"{name}.jpg"),
        np.concatenate(row, 1)[..., ::-1],
        [cv2.IMWRITE_JPEG_QUALITY, 86],
    )


def plot(name, lines, x_label, y_label, x_range, y_range, x_ticks, y_ticks):
    (PLOTS / f"{name}.svg").write_text(
        curves(lines, x_label, y_label, x_range, y_range, x_ticks, y_ticks)
    )


def sense_figures():
    """Noise by ISO, and what a guard does; metering and balance."""
    iso = np.array([125, 250, 500, 1000, 2000, 2499, 2500, 5000, 12800])
    noise = {
        c.name: (
            np.log2(iso / 100),
            [
                100
                * float(
                    sense.noise_deviation(
                        np.array([0.18], np.float32), c.sensor, i, c.sensor.width
                    )[0]
                )
                / 0.18
                for i in iso
            ],
        )
        for c in bodies().values()
    }
    plot(
        "sense",
        noise,
        "stops over ISO 100",
        "noise of a photosite, % of mid grey",
        (0, 7),
        (0, 16),
        range(8),
        (0, 4, 8, 12, 16),
    )
    strip("sense", [shot("workshop", detail=True, guard=g) for g in (0, 2)])
    strip(
        "metering",
        [shot("jetty", 300, metering=m) for m in ("hand", "frame", "spot", "highlights")],
    )
    strip(
        "balance",
        [
            shot("workshop", 300, white_balance=w)
            for w in ("auto", "keep_warm", "daylight", "lamps")
        ],
    )


def held_hues():
    """Degrees of Oklab hue by which light skin turns as exposure rises, by style."""
    skin = np.array([0.53, 0.30, 0.21]) * 0.18 / 0.34
    stops = np.linspace(-1, 2.4, 60)
    light = np.exp2(stops)[:, None] * (np.linalg.inv(REC2020_TO_SRGB) @ skin)
    lines = {}
    for which in (styles()[name] for name in ("plain", "bunting", "linen", "sounding")):
        made = point.Point(Look(style=which.id), which, 3.0, point.as_tuple(np.eye(3)), False)
        lab = linear_srgb_to_oklab(srgb_decode(made.develop(light.astype(np.float32))))
        hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1]))
        lines[which.name] = (stops, hue - hue[0])
    return lines


def shift_figures():
    """What a step of shift does to a grey card under lights from warm to cool."""
    kelvin = np.geomspace(2500, 10000, 25)
    steps = {"red +1": (4.0, -0.001), "blue +1": (-4.0, -0.001), "red +6": (24.0, -0.006)}
    lines = {}
    for name, (mired, duv) in steps.items():
        look = Look(shift_mired=mired, shift_duv=duv)
        apart = []
        for k in kelvin:
            light = (1e6 / k, 0.0)
            card = np.linalg.inv(REC2020_TO_XYZ) @ xy_to_xyz(white_xy(*light)) * 0.18
            shown = [
                point.Point(seen, style("plain"), 3.0, point.as_tuple(np.eye(3)), False).develop(
                    (balance.look_matrix(seen, light, light) @ card).astype(np.float32)[None]
                )
                for seen in (Look(), look)
            ]
            apart.append(float(ciede2000(*map(encoded_to_lab, shown))[0]))
        lines[name] = (kelvin / 1000, apart)
    plot(
        "shift",
        lines,
        "light, 1000 K",
        "CIEDE2000 on grey",
        (2, 10),
        (0, 12),
        range(2, 11, 2),
        range(0, 13, 3),
    )


def noise_figures():
    """Noise of a mosaic by how many photosites a pixel averages; the noise filter."""
    many = np.arange(1, 13)
    seen = np.array([photosites.unit_noise(400, 400, 1, 1 / n).std((0, 1)) for n in many])
    plot(
        "photosites",
        {name: (many, seen[:, k]) for k, name in enumerate(("red", "green", "blue"))},
        "photosites a side of a pixel",
        "noise over that of independent pixels",
        (1, 12),
        (0, 2),
        (1, 4, 8, 12),
        (0, 0.5, 1, 1.5, 2),
    )
    acting = np.array([reduce_noise.acting(1 / n) for n in many])
    plot(
        "acting",
        {"brightness": (many, acting[:, 0]), "colour": (many, acting[:, 1])},
        "photosites a side of a pixel",
        "share of the filter's work that is left",
        (1, 12),
        (0, 1),
        (1, 4, 8, 12),
        (0, 0.25, 0.5, 0.75, 1),
    )
    strip("noise", [shot("workshop", 300, detail=True, noise_filter=n) for n in (0, 3, 5)])


def tone_figures():
    """Highlights and shadows, the curves of the styles, the ends of film-style bodies."""
    light = np.linspace(-6, 3, 400)
    bent = {
        name: np.log2(tone.display(light, style("plain").tone, 3.0, h, s))
        for name, h, s in (
            ("as shipped", 0, 0),
            ("highlights +3", 1, 0),
            ("highlights -3", -1, 0),
            ("shadows +3", 0, 1.2),
            ("shadows -3", 0, -1.2),
        )
    }
    plot(
        "bend",
        {name: (light, shown) for name, shown in bent.items()},
        "stops of scene light over mid grey",
        "stops of display light under white",
        (-6, 3),
        (-10, 0),
        range(-6, 4),
        range(-10, 1, 2),
    )
    plot(
        "gamma",
        {name: (light, np.gradient(shown, light)) for name, shown in bent.items()},
        "stops of scene light over mid grey",
        "local gamma",
        (-6, 3),
        (0, 2),
        range(-6, 4),
        (0, 0.5, 1, 1.5, 2),
    )
    strip("hold", [shot("boatyard", 300, exposure=1.67, style=s) for s in ("plain", "linen")])
    plot(
        "hold",
        held_hues(),
        "stops over a hand-metered exposure",
        "degrees that light skin turns",
        (-1, 2.5),
        (-5, 25),
        (-1, 0, 1, 2),
        (0, 5, 10, 15, 20, 25),
    )
    strip(
        "bend",
        [
            shot("loft", 300, **d)
            for d in ({}, {"highlights": -3}, {"shadows": 3}, {"highlights": 2, "shadows": -2})
        ],
    )
    made = {s.name: (STOPS, _encoded(s)) for s in styles().values()}
    plot(
        "tone",
        made,
        "stops of scene light over mid grey",
        "encoded, 0 to 1",
        (-8, 4),
        (0, 1),
        range(-8, 5, 2),
        (0, 0.25, 0.5, 0.75, 1),
    )
    film = {
        n: (np.linspace(0, 1, 400), tone.filmed(np.linspace(0, 1, 400), tone.Film(**f)))
        for n, f in (
            ("as it is", {}),
            ("toe +1.8 stops", {"black_level": 0.079}),
            ("toe -1.2 stops", {"black_level": -0.079}),
            ("shoulder -0.4 stop", {"knee_point": 0.5, "knee_slope": -1}),
            ("shoulder +0.4 stop", {"knee_point": 0.5, "knee_slope": 1}),
        )
    }
    plot("film", film, "encoded in", "encoded out", (0, 1), (0, 1), (0, 0.5, 1), (0, 0.5, 1))


def colour_figures():
    """Depth by family, saturation, filters before a monochrome style."""
    hue = np.linspace(0, 360, 361)
    depth = {
        n: (
            hue,
            colouring._depth_circles((0.0,) * 6, tuple(float(k == j) for j in range(4))).max(0)[
                (hue * 12).astype(int)
            ],
        )
        for k, n in enumerate(("skin (pale)", "fire and rust (full)", "leaves", "sky and water"))
    }
    plot(
        "depth",
        depth,
        "Oklch hue, degrees",
        "share of a family's depth",
        (0, 360),
        (0, 1),
        range(0, 361, 60),
        (0, 0.5, 1),
    )
    strip(
        "colour",
        [shot("garden", 300, **d) for d in ({}, {"colour": -6}, {"colour": 6})],
    )
    strip(
        "mono",
        [
            shot("beach", 300, style="ink", mono_filter=f)
            for f in ("none", "yellow", "red", "green")
        ],
    )


def local_figures():
    """Clarity, sharpness and grain."""
    edge = cv2.GaussianBlur(
        np.repeat(np.where(np.arange(480) < 240, 0.3, 0.7)[None], 320, 0).astype(np.float32),
        (0, 0),
        0.8,
    )
    x = np.arange(480) - 240
    lines = {f"clarity {c:+d}": (x, _clarified(edge, 0.2 * c)[160]) for c in (0, 3, -3)}
    lines["a plain blur would"] = (
        x,
        (edge + 0.6 * (edge - cv2.GaussianBlur(edge, (0, 0), 12)))[160],
    )
    plot(
        "clarity",
        lines,
        "pixels from an edge",
        "encoded",
        (-60, 60),
        (0.1, 0.9),
        range(-60, 61, 30),
        (0.1, 0.3, 0.5, 0.7, 0.9),
    )
    strip("clarity", [shot("boatyard", 300, clarity=c) for c in (-3, 0, 3)])
    strip(
        "softening",
        [shot("boatyard", 300, detail=True, softening=s) for s in ("off", "slight", "strong")],
    )
    strip("sharpness", [shot("corner", 300, detail=True, sharpness=s) for s in (-3, 0, 3)])
    y = np.linspace(0, 1, 101, dtype=np.float32)
    plot(
        "grain",
        {"weight": (y, 4 * y * (1 - y))},
        "encoded brightness",
        "share of the stated RMS",
        (0, 1),
        (0, 1),
        (0, 0.5, 1),
        (0, 0.5, 1),
    )
    strip(
        "grain",
        [
            shot("boatyard", 300, detail=True, grain=g, style="ink")
            for g in ("flour", "salt", "sand", "grit")
        ],
    )


def file_figures():
    """Code values along a smooth sky."""
    sky = np.linspace(0.60, 0.64, 400)
    plot(
        "encode",
        {
            f"{b} bits {'limited' if lim else 'full'}": (
                np.arange(400),
                encode.quantised(sky.astype(np.float32), b, lim),
            )
            for b, lim in ((8, True), (8, False), (10, True))
        },
        "place along a smooth sky",
        "encoded",
        (0, 400),
        (0.60, 0.64),
        (0, 100, 200, 300, 400),
        (0.60, 0.61, 0.62, 0.63, 0.64),
    )


def stage_figures():
    """One plot and one strip for each stage of docs/pipeline.md."""
    for drawn in (
        sense_figures,
        shift_figures,
        noise_figures,
        tone_figures,
        colour_figures,
        local_figures,
        file_figures,
    ):
        drawn()


def _clarified(luma, amount):
    out = luma.copy()
    clarity.shape(out, Look(clarity=amount), alone(out.shape, 480))
    return out


def _encoded(which):
    made = point.Point(Look(style=which.id), which, 4.0, point.as_tuple(np.eye(3)), False)
    return made.grey_curve(0.18 * np.exp2(STOPS))


def main():
    PLOTS.mkdir(exist_ok=True)
    stage_figures()


if __name__ == "__main__":
    asked(__doc__)
    main()
