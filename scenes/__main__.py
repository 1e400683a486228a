"""Render sample scenes: python -m scenes [--draft] NAME...

Each scene runs in a process of its own that is started again when the renderer dies; finished passes are kept
under scenes/work/, so nothing is rendered twice.
"""

import argparse
import importlib
import subprocess
import sys
from pathlib import Path

from .kit import assets, files

HERE = Path(__file__).parent
TRIES = 6


def render(name, draft):
    from .kit import exr, finish

    if name == "corner":
        importlib.import_module("scenes.corner").main()
        return
    program = importlib.import_module(f"scenes.{name}")
    work = HERE / "work" / (name + ("-draft" if draft else ""))
    work.mkdir(parents=True, exist_ok=True)
    scene, people, view, meter = program.make(work)
    size, samples = ((480, 320), 8) if draft else ((1200, 800), 32)
    linear, ids, names, card = finish.render_scene(scene, people, view, size, samples, work, meter)
    finish.look(linear, work / "look.png", card)
    mask = finish.label_mask(ids, names, program.REGIONS)
    if draft:
        exr.write_exr(work / "draft.exr", linear)
        exr.write_mask(work / "mask.png", mask * 30)
    else:
        files.write(name, program, linear, mask, card)
    print(name, "grey card", card, {k: int((mask == i).sum()) for i, k in enumerate(program.REGIONS, 1)})


def main():
    parser = argparse.ArgumentParser(prog="python -m scenes")
    parser.add_argument("names", nargs="+")
    parser.add_argument("--draft", action="store_true", help="small and noisy, for composing")
    parser.add_argument("--child", action="store_true", help=argparse.SUPPRESS)
    args = parser.parse_args()
    if args.child:
        render(args.names[0], args.draft)
        return
    assets.fetch()
    for name in args.names:
        for attempt in range(1, TRIES + 1):
            command = [sys.executable, "-m", "scenes", name, "--child", *(["--draft"] if args.draft else [])]
            if subprocess.run(command, cwd=HERE.parent).returncode == 0:
                break
            print(f"{name}: the renderer stopped, going on ({attempt} of {TRIES})", flush=True)
        else:
            sys.exit(f"{name} could not be rendered; look at the messages above.")


main()
