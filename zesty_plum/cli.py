"""The same work from a shell: results to standard output, messages to standard error."""

import json
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import asdict, replace
from datetime import UTC, datetime
from functools import wraps
from pathlib import Path
from typing import Any

import click

from . import __version__
from .core import lut as luts
from .core import recipe as recipes
from .core import scenes as shipped
from .core.bodies import FIRST, bodies, body
from .core.develop.pipeline import develop
from .core.errors import PlumError
from .core.judge.rules import SCHOOLS
from .core.judge.verdicts import judge
from .core.measure import figures
from .core.measure.compare import difference, to_lab
from .core.paper import card as cards
from .core.pictures.read import MOST_BYTES, read
from .core.pictures.write import encode, file_of, save
from .core.recipe import Recipe
from .core.scenes.scene import Scene
from .core.styles import styles
from .core.translate import translate as move
from .memory import keep_freed
from .store.backup import MOST_UNPACKED

JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
EXAMPLES = "Example:\n\n  "
DETAIL_WIDTH = 960  # of a 100 % plate
CARD_WIDTH = 1080


def _faults(command: Callable[..., None]) -> Callable[..., None]:
    """Turn a fault of the input into one sentence and exit code 1."""

    @wraps(command)
    def wrapped(*args: Any, **kwargs: Any) -> None:
        try:
            command(*args, **kwargs)
        except PlumError as error:
            click.echo(str(error), err=True)
            sys.exit(1)
        except BrokenPipeError:
            sys.exit(0)

    return wrapped


def _bytes(path: str) -> bytes:
    if path == "-":
        return sys.stdin.buffer.read(MOST_BYTES + 1)
    try:
        file = Path(path)
        if file.stat().st_size > MOST_BYTES:
            raise PlumError(f"'{path}' is over 100 MB. Choose a smaller file.")
        return file.read_bytes()
    except OSError as error:
        raise PlumError(f"'{path}' cannot be read: {error.strerror}.") from error


def _recipe(path: str) -> Recipe:
    """A recipe from a file, from '-', or from a picture that carries one."""
    data = _bytes(path)
    if data[:2] == b"\xff\xd8" or data[:4] == b"\x89PNG":
        from .core.pictures.metadata import find

        found = find(data)
        if found is None:
            raise PlumError(f"The picture '{path}' carries no recipe. Give a recipe file.")
        return found
    return recipes.loads(data)


def _print(data: Any) -> None:
    click.echo(json.dumps(data, ensure_ascii=False, indent=2))


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="zesty-plum")
def main() -> None:
    """Design, see, compare and carry in-camera look recipes."""


def _run(data: Path, host: str, port: int, with_demo: bool) -> None:
    import logging

    from waitress import create_server

    from .web import create_app
    from .web.security import LOOPBACK

    if host not in LOOPBACK:
        raise PlumError(
            "Zesty Plum is not protected by a password yet, so it answers on 127.0.0.1 only, "
            f"not on {host}."
        )
    keep_freed()
    app = create_app(data)
    if with_demo:
        from . import demo as crew
        from .store import database, shelf, slips

        with database.connect(data / "plum.db") as db:
            if not shelf.count(db) and not shelf.count(db, deleted=True):
                made: dict[str, slips.Slip] = {}
                for each in crew.recipes():
                    older = made.get(crew.VARIED_FROM.get(each.name, ""))
                    now = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
                    made[each.name] = slips.create(db, each, now, (older.id, 1) if older else None)
                    for tag in crew.TAGS.get(each.name, []):
                        shelf.tag(db, [made[each.name].id], tag)
        db.close()
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    try:
        server = create_server(
            app,
            host=host,
            port=port,
            threads=6,
            channel_timeout=60,
            ident=None,
            max_request_body_size=MOST_UNPACKED,
        )
    except OSError as error:
        raise PlumError(
            f"Port {port} is taken by another program. Choose another with --port."
        ) from error
    click.echo(
        "Zesty Plum is open at "
        f"http://{'127.0.0.1' if host == 'localhost' else host}:{server.effective_port}/",
        err=False,
    )
    sys.stdout.flush()
    threading.Thread(target=_warm, daemon=True).start()
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()


