"""All attacks at full size: `make attack`, or some of them by name."""

import argparse
import subprocess
import sys
import tempfile
import time

from tests.attack import addresses, disk, files, kills, load, rows, shapes, together
from tests.attack.report import HEAD, Result

SIZES = {
    "kills": 1_200,
    "together": 3_000,
    "rows": 240,
    "disk": 30,
    "files": 12_000,
    "shapes": 5_000,
    "addresses": 10_000,
    "load": 600,
}
PEOPLE, PAUSE = 50, 8.0


def say(text: str) -> None:
    """How far it is, for who watches."""
    print(f"  {text}", file=sys.stderr, flush=True)


def crowds(seconds: float) -> list[Result]:
    """Fifty people at a server of their own, with pauses and without."""
    with tempfile.TemporaryDirectory() as folder:
        command = [sys.executable, "-m", "zesty_plum", "demo", "--port", "0", "--data", folder]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
            assert server.stdout is not None
            address = server.stdout.readline().split()[-1].rstrip("/")
            time.sleep(4)
            found = []
            for words, many, how_long, pause in (
                ("one person", 1, 30, 0.5),
                (f"{PEOPLE} people, a step every {PAUSE:.0f} s", PEOPLE, seconds, PAUSE),
                (f"{PEOPLE} people without a pause", PEOPLE, seconds, 0.0),
            ):
                say(words)
                seen = load.run(address, many, how_long, pause)
                found.append(Result(words, len(seen.picture), seen.faults, load.told(seen)))
            found[-1].note += f"; server at most {files.resident(server.pid):.0f} MB"
            server.terminate()
    return found


def main(names: list[str]) -> int:
    """Run the attacks and print their table; 1 where one found something."""
    ways = {
        "kills": kills.run,
        "together": together.run,
        "rows": rows.run,
        "disk": disk.run,
        "files": files.run,
        "shapes": shapes.run,
        "addresses": addresses.run,
    }
    results: list[Result] = []
    for name in names or list(SIZES):
        say(name)
        if name == "load":
            results += crowds(SIZES[name])
        else:
            results += ways[name](SIZES[name], say=say)
    print("\n".join([HEAD, *(r.row() for r in results)]))
    for result in results:
        for fault in result.faults[:5]:
            print(f"{result.what}: {fault}")
    return 1 if any(r.faults for r in results) else 0


if __name__ == "__main__":
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("names", nargs="*", metavar="ATTACK", help=", ".join(SIZES))
    sys.exit(main(given.parse_args().names))
