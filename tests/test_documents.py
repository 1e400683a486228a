"""Whatever a document names can be run: every module of the tools is imported, and does nothing
then; every command and target says what it is for, or shows what it would do."""

import re
import shlex
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner

from tools import formats
from zesty_plum.cli import COMMANDS, main

ROOT = Path(__file__).parents[1]
DOCUMENTS = [
    ROOT / "README.md",
    ROOT / "SECURITY.md",
    ROOT / "Makefile",
    ROOT / ".ci" / "run",
    ROOT / "scenes" / "CREDITS.md",
    *sorted((ROOT / "docs").glob("*.md")),
]
PACKAGES = ("tools", "benchmarks", "tests/attack", "scenes", "scenes/kit")
# What renders the scenes is not installed with what runs and tests the program.
RENDERERS = ("mitsuba", "drjit", "oidn", "shapely", "trimesh", "mapbox_earcut", "manifold3d")
IMPORTED = """
import sys, types
from importlib import import_module
from importlib.machinery import ModuleSpec
from unittest.mock import MagicMock

root, renderers, modules = {root!r}, {renderers!r}, {modules!r}

class Stub:
    def find_spec(self, name, path=None, target=None):
        return ModuleSpec(name, self) if name.partition(".")[0] in renderers else None
    def create_module(self, spec):
        made = MagicMock(name=spec.name)
        made.__path__, made.__spec__, made.__file__ = [], spec, ""
        return made
    def exec_module(self, module):
        pass

def watch(event, given):
    acts = event in ("subprocess.Popen", "socket.connect", "os.mkdir", "os.remove", "os.rename")
    writes = event == "open" and isinstance(given[1], str) and set(given[1]) & set("wax+")
    path = str(given[0])
    ours = path.startswith(root) and "__pycache__" not in path
    if watching and (writes and ours or acts and "__pycache__" not in path):
        raise AssertionError(f"{{now}} acts when it is imported: {{event}} {{path[:80]}}")

sys.meta_path.append(Stub())
watching, now = False, ""
import numpy, cv2, colour, PyOpenColorIO, skimage, scipy.optimize, playwright.sync_api  # noqa
sys.addaudithook(watch)
watching = True
for now in modules:
    import_module(now)
print(len(modules))
"""


def modules() -> list[str]:
    """All modules that are not the program's own, but for what runs as one."""
    found = [
        f"{package.replace('/', '.')}.{path.stem}"
        for package in PACKAGES
        for path in sorted((ROOT / package).glob("*.py"))
    ]
    return [name.removesuffix(".__init__") for name in found if not name.endswith("__main__")]


def test_every_module_is_imported_and_does_nothing_then():
    names = [*modules(), "benchmarks.__main__", "tests.attack.__main__", "scenes.__main__"]
    code = IMPORTED.format(root=str(ROOT), renderers=RENDERERS, modules=names)
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", code],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    assert int(done.stdout.split()[-1]) > 60


def named(pattern: str) -> list[str]:
    """What the documents name by a pattern, each once."""
    found = {m for path in DOCUMENTS for m in re.findall(pattern, path.read_text())}
    return sorted(found)


TARGETS = named(r"(?m)(?:^    |`|^)make ([a-z][a-z-]*)")


def test_targets_were_found():
    assert {"demo", "test", "check", "bench", "bench-quick", "attack", "figures"} <= set(TARGETS)


@pytest.mark.parametrize("target", [*TARGETS, "clean", "lock", "front", "shots", "prepared"])
def test_a_target_says_what_it_would_do(target):
    done = subprocess.run(
        ["make", "-n", target], cwd=ROOT, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize(
    "module", named(r"(?:python|bin/python|\(BIN\)/python)(?: -W ignore)? -m ([\w.]+)")
)
def test_a_module_says_what_it_is_for(module):
    if module in ("pytest", "pip", "venv", "compileall"):
        return  # others'
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-m", module, "--help"],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert "--help" in done.stdout


def commands() -> list[list[str]]:
    """The commands that documents name, each with the names of its options."""
    said = named(r"`(?:zesty-plum|python -m zesty_plum) ([^`\n]+)`") + named(
        r"(?m)^    zesty-plum ([^\n]+)$"
    )
    return [shlex.split(text.replace("[", "").replace("]", "")) for text in said]


@pytest.mark.parametrize("words", commands(), ids=" ".join)
def test_a_command_has_the_options_that_documents_give_it(words):
    assert words[0] in COMMANDS or words[0].startswith("-")
    if words[0].startswith("-"):
        assert CliRunner().invoke(main, words[:1]).exit_code == 0
        return
    command = main.get_command(None, words[0])
    inner = words[1] if len(words) > 1 and words[1] in getattr(command, "commands", {}) else None
    told = CliRunner().invoke(main, [*words[: 2 if inner else 1], "--help"])
    assert told.exit_code == 0, told.output
    for option in [w for w in words[1:] if re.fullmatch(r"--?[a-z][a-z-]*", w)]:
        assert option in told.output, f"{' '.join(words)}: there is no {option}"


def test_every_command_has_an_example_in_its_help():
    for name in COMMANDS:
        told = CliRunner().invoke(main, [name, "--help"]).output
        assert "Example:" in told or "Commands:" in told, name


@pytest.mark.parametrize("script", sorted(p.name for p in (ROOT / "tools").glob("*.sh")))
def test_a_shell_script_can_be_read(script):
    subprocess.run(["bash", "-n", str(ROOT / "tools" / script)], check=True)


def test_the_tables_of_fields_are_those_of_the_declarations():
    page = formats.PAGE.read_text("utf-8")
    assert formats.written(page) == page, "run make figures, or python -m tools.formats"
