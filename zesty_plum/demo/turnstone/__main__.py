"""Write the pairs that teach the stand-in camera into a folder, with the table of what was set and
the list of its dials."""

import sys
from pathlib import Path

from ...core.bodies.file import dumps
from .listing import listed
from .shoot import day, write

if __name__ == "__main__":
    folder = Path(sys.argv[1])
    write(folder, day())
    (folder / "turnstone-list.body.json").write_text(dumps(listed()), encoding="utf-8")
