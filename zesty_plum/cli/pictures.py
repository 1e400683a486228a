"""Pictures, LUTs and cards from a recipe."""

from dataclasses import replace
from pathlib import Path

import click

from ..core import scenes
from ..core.base.errors import PlumError
from ..core.base.saving import save
from ..core.develop.pipeline import Passage, develop
from ..core.exchange import lut
from ..core.paper import card
from ..core.pictures.write import check_kind, file_of
from .common import BODY_FILES, EXAMPLE, told_faults
from .given import read_recipe, scene_of

DETAIL_WIDTH = 960  # of a 100 % plate
CARD_WIDTH = 1080


@click.command(
    epilog=EXAMPLE + "zesty-plum render slack-tide.plum.json --scene boatyard -o tide.jpg"
)
@click.argument("recipe")
@click.option("--scene", help="Id of a sample scene.")
@click.option("--picture", help="A picture of your own: JPEG, PNG, TIFF, WebP, HEIC, DNG or raw.")
@click.option(
    "-o", "--output", required=True, type=click.Path(path_type=Path), help=".jpg, .png or .tif"
)
@click.option(
    "--width",
    type=click.IntRange(16, 10000),
    help="Width in pixels; the picture's own when left out.",
)
@click.option(
    "--seed", type=click.IntRange(0), default=1, show_default=True, help="Seed of noise and grain."
)
@click.option("--detail", is_flag=True, help="The scene's telling part at 100 %.")
@click.option(
    "--bits", type=int, default=8, show_default=True, help="8 or 16; 16 for .png and .tif."
)
@click.option(
    "--spot",
    type=(click.FloatRange(0, 1), click.FloatRange(0, 1)),
    help="Where spot metering looks: shares of width, height.",
)
@click.option(
    "--as-written",
    is_flag=True,
    help="Rounded to the code values that a clip of this recipe would hold.",
)
@BODY_FILES
@told_faults
def render(
    recipe: str,
    scene: str | None,
    picture: str | None,
    output: Path,
    width: int | None,
    seed: int,
    detail: bool,
    bits: int,
    spot: tuple[float, float] | None,
    as_written: bool,
) -> None:
    """Render RECIPE (a file, or - for standard input) on a scene or picture."""
    check_kind(output.suffix.lower(), bits)
    source = scene_of(scene, picture)
    made = read_recipe(recipe)
    most = source.plate.shape[1] if detail and source.plate is not None else source.size[0]
    if width and width > most:
        raise PlumError(
            f"'{source.title}' is {most} pixels wide{' at 100 %' if detail else ''} and is "
            "not enlarged; choose --width up to that."
        )
    size = width or (min(DETAIL_WIDTH, most) if detail else most)
    source, sensor = replace(source, spot=spot), made.camera.sensor
    passage = Passage(source, made.look, sensor, size, seed, detail, as_written)
    samples = passage.samples(deep=bits == 16)
    save(output, file_of(samples, made, output.suffix.lower()))
    click.echo(f"{output}: {samples.shape[1]} x {samples.shape[0]} pixels", err=True)


@click.command("lut", epilog=EXAMPLE + "zesty-plum lut slack-tide.plum.json -o tide.cube --size 33")
@click.argument("recipe")
@click.option(
    "-o", "--output", required=True, type=click.Path(path_type=Path), help=".cube or .clf"
)
@click.option("--size", type=int, default=33, show_default=True)
@click.option(
    "--input", "source", default="srgb", show_default=True, help="What the table is applied to."
)
@click.option(
    "--offset",
    type=click.Choice(lut.OFFSETS),
    default="0",
    show_default=True,
    help="Stops added to the exposure.",
)
@BODY_FILES
@told_faults
def write_lut(recipe: str, output: Path, size: int, source: str, offset: str) -> None:
    """Write RECIPE as a LUT for a finished neutral picture."""
    kinds = {".cube": lut.cube, ".clf": lut.clf}
    if output.suffix.lower() not in kinds:
        raise PlumError(f"LUTs are written as .cube or .clf, not '{output.suffix}'.")
    write = kinds[output.suffix.lower()]
    save(output, write(read_recipe(recipe), size, source, float(offset)).encode())
    click.echo(f"{output}: {lut.LEFT_OUT}", err=True)


@click.command(
    "card",
    epilog=EXAMPLE + "zesty-plum card slack-tide.plum.json -o slack-tide.png --scene boatyard",
)
@click.argument("recipe")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help=".png or .jpg")
@click.option(
    "--scene",
    "shown",
    multiple=True,
    default=scenes.SHOWN,
    show_default=True,
    help="Up to three sample scenes, the telling one first.",
)
@click.option(
    "--shape", type=click.Choice(list(card.SHAPES)), default="portrait", show_default=True
)
@BODY_FILES
@told_faults
def draw_card(recipe: str, output: Path, shown: tuple[str, ...], shape: str) -> None:
    """Draw the card of RECIPE: renders, dials, note, and a code that holds it whole."""
    if output.suffix.lower() not in (".png", ".jpg", ".jpeg"):
        raise PlumError(f"Cards are written as .png or .jpg, not '{output.suffix}'.")
    if len(shown) > 3:
        raise PlumError(f"A card has room for three pictures, not {len(shown)}.")
    made = read_recipe(recipe)
    renders = [
        develop(scenes.load(s), made.look, made.camera.sensor, CARD_WIDTH).pixels for s in shown
    ]
    save(output, file_of(card.draw(made, renders, shape), made, output.suffix.lower()))
