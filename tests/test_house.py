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


JINJA = r"\{\{.*?\}\}|\{%.*?%\}"


def classes(path) -> list[str]:
    """The words of a template's class attributes, also those that Jinja chooses between."""
    found = re.findall(rf'\sclass="((?:{JINJA}|[^"{{])*)"', path.read_text(), re.S)
    plain = [c for said in found for c in re.sub(JINJA, "", said, flags=re.S).split()]
    choices = " ".join(j for said in found for j in re.findall(JINJA, said, re.S))
    # Strings before an "if", and those after an "else".
    chosen = re.findall(r"""(["'])([^"']*)\1\s+if\b|\belse\s+(["'])([^"']*)\3""", choices)
    return plain + [c for words in chosen for c in f"{words[1]} {words[3]}".split()]


PAGES = sorted((ROOT / "zesty_plum" / "web").rglob("*.html"))
# A page to send stands alone, with a sheet of its own.
SENT = {p for p in PAGES if "_sent.html" in p.read_text()}
OURS = {"torn", "seed", "unfit"}  # what utilities cannot say


def test_the_stylesheet_has_every_class_that_pages_use():
    css = (ROOT / "zesty_plum" / "web" / "static" / "plum.css").read_text().replace("\\", "")
    groups = r"(group|peer)(/\w+)?"  # named for what stands inside, with no rule of their own
    for page in PAGES:
        used = {c for c in classes(page) if not re.fullmatch(groups, c)} if page not in SENT else ()
        assert not {c for c in used if f".{c}" not in css and "[--" not in c}, page


def test_pages_are_put_together_from_utilities():
    """Own classes are few, none is new; own rules are few, and scripts are."""
    own = set(re.findall(r"\.([a-z][\w-]*)", (ROOT / "frontend" / "pieces.css").read_text()))
    assert own == OURS
    used = [c for page in PAGES if page not in SENT for c in classes(page)]
    assert sum(c in OURS for c in used) < 0.05 * len(used)
    sheets = [p for p in (ROOT / "frontend").glob("*.css") if p.stem not in ("fonts", "theme")]
    assert sum(len(p.read_text().splitlines()) for p in sheets) <= 900
    assert (ROOT / "zesty_plum" / "web" / "static" / "plum.css").stat().st_size <= 60_000


def test_no_page_repeats_a_limit_of_the_core():
    for page in (ROOT / "zesty_plum" / "web").rglob("*.html"):
        assert not re.findall(r'(?:max|min)length="\d+"', page.read_text()), page


def test_no_line_needs_scrolling():
    listed = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    built = re.compile(r"vendor/|static/(plum\.css|sent\.css|app\.js)")
    own = [f for f in listed.stdout.split() if re.search(r"\.(py|js|css|html)$", f)]
    for path in (ROOT / f for f in own if not built.search(f)):
        long = [n for n, line in enumerate(path.read_text().splitlines(), 1) if len(line) > 100]
        assert not long, f"{path}: lines {long}"


def test_colours_are_named_in_one_place():
    """Only the theme says what a colour is; what is drawn outside a browser repeats it exactly."""
    theme = (ROOT / "frontend" / "theme.css").read_text()
    places = [*(ROOT / "frontend").glob("*.css"), *(ROOT / "zesty_plum" / "web").rglob("*")]
    for path in places:
        shipped = {"vendor", "fonts"} & set(path.parts) or path.name in (
            "plum.css",
            "sent.css",
            "app.js",
        )
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
