"""Writes the tables of fields in docs/formats.md, from their declarations: make figures."""

import re
from collections.abc import Iterator
from pathlib import Path

from tools import asked
from zesty_plum.core.drill.begun import Begun
from zesty_plum.core.fields.declared import rows
from zesty_plum.core.kit.case import About, Stands
from zesty_plum.core.outing.day import Day
from zesty_plum.core.outing.shoot import Shoot

PAGE = Path(__file__).parents[1] / "docs" / "formats.md"
THINGS = {"day": Day, "shoot": Shoot, "camera": About, "slot": Stands, "drill": Begun}
_PLACE = r"(<!-- fields of {} -->\n).*?(<!-- end -->)"


def table(thing: type) -> Iterator[str]:
    """The lines of a thing's table."""
    yield "| field | in words | takes | |"
    yield "|---|---|---|---|"
    for key, label, takes, note in rows(thing):
        yield f"| `{key}` | {label} | {takes} | {note} |"


def written(page: str) -> str:
    """The page with its tables as the declarations are now."""
    for name, thing in THINGS.items():
        lines = "\n".join(table(thing))
        pattern = re.compile(_PLACE.format(name), re.DOTALL)
        page, found = pattern.subn(lambda m, lines=lines: f"{m[1]}{lines}\n{m[2]}", page)
        assert found == 1, name
    return page


if __name__ == "__main__":
    asked(__doc__)
    PAGE.write_text(written(PAGE.read_text("utf-8")), encoding="utf-8")
