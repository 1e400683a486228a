"""Write the pairs that teach the stand-in camera into a folder, with the table of what was set and
the list of its dials."""

import argparse
from pathlib import Path

from ...core.bodies.file import dumps
from .listing import listed
from .shoot import day, write

if __name__ == "__main__":
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("folder", type=Path)
    folder = given.parse_args().folder
    write(folder, day())
    (folder / "turnstone-list.body.json").write_text(dumps(listed()), encoding="utf-8")
