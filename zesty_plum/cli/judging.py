"""Measuring a recipe, comparing two, moving one to another body, and coming near a picture."""

import json
from dataclasses import asdict
from pathlib import Path

import click

from ..core import scenes
from ..core.base.errors import PlumError
from ..core.base.saving import save
from ..core.bodies import body
from ..core.judge.rules import SCHOOLS
from ..core.judge.verdicts import judge
from ..core.judge.workbench import LOOK_AT
from ..core.measure.looking import apart, look_at
from ..core.pictures.read import read
from ..core.recipe import dumps
from ..core.scenes.scene import Scene
from ..core.translate import translate
from ..core.translate.nearest import nearest
from .common import BODY_FILES, EXAMPLE, JSON, print_json, read_bytes, told_faults
from .given import read_recipe


@click.command(
    "compare", epilog=EXAMPLE + "zesty-plum compare a.plum.json b.plum.json --scene boatyard --json"
)
@click.argument("first")
@click.argument("second")
@click.option("--scene", required=True, help="Id of a sample scene.")
@JSON
@BODY_FILES
@told_faults
def compare_recipes(first: str, second: str, scene: str, as_json: bool) -> None:
    """Say how far two recipes are apart on a scene (CIEDE2000)."""
    if first == second == "-":
        raise PlumError("Only one of the two recipes can come from standard input.")
    a, b = read_recipe(first), read_recipe(second)
    source = scenes.load(scene)
    found = apart(source, a, b).whole
    dials = a.differing(b)
    if as_json:
        rows = [{"dial": d, "a": x, "b": y} for d, x, y in dials]
        print_json(
            {"scene": scene, "a": a.name, "b": b.name, "ciede2000": asdict(found), "dials": rows}
        )
        return
    click.echo(
        f"CIEDE2000 {found.mean:.2f} mean, {found.p95:.2f} in the worst 5 %, "
        f"{found.most:.2f} at most"
    )
    for label, x, y in dials:
        click.echo(f"{label}: {x} | {y}")


@click.command(
    "measure",
    epilog=EXAMPLE + "zesty-plum measure slack-tide.plum.json --scene workshop --json",
)
@click.argument("recipe")
@click.option("--scene", required=True, help="Id of a sample scene.")
@click.option(
    "--school",
    "schools",
    multiple=True,
    type=click.Choice(sorted(SCHOOLS)),
    help="A preference of yours; can be repeated.",
)
@JSON
@BODY_FILES
@told_faults
def measure_recipe(recipe: str, scene: str, schools: tuple[str, ...], as_json: bool) -> None:
    """Measure RECIPE on a scene and judge it by what its files are for."""
    made, source = read_recipe(recipe), scenes.load(scene)
    report = look_at(source, made, LOOK_AT).report
    verdicts = judge(source, made, frozenset(schools))
    if as_json:
        print_json(
            {
                "scene": scene,
                "recipe": made.name,
                "intent": made.intent,
                "figures": report.as_dict(),
                "verdicts": [asdict(v) for v in verdicts],
            }
        )
        return
    rows = {"frame": report.frame, **report.regions}
    click.echo("region          clipped  crushed     L*   chroma  from Plain   noise")
    for name, f in rows.items():
        shares = f"{100 * f.clipped:6.1f}%  {100 * f.crushed:6.1f}%"
        click.echo(
            f"{name:<15} {shares}  {f.lightness:5.1f}  {f.chroma:7.1f}  {f.from_plain:10.1f}  "
            f"{f.noise:6.2f}"
        )
    for verdict in verdicts:
        click.echo(
            f"{verdict.sentence} {verdict.remedy.sentence if verdict.remedy else ''}".strip()
        )
    if not verdicts:
        click.echo("Nothing to say against it in this scene.")


@click.command(
    "translate",
    epilog=EXAMPLE
    + "zesty-plum translate slack-tide.plum.json --to wader-v1 -o wader.plum.json --json",
)
@click.argument("recipe")
@click.option("--to", "to", required=True, help="Id of the other body.")
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help=".plum.json")
@click.option("--scene", help="Id of a scene that is to match above others.")
@JSON
@BODY_FILES
@told_faults
def translate_recipe(recipe: str, to: str, output: Path, scene: str | None, as_json: bool) -> None:
    """Find the nearest recipe on another body and say what remains."""
    at_hand = scenes.load(scene) if scene else None
    found = translate(read_recipe(recipe), body(to), scene=at_hand)
    save(output, dumps(found.recipe).encode())
    changed = found.recipe.camera.changed(found.recipe.dials)
    if as_json:
        print_json(
            {
                "recipe": str(output),
                "body": to,
                "dials": changed,
                "ciede2000": {"mean": found.mean, "p95": found.p95},
                "here": found.here and {"mean": found.here.mean, "p95": found.here.p95},
                "texture": found.texture,
                "words": found.words,
            }
        )
        return
    click.echo(
        f"CIEDE2000 {found.mean:.2f} mean, {found.p95:.2f} in the worst 5 %. "
        f"{' '.join(found.words)}"
    )
    for name, value in changed.items():
        click.echo(
            f"{found.recipe.camera.dial(name).label}: "
            f"{found.recipe.camera.dial(name).choice(value).label}"
        )


@click.command(
    "nearest",
    epilog=EXAMPLE + "zesty-plum nearest loved.jpg --body heron-m2 -o near-it --json",
)
@click.argument("pictures", nargs=-1, required=True)
@click.option("--body", "body_id", required=True, help="Id of the body that is to come near.")
@click.option("--plain", help="The first picture without a look: the same, developed plainly.")
@click.option(
    "-o", "--output", help="Write the recipes to files of this name, -1.plum.json and so on."
)
@JSON
@BODY_FILES
@told_faults
def nearest_recipes(
    pictures: tuple[str, ...], body_id: str, plain: str | None, output: str | None, as_json: bool
) -> None:
    """Find recipes, at most three, that come near finished PICTURES."""
    loved = [_looked_at(path) for path in pictures]
    answer = nearest(loved, body(body_id), _looked_at(plain) if plain else None)
    files = []
    for number, near in enumerate(answer.found, 1):
        if output:
            file = Path(f"{output}-{number}.plum.json")
            save(file, dumps(near.recipe).encode())
            files.append(str(file))
    if as_json:
        print_json(
            {
                "body": body_id,
                "by": answer.by,
                "recipes": [
                    {
                        "recipe": json.loads(dumps(near.recipe)),
                        "dials": near.recipe.camera.changed(near.recipe.dials),
                        "distance": near.distance,
                        "words": list(near.words),
                    }
                    for near in answer.found
                ],
                "unknown": list(answer.unknown),
                "files": files,
            }
        )
        return
    click.echo(f"Compared {answer.by}.")
    for near in answer.found:
        camera = near.recipe.camera
        changed = camera.changed(near.recipe.dials)
        told = [
            f"{camera.dial(k).label} {camera.dial(k).choice(v).label}" for k, v in changed.items()
        ]
        click.echo(f"{near.recipe.name}: {', '.join(told) or 'as shipped'}. {' '.join(near.words)}")
    click.echo("Not known: " + " ".join(answer.unknown))


def _looked_at(path: str) -> Scene:
    return read(read_bytes(path), Path(path).name, "own-loved")
