"""Where compiled loops and templates are kept between runs. Numba keeps its loops beside the code,
and gives up where it cannot; then they go to a folder of the person's, or to one of this run's
own."""

import os
import tempfile
from contextlib import suppress
from pathlib import Path

SETTING = "NUMBA_CACHE_DIR"


def _private(path: Path) -> bool:
    """Whether a folder is there, or can be made, that only this person writes to: what lies in it
    is run as code."""
    with suppress(OSError):
        path.mkdir(mode=0o700, parents=True, exist_ok=True)
        known = path.stat()
        own = known.st_uid == os.getuid() and not known.st_mode & 0o022
        return own and os.access(path, os.W_OK)
    return False


def _beside(package: Path) -> bool:
    """Whether loops can be kept beside the code in every folder of the package."""
    folders = [package, *(p for p in package.rglob("__pycache__") if p.is_dir())]
    return all(os.access(folder, os.W_OK) for folder in folders)


def templates(package: Path = Path(__file__).parent) -> Path:
    """The folder for templates: where loops are kept, or beside their own code."""
    kept = os.environ.get(SETTING)
    folder = Path(kept) if kept else package / "web" / "__pycache__"
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    return folder


def keep(package: Path = Path(__file__).parent) -> None:
    """Choose the folder, before numba is loaded."""
    if SETTING in os.environ or not hasattr(os, "getuid") or _beside(package):
        return
    with suppress(RuntimeError):  # where there is no home
        home = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "zesty-plum"
        if _private(home):
            os.environ[SETTING] = str(home)
            return
    shared = Path(tempfile.gettempdir()) / f"zesty-plum-{os.getuid()}"
    if not _private(shared):
        shared = Path(tempfile.mkdtemp(prefix="zesty-plum-"))
    os.environ[SETTING] = str(shared)