def _warm() -> None:
    """Load the first scene and build the first tables, so that the first picture does not wait for
    them."""
    from .web.address import FIRST_BODY, FIRST_SCENE

    time.sleep(0.05)
    camera, scene = body(FIRST_BODY), shipped.load(FIRST_SCENE)
    develop(scene, camera.interpret({}), camera.sensor, 720)
    ready()


def ready() -> None:
    """Run every compiled loop once. The first time on a machine it compiles them and keeps the
    result on disk; `make` does that when it installs, so that nobody's first picture waits for it.
    """
    camera, scene = body(FIRST), shipped.load("corner")
    every = {
        "style": "linen",
        "density": 1,
        "clarity": 1,
        "sharpness": 1,
        "noise_filter": 1,
        "grain": 1,
    }
    pictures = [develop(scene, camera.interpret(dials), camera.sensor, 96) for dials in (every, {})]
    difference(*map(to_lab, pictures))


@main.command(epilog=EXAMPLES + "zesty-plum demo --port 8760")
@click.option(
    "--port",
    type=click.IntRange(0, 65535),
    default=8760,
    show_default=True,
    help="0 takes a free one.",
)
@click.option(
    "--data", type=click.Path(path_type=Path), default=Path("data/demo"), show_default=True
)
@_faults
def demo(port: int, data: Path) -> None:
    """Start with the slips of a made-up picture crew."""
    _run(data, "127.0.0.1", port, with_demo=True)


@main.command(epilog=EXAMPLES + "zesty-plum serve --data ~/looks")
@click.option("--data", type=click.Path(path_type=Path), required=True)
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option(
    "--port",
    type=click.IntRange(0, 65535),
    default=8760,
    show_default=True,
    help="0 takes a free one.",
)
@_faults
def serve(data: Path, host: str, port: int) -> None:
    """Start on a data folder of your own."""
    _run(data, host, port, with_demo=False)


def _scene(scene: str | None, picture: str | None) -> Scene:
    if (scene is None) == (picture is None):
        raise click.UsageError("Give either --scene or --picture.")
    if picture is not None:
        return read(_bytes(picture), Path(picture).name, "own-picture")
    assert scene is not None
    return shipped.load(scene)


@main.command(
    epilog=EXAMPLES + "zesty-plum render slack-tide.plum.json --scene boatyard -o tide.jpg"
)
@click.argument("recipe")
@click.option("--scene", help="Id of a sample scene.")
@click.option("--picture", help="A picture of your own: JPEG, PNG, TIFF, DNG or raw.")
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
@_faults
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
    source = _scene(scene, picture)
    made = _recipe(recipe)
    most = source.plate.shape[1] if detail and source.plate is not None else source.size[0]
    if width and width > most:
        raise PlumError(
            f"'{source.title}' is {most} pixels wide{' at 100 %' if detail else ''} and is "
            "not enlarged; choose --width up to that."
        )
    size = width or (min(DETAIL_WIDTH, most) if detail else most)
    developed = develop(
        replace(source, spot=spot), made.look, made.camera.sensor, size, seed, detail, as_written
    )
    save(output, encode(developed, made, output.suffix.lower(), bits))
    click.echo(
        f"{output}: {developed.pixels.shape[1]} x {developed.pixels.shape[0]} pixels", err=True
    )


