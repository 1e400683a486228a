"""The rules of the house: layers, no addresses in lock files, nothing fetched at run time."""

import re
import subprocess
import sys
from pathlib import Path

from zesty_plum.core.paper import card

ROOT = Path(__file__).parents[1]


def test_layers_are_kept():
    done = subprocess.run(
        [str(Path(sys.executable).parent / "lint-imports")],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stdout


def test_lock_files_carry_no_addresses():
    assert "://" not in (ROOT / "requirements.lock").read_text()
    assert '"resolved"' not in (ROOT / "package-lock.json").read_text()


def test_nothing_is_fetched_from_elsewhere():
    web = ROOT / "zesty_plum" / "web"
    own = [
        p
        for p in web.rglob("*")
        if p.suffix in (".html", ".js", ".css") and "vendor" not in p.parts
    ]
    assert len(own) > 10
    for path in own:
        for found in re.findall(
            r"""(?:src|href|url|import|fetch|from)\W{1,3}(https?:)?//\w""", path.read_text()
        ):
            raise AssertionError(f"{path}: {found}")


def test_the_stylesheet_has_every_class_that_pages_use():
    css = (ROOT / "zesty_plum" / "web" / "static" / "plum.css").read_text().replace("\\", "")
    pages = list((ROOT / "zesty_plum" / "web").rglob("*.html"))
    used = {
        c
        for p in pages
        for group in re.findall(r'\sclass="([^"{]*)"', p.read_text())
        for c in group.split()
    }
    hooks = {"shown", "bars", "end", "column", "texts", "name", "shot", "text", "words", "label"}
    assert not {c for c in used - hooks if f".{c}" not in css}


def test_no_page_repeats_a_limit_of_the_core():
    for page in (ROOT / "zesty_plum" / "web").rglob("*.html"):
        assert not re.findall(r'(?:max|min)length="\d+"', page.read_text()), page


def test_no_line_needs_scrolling():
    listed = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    built = re.compile(r"vendor/|static/(plum|sent)\.css")
    own = [f for f in listed.stdout.split() if re.search(r"\.(py|js|css|html)$", f)]
    for path in (ROOT / f for f in own if not built.search(f)):
        long = [n for n, line in enumerate(path.read_text().splitlines(), 1) if len(line) > 100]
        assert not long, f"{path}: lines {long}"


def test_colours_are_named_in_one_place():
    """Only the theme says what a colour is; what is drawn outside a browser repeats it exactly."""
    theme = (ROOT / "frontend" / "theme.css").read_text()
    places = [*(ROOT / "frontend").glob("*.css"), *(ROOT / "zesty_plum" / "web").rglob("*")]
    for path in places:
        shipped = {"vendor", "fonts"} & set(path.parts) or path.name in ("plum.css", "sent.css")
        if (
            path.suffix in (".css", ".html", ".js", ".py")
            and path.name != "theme.css"
            and not shipped
        ):
            found = re.findall(
                r"(?<!&)#(?:[0-9a-f]{6}|[0-9a-f]{3})\b|\b(?:rgba?|hsla?|ok[a-z]+)\(\d",
                path.read_text(),
            )
            assert not found, f"{path}: {found}"
    for name in ("paper", "ink", "soft", "hair", "plum", "zest"):
        assert f"--color-{name}: {getattr(card, name.upper())};" in theme
