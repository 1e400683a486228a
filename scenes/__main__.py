"""Render sample scenes: python -m scenes [--draft] [--close] [--moves] NAME...

Each scene runs in a process of its own that is started again when the renderer dies; finished
passes are kept under scenes/work/, so nothing is rendered twice.
"""

import argparse
import importlib
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

from .kit import assets, files

HERE = Path(__file__).parent
TRIES = 20
DRAWN = ("corner",)  # computed, not rendered


def names():
    """All scenes: every program beside this one."""
    return sorted(p.stem for p in HERE.glob("*.py") if not p.stem.startswith("_"))


def render(name, draft, moves, close):
    """Make one scene: frame and detail plate, masks, readings of its lights, files; or with `moves`
    only the maps of what moves in it. A `draft` is a small frame, or with `close` a noisy plate."""
    if name in DRAWN:
        importlib.import_module(f"scenes.{name}").main()
        return
    from .kit import finish

    program = importlib.import_module(f"scenes.{name}")
    work = HERE / "work" / (name + ("-close" if close else "-draft" if draft else ""))
    work.mkdir(parents=True, exist_ok=True)
    scene, people, view, meter = program.make(work)
    if moves:
        found = getattr(program, "MOVES", ())
        shots = (finish.frame(), finish.detail_plate(view))
        maps = {s.name: finish.shape_map(scene, people, view, s) for s in shots if found}
        maps = {shot: finish.move_map(*shapes, found) for shot, shapes in maps.items()}
        files.write_moves(name, program, maps)
        return
    readings = finish.light_readings(scene, meter, program.LIGHTS, work / "readings.npy")
    gain = 0.18 / float(readings.sum(0) @ finish.LUMINANCE)
    readings, pictures = readings * gain, {}
    shots = (finish.frame(draft), *(() if draft else (finish.detail_plate(view),)))
    if close:
        draft, shots = True, (replace(finish.detail_plate(view), samples=6),)
    for shot in shots:
        linear, ids, known = finish.render_shot(scene, people, view, shot, work)
        pictures[shot.name] = (
            linear * gain,
            finish.label_mask(ids, known, program.REGIONS, linear * gain),
            finish.move_map(ids, known, getattr(program, "MOVES", ())),
        )
        finish.look(linear * gain, work / f"{shot.name}.png", readings.sum(0))
    if not draft:
        files.write(name, program, pictures, readings)
    linear, mask, _ = next(iter(pictures.values()))
    sizes = {k: int((mask == i).sum()) for i, k in enumerate(program.REGIONS, 1)}
    print(f"{name}: {files.measured_range(linear):.1f} stops, regions {sizes}")
    for light, reading in zip(program.LIGHTS, readings):
        print(
            "  {}: {:.0f} K, Duv {:.4f}, share {:.2f}".format(
                light["kind"],
                *files.colour_temperature(reading),
                float(reading @ finish.LUMINANCE) / 0.18,
            )
        )


def main():
    parser = argparse.ArgumentParser(prog="python -m scenes")
    parser.add_argument("names", nargs="*", help="all of them if none is named")
    parser.add_argument("--draft", action="store_true", help="small and noisy, for composing")
    parser.add_argument("--close", action="store_true", help="a noisy plate, for faces and cloth")
    parser.add_argument("--moves", action="store_true", help="only what moves, of rendered scenes")
    parser.add_argument("--child", action="store_true", help=argparse.SUPPRESS)
    parser.add_argument("--attempt", type=int, default=0, help=argparse.SUPPRESS)
    args = parser.parse_args()
    if args.child:
        from .kit import render as rays

        rays.attempts = args.attempt
        render(args.names[0], args.draft, args.moves, args.close)
        return
    assets.fetch()
    wanted = args.names or names()
    for k, name in enumerate(wanted, 1):
        print(f"{name} ({k} of {len(wanted)})", flush=True)
        for attempt in range(1, TRIES + 1):
            command = [
                sys.executable,
                "-W",
                "ignore",
                "-m",
                "scenes",
                name,
                "--child",
                *(["--draft"] if args.draft else []),
                *(["--moves"] if args.moves else []),
                *(["--close"] if args.close else []),
            ]
            command += ["--attempt", str(attempt - 1)]
            ended = subprocess.run(command, cwd=HERE.parent).returncode
            if ended == 0:
                break
            if ended > 0:
                sys.exit(f"{name}: the program is at fault, look at the message above.")
            print(f"{name}: the renderer stopped, going on ({attempt} of {TRIES})", flush=True)
        else:
            sys.exit(f"{name} could not be rendered; look at the messages above.")


if __name__ == "__main__":
    main()
