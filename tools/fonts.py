"""Makes the faces that cards and sheets are set in: fixed weights of the application's own
typefaces, as TrueType.

python tools/fonts.py FALLBACK.ttf...   the files given are taken in without their hints, for other
scripts.
"""

import tempfile
from pathlib import Path

from fontTools import merge, subset
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

from tools import asked

ROOT = Path(__file__).parents[1] / "zesty_plum"
FROM, TO = ROOT / "web/static/fonts", ROOT / "core/paper/fonts"
FACES = {
    "head": ("bricolage-grotesque", 700),
    "text": ("atkinson-hyperlegible-next", 400),
    "bold": ("atkinson-hyperlegible-next", 700),
    "mono": ("atkinson-hyperlegible-mono", 600),
}


def fixed(family: str, part: str, weight: int, folder: Path) -> Path:
    """One weight of one part of a variable typeface."""
    font = instancer.instantiateVariableFont(
        TTFont(FROM / f"{family}-{part}-wght-normal.woff2"), {"wght": weight}
    )
    font.flavor = None
    path = folder / f"{family}-{part}.ttf"
    font.save(path)
    return path


def unhinted(path: Path) -> None:
    """All glyphs of a typeface without the instructions for coarse screens."""
    options = subset.Options(
        hinting=False, layout_features=["*"], glyph_names=False, name_IDs=[0, 1, 2, 4, 6, 13, 14]
    )
    font = subset.load_font(str(path), options)
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=font.getBestCmap())
    cutter.subset(font)
    font.save(TO / path.name)


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as folder:
        for name, (family, weight) in FACES.items():
            parts = [
                str(fixed(family, part, weight, Path(folder))) for part in ("latin", "latin-ext")
            ]
            merge.Merger(merge.Options(drop_tables=["STAT", "MVAR", "HVAR", "avar", "DSIG"])).merge(
                parts
            ).save(TO / f"{name}.ttf")
    for given in asked(__doc__).names:
        unhinted(Path(given))
