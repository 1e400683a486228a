"""Write docs/scenes.md and its two contact sheets: every scene through Plain, and its labelled
regions."""

from pathlib import Path

import cv2
import numpy as np

from tools import asked
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.recipe import make

DOCS = Path(__file__).parents[1] / "docs"
WIDE, ACROSS = 480, 3
INKS = [
    (122, 29, 74),
    (240, 164, 0),
    (38, 120, 178),
    (58, 140, 70),
    (200, 70, 50),
    (120, 110, 200),
    (20, 160, 160),
    (190, 120, 160),
    (150, 150, 40),
    (90, 90, 90),
    (230, 110, 170),
    (60, 60, 160),
    (160, 90, 40),
]


def sheet(pictures):
    """Pictures side by side on a neutral mount, in rows of `ACROSS`."""
    high, gap = WIDE * 2 // 3, 12
    rows = -(-len(pictures) // ACROSS)
    page = np.full((rows * (high + gap) + gap, ACROSS * (WIDE + gap) + gap, 3), 201, np.uint8)
    for k, picture in enumerate(pictures):
        top, left = gap + (k // ACROSS) * (high + gap), gap + (k % ACROSS) * (WIDE + gap)
        page[top : top + high, left : left + WIDE] = picture
    return page


def regions_over(picture, scene):
    """The picture greyed, its regions tinted."""
    grey = np.repeat(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)[..., None], 3, 2)
    mask = cv2.resize(scene.mask, picture.shape[1::-1], interpolation=cv2.INTER_NEAREST)
    tinted = grey.copy()
    for k in range(1, len(scene.regions) + 1):
        inside = mask == k
        tinted[inside] = (0.45 * grey[inside] + 0.55 * np.array(INKS[(k - 1) % len(INKS)])).astype(
            np.uint8
        )
    return tinted


def text():
    lines = [
        "# The sample scenes",
        "",
        "Written by `tools/scenes.py` (`make figures`); figures come from each `scene.toml`, "
        "which tests hold to the pixels.",
        "",
        "Through Plain on the Heron M2 as shipped, in the order of the table:",
        "",
        "![The scenes](screenshots/scenes.jpg)",
        "",
        "Labelled regions, tinted in the order in which they are listed:",
        "",
        "![Their regions](screenshots/scene-regions.jpg)",
        "",
        "| scene | story | light at the subject | lights | range | EV100 | moves across the frame "
        "| dials it is good for | regions |",
        "|---|---|---|---|---|---|---|---|---|",
    ]
    for e in scenes.index().values():
        lights = "; ".join(
            f"{x.kind} {x.kelvin:.0f} K, Duv {x.duv:+.3f}, {x.lux:.3g} lx" for x in e.lights
        )
        cells = [
            f"**{e.title}** (`{e.id}`, {e.group})",
            e.story,
            f"{e.kelvin:.0f} K, Duv {e.duv:+.3f}",
            lights,
            f"{e.stops:.1f} stops",
            f"{e.ev100}",
            "; ".join(f"{m.what} {m.speed:g} m/s" for m in e.moves) or "nothing",
            ", ".join(e.good_for),
            ", ".join(e.regions),
        ]
        lines.append(f"| {' | '.join(cells)} |")
    lines += [
        "",
        "Range is that between the 0.1st and 99.9th percentile of luminance. Lux follow from "
        "EV100 by the incident-light",
        "equation with C = 250. Every scene also has a detail plate: 960 x 640 pixels of the "
        "same view as a 24-megapixel",
        "frame would hold them. What each is made of stands in `scenes/CREDITS.md`.",
    ]
    return "\n".join(lines) + "\n"


def main():
    recipe = make("As shipped", "heron-m2", {})
    sensor, pictures, tinted = body("heron-m2").sensor, [], []
    for name in scenes.index():
        scene = scenes.load(name)
        picture = develop(scene, recipe.look, sensor, WIDE).pixels
        pictures.append(picture)
        tinted.append(regions_over(picture, scene))
    for name, images in (("scenes", pictures), ("scene-regions", tinted)):
        cv2.imwrite(
            str(DOCS / "screenshots" / f"{name}.jpg"),
            sheet(images)[..., ::-1],
            [cv2.IMWRITE_JPEG_QUALITY, 88],
        )
    (DOCS / "scenes.md").write_text(text())


if __name__ == "__main__":
    asked(__doc__)
    main()
