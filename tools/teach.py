"""Teach the demo's body anew: the stand-in camera shoots its day, and what it shot is learnt.

Run as `python -m tools.teach`; it takes some four minutes.
"""

import sys
import tempfile
from dataclasses import replace
from functools import partial
from pathlib import Path

from tools import asked
from zesty_plum.core.bodies import bring, file, forget
from zesty_plum.core.learn.pairs import by_table
from zesty_plum.core.learn.teach import calibrate
from zesty_plum.demo import TAUGHT
from zesty_plum.demo.turnstone.listing import ID, NAME, listed
from zesty_plum.demo.turnstone.shoot import day, write

if __name__ == "__main__":
    asked(__doc__)
    with tempfile.TemporaryDirectory() as folder:
        table = write(Path(folder), day())
        like = bring(file.dumps(listed()))
        told = calibrate(
            Path(folder),
            like,
            NAME,
            partial(by_table, text=table.read_bytes(), like=like),
            lambda *what: print(*what, file=sys.stderr),
        )
        forget(ID)
    about = "A stand-in for a camera of one's own, taught from pairs that it took of the scenes."
    TAUGHT.write_text(file.dumps(replace(told.body, about=about)), encoding="utf-8")
    print(told.sure)
