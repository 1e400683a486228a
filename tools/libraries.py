"""Writes docs/libraries.md: what others made that running needs, with licences, from what is
installed. `python -m tools.libraries --check` says whether the page is true."""

import re
import sys
from importlib import metadata
from pathlib import Path

from tools import asked

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "libraries.md"
# What a package says of its licence in prose, in a word.
SHORT = {"openexr": "BSD-3-Clause", "zxing-cpp": "Apache-2.0", "llvmlite": "BSD-2-Clause"}
SHIPPED = (
    ("Alpine.js, CSP build", "MIT", "`zesty_plum/web/static/vendor/alpine-LICENSE.txt`"),
    (
        "Tailwind CSS, in the stylesheets",
        "MIT",
        "`zesty_plum/web/static/vendor/tailwind-LICENSE.txt`",
    ),
    ("Atkinson Hyperlegible Next and Mono", "OFL-1.1", "`zesty_plum/web/static/fonts/`"),
    ("Bricolage Grotesque", "OFL-1.1", "`zesty_plum/web/static/fonts/`"),
    ("the same, as `text`, `bold`, `mono` and `head` on cards", "OFL-1.1", "the same"),
    ("Noto Sans, for scripts on cards", "OFL-1.1", "`zesty_plum/core/paper/fonts/`"),
    ("DejaVu Sans", "Bitstream Vera", "`zesty_plum/core/paper/fonts/`"),
    ("Droid Sans Fallback", "Apache-2.0", "`zesty_plum/core/paper/fonts/`"),
    ("parts of the sample scenes", "see there", "`scenes/CREDITS.md`"),
)


def locked(lock: str = "requirements.lock") -> dict[str, str]:
    """Packages of a lock, with their versions."""
    found = re.findall(r"^([a-z0-9.-]+)==(\S+)", (ROOT / lock).read_text(), re.MULTILINE)
    return dict(found)


def licence(name: str) -> str:
    """The licence that a package declares, as an identifier where it gives one."""
    about = metadata.metadata(name)
    said = about.get("License-Expression") or ""
    if not said:
        kinds = [
            c.split(" :: ")[-1] for c in about.get_all("Classifier") or [] if "License ::" in c
        ]
        said = ", ".join(k for k in kinds if k != "OSI Approved") or (about.get("License") or "")
    return SHORT.get(name, said.splitlines()[0][:60] if said else "not declared")


def page() -> str:
    """The page as it should be."""
    rows = "\n".join(f"| {n} | {v} | {licence(n)} |" for n, v in sorted(locked().items()))
    shipped = "\n".join(f"| {what} | {kind} | {where} |" for what, kind, where in SHIPPED)
    return f"""# What others made

Written by `python -m tools.libraries` from what is installed; a test holds it against the lock.

## Shipped with Zesty Plum
| what | licence | text |
|---|---|---|
{shipped}

## Libraries that running needs
Exact versions and a digest of every file are in `requirements.lock`; nothing else is installed.

| library | version | licence |
|---|---|---|
{rows}
"""


if __name__ == "__main__":
    if asked(__doc__, "--check").check:
        sys.exit(PAGE.read_text(encoding="utf-8") != page())
    PAGE.write_text(page(), encoding="utf-8")
