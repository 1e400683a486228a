"""The wheel, as somebody gets it who has no checkout; and what it is made of."""

import os
import re
import shutil
import subprocess
import sys
import sysconfig
import urllib.request
import venv
from pathlib import Path

import pytest

from tools import libraries
from zesty_plum import compiled

ROOT = Path(__file__).parent.parent


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """An environment of its own with nothing of ours but the wheel; the libraries are lent from
    this one, without what makes the checkout importable here."""
    folder = tmp_path_factory.mktemp("package")
    build = [sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation"]
    source = folder / "source"  # a copy, for building writes beside what it builds
    shutil.copytree(
        ROOT / "zesty_plum", source / "zesty_plum", ignore=shutil.ignore_patterns("__pycache__")
    )
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, source)
    subprocess.run([*build, "-w", str(folder), str(source)], check=True, cwd=folder)
    wheel = next(folder.glob("zesty_plum-*.whl"))
    venv.create(folder / "env", with_pip=False)
    python = folder / "env" / "bin" / "python"
    where = subprocess.run(
        [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"],
        capture_output=True,
        text=True,
        check=True,
    ).stdout.strip()
    lent = sysconfig.get_path("purelib")
    install = [sys.executable, "-m", "pip", "--python", str(python), "install", "--quiet"]
    subprocess.run([*install, "--no-deps", "--no-index", str(wheel)], check=True, cwd=folder)
    (Path(where) / "lent.pth").write_text(f"{lent}\n")
    return folder / "env" / "bin" / "zesty-plum"


def plain(folder: Path, **more: str) -> dict[str, str]:
    """An environment that knows nothing of this checkout."""
    kept = {k: v for k, v in os.environ.items() if k in ("PATH", "LANG")}
    return kept | {"HOME": str(folder)} | more


def test_the_wheel_runs_the_demo_and_the_bench(installed, tmp_path):
    command = [installed, "demo", "--port", "0"]
    server = subprocess.Popen(
        command, stdout=subprocess.PIPE, text=True, cwd=tmp_path, env=plain(tmp_path)
    )
    try:
        address = server.stdout.readline().split()[-1]
        page = urllib.request.urlopen(f"{address}bench").read().decode()
        assert "data-dial" in page
        for url in re.findall(r'(?:href|src)="(/(?:static|render)/[^"]+)"', page):
            answer = urllib.request.urlopen(address.rstrip("/") + url.replace("&amp;", "&"))
            assert answer.read(), url
        assert "Slack tide" in urllib.request.urlopen(f"{address}slips").read().decode()
        card = urllib.request.urlopen(f"{address}take/card.png?style=linen").read()
        assert card.startswith(b"\x89PNG")
    finally:
        server.terminate()
        server.communicate()
    assert sorted(p.name for p in tmp_path.iterdir()) == ["data"]


def test_the_wheel_is_ours_alone_and_decodes_apart(installed, tmp_path):
    """Nothing of it comes from this checkout, the worker neither."""
    script = (
        "import zesty_plum, numpy as np; from tests_builders import file_of\n"
        "from zesty_plum.core.pictures.read import read\n"
        "print(zesty_plum.__file__); print(read(file_of(), 'x.png', 'own').size)"
    )
    (tmp_path / "tests_builders.py").write_text(
        "import io\nfrom PIL import Image\n"
        "def file_of():\n"
        "    out = io.BytesIO(); Image.new('RGB', (60, 40)).save(out, 'PNG')\n"
        "    return out.getvalue()\n"
    )
    python = installed.parent / "python"
    done = subprocess.run(
        [python, "-c", script], capture_output=True, text=True, cwd=tmp_path, env=plain(tmp_path)
    )
    assert str(ROOT) not in done.stdout
    assert done.stdout.split("\n")[1] == "(60, 40)", done.stderr


def test_loops_are_kept_where_they_can_be(tmp_path, monkeypatch):
    """Beside the code; or at home; or, without a home, where nobody else can put anything."""

    def kept(denied: tuple[Path, ...], **more: str) -> str | None:
        monkeypatch.setattr(
            compiled.os, "access", lambda path, _: not str(path).startswith(tuple(map(str, denied)))
        )
        for name in (compiled.SETTING, "XDG_CACHE_HOME"):
            monkeypatch.delenv(name, raising=False)
        for name, value in more.items():
            monkeypatch.setenv(name, value)
        compiled.keep(package)
        return os.environ.get(compiled.SETTING)

    package, home, shared = (tmp_path / name for name in ("package", "home", "tmp"))
    for folder in (package, home, shared):
        folder.mkdir()
    monkeypatch.setattr(compiled.tempfile, "tempdir", str(shared))
    assert kept(()) is None
    assert kept((package,), HOME=str(home)) == str(home / ".cache" / "zesty-plum")
    assert kept((package,), XDG_CACHE_HOME=str(home / "c")) == str(home / "c" / "zesty-plum")
    own = kept((package, home), HOME=str(home))
    assert Path(own).parent == shared
    assert Path(own).stat().st_mode & 0o077 == 0
    Path(own).chmod(0o777)  # somebody else may have put code there
    other = kept((package, home), HOME=str(home))
    assert Path(other).parent == shared
    assert other != own
    assert kept((package,), **{compiled.SETTING: "chosen"}) == "chosen"


def test_what_others_made_is_listed_with_its_licence():
    assert libraries.PAGE.read_text(encoding="utf-8") == libraries.page()
    assert "not declared" not in libraries.page()
    for _, _, where in libraries.SHIPPED:
        if where.startswith("`"):
            assert (ROOT / where.strip("`")).exists(), where
    for name in ("static/vendor", "static/fonts"):
        assert list((ROOT / "zesty_plum" / "web" / name).glob("*LICENSE*"))


@pytest.mark.parametrize("lock", ["requirements.lock", "requirements-dev.lock"])
def test_locks_have_digests_and_no_addresses(lock):
    text = (ROOT / lock).read_text()
    names = libraries.locked(lock)
    assert len(names) > 20
    assert text.count("==") == len(names)
    for entry in re.split(r"\n(?=\S)", text.strip()):
        assert "--hash=sha256:" in entry or entry.startswith("#"), entry[:60]
    assert "http" not in text
    assert "file://" not in text


def test_what_running_needs_is_the_same_for_tests():
    run, dev = libraries.locked(), libraries.locked("requirements-dev.lock")
    assert run.items() <= dev.items()