@main.command(epilog=EXAMPLES + "zesty-plum lut slack-tide.plum.json -o tide.cube --size 33")
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
    type=click.Choice(luts.OFFSETS),
    default="0",
    show_default=True,
    help="Stops added to the exposure.",
)
@_faults
def lut(recipe: str, output: Path, size: int, source: str, offset: str) -> None:
    """Write RECIPE as a LUT for a finished neutral picture."""
    kinds = {".cube": luts.cube, ".clf": luts.clf}
    if output.suffix.lower() not in kinds:
        raise PlumError(f"LUTs are written as .cube or .clf, not '{output.suffix}'.")
    save(
        output, kinds[output.suffix.lower()](_recipe(recipe), size, source, float(offset)).encode()
    )
    click.echo(f"{output}: {luts.LEFT_OUT}", err=True)


@main.command(
    epilog=EXAMPLES
    + "zesty-plum card slack-tide.plum.json -o slack-tide.png --scene boatyard --scene table"
)
@click.argument("recipe")
@click.option("-o", "--output", required=True, type=click.Path(path_type=Path), help=".png or .jpg")
@click.option(
    "--scene",
    "scenes",
    multiple=True,
    required=True,
    help="Up to three sample scenes, the telling one first.",
)
@click.option(
    "--shape", type=click.Choice(list(cards.SHAPES)), default="portrait", show_default=True
)
@_faults
def card(recipe: str, output: Path, scenes: tuple[str, ...], shape: str) -> None:
    """Draw the card of RECIPE: renders, dials, note, and a code that holds it whole."""
    if output.suffix.lower() not in (".png", ".jpg", ".jpeg"):
        raise PlumError(f"Cards are written as .png or .jpg, not '{output.suffix}'.")
    if len(scenes) > 3:
        raise PlumError(f"A card has room for three pictures, not {len(scenes)}.")
    made = _recipe(recipe)
    renders = [
        develop(shipped.load(s), made.look, made.camera.sensor, CARD_WIDTH).pixels for s in scenes
    ]
    save(output, file_of(cards.draw(made, renders, shape), made, output.suffix.lower()))


@main.command(
    epilog=EXAMPLES + "zesty-plum compare a.plum.json b.plum.json --scene boatyard --json"
)
@click.argument("first")
@click.argument("second")
@click.option("--scene", required=True, help="Id of a sample scene.")
@JSON
@_faults
def compare(first: str, second: str, scene: str, as_json: bool) -> None:
    """Say how far two recipes are apart on a scene (CIEDE2000)."""
    if first == second == "-":
        raise PlumError("Only one of the two recipes can come from standard input.")
    a, b = _recipe(first), _recipe(second)
    source = shipped.load(scene)
    found = difference(*(to_lab(develop(source, r.look, r.camera.sensor, 960)) for r in (a, b)))
    dials = a.differing(b)
    if as_json:
        rows = [{"dial": d, "a": x, "b": y} for d, x, y in dials]
        _print(
            {"scene": scene, "a": a.name, "b": b.name, "ciede2000": asdict(found), "dials": rows}
        )
        return
    click.echo(
        f"CIEDE2000 {found.mean:.2f} mean, {found.p95:.2f} at the worst twentieth, "
        f"{found.most:.2f} at most"
    )
    for label, x, y in dials:
        click.echo(f"{label}: {x} | {y}")


