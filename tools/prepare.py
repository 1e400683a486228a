"""Writes the demo's library and the prints that ship: `make prepared`, whenever the demo or what an
address renders has changed."""

import lzma
import re
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from tools import asked
from zesty_plum.demo.prepared import LIBRARY, MADE_AT
from zesty_plum.demo.seed import seed
from zesty_plum.store import database
from zesty_plum.store.renders import SHIPPED
from zesty_plum.web import create_app

PAGES = ("/bench", "/slips")  # whose prints ship


def main() -> None:
    """Fill a library as the demo does, look at its pages, and keep what came of it."""
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        app = create_app(data)
        with closing(database.connect(data / "plum.db")) as db:
            seed(db, MADE_AT)
        whole = Path(folder) / "whole.db"
        with closing(sqlite3.connect(data / "plum.db")) as plain:
            plain.execute("VACUUM INTO ?", (str(whole),))
        LIBRARY.write_bytes(lzma.compress(whole.read_bytes(), preset=9))
        SHIPPED.mkdir(exist_ok=True)
        for old in SHIPPED.iterdir():
            old.unlink()
        client = app.test_client()
        for page in PAGES:
            for path in re.findall(r'src="(/render/[^"]+)"', client.get(page).text):
                client.get(path.replace("&amp;", "&"))
        kept = list((data / "renders").iterdir())
        for print_ in kept:
            (SHIPPED / print_.name).write_bytes(print_.read_bytes())
    size = LIBRARY.stat().st_size + sum(p.stat().st_size for p in SHIPPED.iterdir())
    print(f"the demo's library and {len(kept)} prints, {size // 1024} KB")


if __name__ == "__main__":
    asked(__doc__)
    main()
