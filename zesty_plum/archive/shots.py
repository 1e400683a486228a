"""What is to be developed out of a folder, and where each picture goes."""

import mimetypes
from collections import Counter
from dataclasses import dataclass
from pathlib import Path

from ..core.base.errors import PlumError

# What lies beside pictures and is none; files of unknown kinds may be raws, and are tried.
OTHER = ("text", "audio", "video", "application", "font", "message", "multipart", "model")
BESIDE = (".xmp", ".ini", ".db", ".lnk", ".tmp", ".log", ".toml", ".yaml")


@dataclass(frozen=True)
class Shot:
    """A picture's file, its name within its folder, and the file that it becomes."""

    file: Path
    name: str
    out: Path


def shots(folder: Path, out: Path) -> list[Shot]:
    """All pictures in a folder and those inside it, by name; hidden ones and what lies in `out` are
    left alone. Two of one name but for the ending keep their endings."""
    if not folder.is_dir():
        raise PlumError(f"There is no folder '{folder}'. Give the one that holds the pictures.")
    if out.resolve() == folder.resolve():
        raise PlumError("The pictures would go among those that they are made of. Choose another.")
    found = sorted(p for p in folder.rglob("*") if _is_shot(p, folder, out.resolve()))
    if not found:
        raise PlumError(f"There is no picture in '{folder}'. Give the folder that holds them.")
    alike = Counter(p.with_suffix("") for p in found)
    return [Shot(p, str(p.relative_to(folder)), _goes(p, folder, out, alike)) for p in found]


def _is_shot(path: Path, folder: Path, out: Path) -> bool:
    inside = path.relative_to(folder)
    if any(part.startswith(".") for part in inside.parts) or not path.is_file():
        return False
    if out in path.resolve().parents or path.suffix.lower() in BESIDE:
        return False
    kind = mimetypes.guess_type(path.name)[0]
    return kind is None or kind.split("/")[0] not in OTHER


def _goes(path: Path, folder: Path, out: Path, alike: Counter[Path]) -> Path:
    inside = path.relative_to(folder)
    if alike[path.with_suffix("")] > 1:
        return out / inside.with_name(f"{inside.name}.jpg")
    return out / inside.with_suffix(".jpg")