@main.command(epilog=EXAMPLES + "zesty-plum measure slack-tide.plum.json --scene workshop --json")
@click.argument("recipe")
@click.option("--scene", required=True, help="Id of a sample scene.")
@click.option(
    "--school",
    "schools",
    multiple=True,
    type=click.Choice(sorted(SCHOOLS)),
    help="What you decide for yourself; can be repeated.",
)
@JSON
@_faults
def measure(recipe: str, scene: str, schools: tuple[str, ...], as_json: bool) -> None:
    """Measure RECIPE on a scene and judge it by what its files are for."""
    made, source = _recipe(recipe), shipped.load(scene)
    camera = made.camera
    picture, plain = (
        develop(source, look, camera.sensor, 960) for look in (made.look, camera.interpret({}))
    )
    report = figures.measure(source, made.look, camera.sensor, picture, plain)
    verdicts = judge(source, made, frozenset(schools))
    if as_json:
        _print(
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


@main.command(
    epilog=EXAMPLES
    + "zesty-plum translate slack-tide.plum.json --to wader-v1 -o wader.plum.json --json"
)
@click.argument("recipe")
@click.option("--to", "to", required=True, help="Id of the other body.")
@click.option("-o", "--output", type=click.Path(path_type=Path), required=True, help=".plum.json")
@JSON
@_faults
def translate(recipe: str, to: str, output: Path, as_json: bool) -> None:
    """Find the nearest recipe on another body and say what remains."""
    found = move(_recipe(recipe), body(to))
    save(output, recipes.dumps(found.recipe).encode())
    changed = found.recipe.camera.changed(found.recipe.dials)
    if as_json:
        _print(
            {
                "recipe": str(output),
                "body": to,
                "dials": changed,
                "ciede2000": {"mean": found.mean, "p95": found.p95},
                "texture": found.texture,
                "words": found.words,
            }
        )
        return
    click.echo(
        f"CIEDE2000 {found.mean:.2f} mean, {found.p95:.2f} at the worst twentieth. "
        f"{' '.join(found.words)}"
    )
    for name, value in changed.items():
        click.echo(
            f"{found.recipe.camera.dial(name).label}: "
            f"{found.recipe.camera.dial(name).choice(value).label}"
        )


@main.command("bodies", epilog=EXAMPLES + "zesty-plum bodies --json")
@JSON
@_faults
def list_bodies(as_json: bool) -> None:
    """List camera bodies."""
    rows = [
        {
            "id": b.id,
            "name": b.name,
            "kind": b.kind,
            "base_iso": b.sensor.base_iso,
            "slots": b.slots,
        }
        for b in bodies().values()
    ]
    _list(
        rows,
        as_json,
        lambda r: (
            f"{r['id']}  {r['name']}, {r['kind']}, base ISO {r['base_iso']:g}, {r['slots']} slots"
        ),
    )


@main.command("styles", epilog=EXAMPLES + "zesty-plum styles")
@JSON
@_faults
def list_styles(as_json: bool) -> None:
    """List picture styles."""
    rows = [{"id": s.id, "name": s.name, "purpose": s.purpose} for s in styles().values()]
    _list(rows, as_json, lambda r: f"{r['id']}  {r['purpose']}")


@main.command("scenes", epilog=EXAMPLES + "zesty-plum scenes --json")
@JSON
@_faults
def list_scenes(as_json: bool) -> None:
    """List sample scenes."""
    rows = [asdict(e) for e in shipped.index().values()]
    _list(
        rows,
        as_json,
        lambda r: f"{r['id']}  {r['title']}: {r['story']} ({r['kelvin']:.0f} K, EV {r['ev100']:g})",
    )


@main.command("dials", epilog=EXAMPLES + "zesty-plum dials heron-m2 --json")
@click.argument("body_id", metavar="BODY")
@JSON
@_faults
def list_dials(body_id: str, as_json: bool) -> None:
    """List the dials of BODY with their values."""
    rows = [
        {
            "id": d.id,
            "label": d.label,
            "values": list(d.values),
            "default": d.default,
            "unit": d.unit,
            "purpose": d.purpose,
            "step": d.means,
            "later": d.later,
        }
        for d in body(body_id).dials
    ]
    _list(
        rows,
        as_json,
        lambda r: f"{r['id']}  {body(body_id).dial(r['id']).spelled()} (as shipped {r['default']})",
    )


@main.command("schema", epilog=EXAMPLES + "zesty-plum schema > recipe.schema.json")
@_faults
def print_schema() -> None:
    """Print the JSON Schema of the recipe file."""
    _print(recipes.schema())


def _list(rows: list[dict[str, Any]], as_json: bool, line: Callable[[dict[str, Any]], str]) -> None:
    if as_json:
        _print(rows)
        return
    for row in rows:
        click.echo(line(row))
