"""Files that are written whole or not at all."""

import os
import tempfile
from pathlib import Path

from .errors import PlumError


def save(path: Path, data: bytes, scratch: Path | None = None, new: bool = False) -> None:
    """Write a file whole or not at all, a `new` one only where none is. Until it is whole it lies
    in `scratch`, and is then its owner's alone; without, beside the place where it goes, and
    everybody may read it."""
    folder = path.parent
    if not folder.is_dir():
        raise PlumError(f"There is no folder '{folder}'. Make it first, or choose another place.")
    if path.is_dir():
        raise PlumError(f"'{path}' is a folder; name a file.")
    try:
        handle, part = tempfile.mkstemp(dir=scratch or folder, prefix=".zesty-plum-")
    except OSError as error:
        raise PlumError(f"'{folder}' cannot be written to: {error.strerror}.") from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(part, 0o600 if scratch else 0o644)
        if new:
            # Fails where something is, however late it came; a drive for cameras knows no links.
            os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY))
        os.replace(part, path)
    except OSError as error:
        Path(part).unlink(missing_ok=True)
        raise PlumError(f"'{path}' could not be written: {error.strerror}.") from error
