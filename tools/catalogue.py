"""Write docs/bodies.md, docs/styles.md and the sheet of the styles, from the code: make figures."""

import cv2
import numpy as np

from tools import asked
from tools.heart import DOCS, HERON, PLOTS, shot
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.measure.figures import measure
from zesty_plum.core.measure.views import zebras
from zesty_plum.core.styles import style, styles

SIX_SCENES = ("painters", "workshop", "beach", "table", "boatyard", "quayside")

BODIES_HEAD = """# Bodies

Written by `tools/catalogue.py` (`make figures`) from the files in `zesty_plum/core/bodies/`. All
bodies are invented.
"""
BODY = """
## {name}

{kind}. {about}

Edition {edition}. Base ISO {base:.0f}{native}, clips {headroom:g} stops above mid grey,
{electrons:.0f} electrons at mid grey and base ISO, read noise {noise:g}, {width} photosites across,
read out in {readout:.0f} ms. Its usual lens takes {vignette:g} stops from the corners wide open,
beside what every lens does.

| dial | takes | as shipped | a step means |
|---|---|---|---|
"""
BODIES_TAIL = """
## Adding one

A TOML file beside the others, nothing else (a test adds one): `name`, `kind`, `about`, `slots`,
`separate`, `[sensor]`, and `[[dials]]` in the order of work. A dial is numbers (`from`, `to`,
`step` or `thirds`), kelvin evenly spaced in mired (`mired_from`, `mired_to`, `mired_step`), or
`choices`. `adds` says what one unit adds to a field of the look (with `starts` for what it adds at
zero; or `adds_at` what each place adds, where even numbers would not be even steps), `sets` and
`sets_each` what is put there, `needs` when it counts: another dial at one of
`only`, at none of `not`, or at `least`. The fields are those of `core/look.py`, each with its unit.
What a dial is for comes from `texts/dials.toml` unless the body says it anew; `means` has to be
true for this body's steps.
"""


def bodies_page():
    """docs/bodies.md"""
    page = BODIES_HEAD
    for camera in bodies().values():
        s = camera.sensor
        native = f", a second native ISO at {s.second_iso:.0f}" if s.second_iso else ""
        page += BODY.format(
            name=camera.name,
            kind=camera.kind.capitalize(),
            about=camera.about,
            base=s.base_iso,
            native=native,
            headroom=s.headroom,
            electrons=s.electrons,
            noise=s.read_noise,
            width=s.width,
            edition=camera.edition,
            readout=1000 * s.readout,
            vignette=s.vignette,
        )
        for dial in camera.dials:
            page += (
                f"| {dial.label} (`{dial.id}`) | {dial.spelled()} | "
                f"{dial.choice(dial.default).label} | {dial.means} |\n"
            )
    (DOCS / "bodies.md").write_text(page + BODIES_TAIL)


STYLES_HEAD = """# Styles

Written by `tools/catalogue.py` (`make figures`). Every style, top to bottom in the order of the
table, on {scenes}:

![Styles](plots/styles.jpg)

![Tone curves](plots/tone.svg)

| style | for | contrast at mid grey | stops held | chroma against Plain | skin hue against Plain |
|---|---|---|---|---|---|
"""
STYLES_TAIL = """
## Sounding's curve

For scene light x with mid grey at 0.18, encoded = {grey} + log2((x + {offset}) / {sum:.3f}) /
{stops:g}; and back, x = {sum:.3f} x 2^({stops:g} (encoded - {grey})) - {offset}. `zesty-plum lut
RECIPE --input sounding` (or `ledger`) brings a clip back to light and develops it anew; into Plain
the round trip stays within CIEDE2000 0.2 on average and 1.5 for 99 of 100 pixels on our scenes (a
test holds it there, with the room that the clip has).

As cameras do, a body adds two stops of guard with it, and the least ISO that they ask for: whites
clip at {clips} percent of the scale, where stripes belong.

## Adding one

A TOML file in `zesty_plum/core/styles/` with a comment that gives the reason of its numbers.
`[tone]`: contrast at mid grey, grey, toe, black, keep_hue, or log_stops, log_grey, log_offset.
`[colour]`: twelve numbers around the Oklch hue circle for turn, chroma and lightness, or `mono`
weights and `toning`. `[figures]`: bands for contrast, chroma against Plain and skin_turn that tests
hold it to.
"""


def styles_page():
    """docs/styles.md and its sheet: every style on six scenes, figures measured."""
    names = [n for n in SIX_SCENES if n in scenes.index()]
    rows = [
        np.concatenate([cv2.resize(shot(n, 240, style=s), (240, 160)) for n in names], 1)
        for s in styles()
    ]
    cv2.imwrite(
        str(PLOTS / "styles.jpg"), np.concatenate(rows)[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 86]
    )
    page = STYLES_HEAD.format(scenes=", ".join(scenes.entry(n).title for n in names))
    plain = {n: _figures(n, "plain") for n in names}
    for which in styles().values():
        own = {n: _figures(n, which.id) for n in names}
        chroma = np.mean([own[n].frame.chroma for n in names]) / np.mean(
            [plain[n].frame.chroma for n in names]
        )
        turns = [
            own[n].skin.off_line - plain[n].skin.off_line
            for n in names
            if own[n].skin and own[n].skin.chroma > 3
        ]
        skin = f"{np.mean(turns):+.1f} degrees" if turns else "none"
        curve = own[names[0]].curve
        page += (
            f"| **{which.name}** | {which.purpose} | {curve.contrast:.2f} | "
            f"{curve.stops:.1f} | {chroma:.2f} | {skin} |\n"
        )
    log = style("sounding").tone
    page += STYLES_TAIL.format(
        grey=log.log_grey,
        offset=log.log_offset,
        sum=0.18 + log.log_offset,
        stops=log.log_stops,
        clips=" or ".join(
            f"{level} ({camera.name})"
            for camera in bodies().values()
            for level, words in zebras(camera)
            if words == "where Sounding clips"
        ),
    )
    (DOCS / "styles.md").write_text(page)


def _figures(scene_id, style_id):
    scene = scenes.load(scene_id)
    look, reference = HERON.interpret({"style": style_id}), HERON.interpret({})
    picture, plain = (develop(scene, x, HERON.sensor, 480) for x in (look, reference))
    return measure(scene, look, HERON.sensor, picture, plain.overview_lab)


if __name__ == "__main__":
    asked(__doc__)
    bodies_page()
    styles_page()
