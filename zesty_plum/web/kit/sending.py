"""What is sent to Kit: pairs and zips of them laid out in a folder, and bodies that are looked at
before they count."""

import re
import secrets
import shutil
from pathlib import Path

from flask import request, url_for
from werkzeug.datastructures import FileStorage

from ...core.base import zips
from ...core.base.errors import NotFound, PlumError
from ...core.learn.pairs import MOST_TABLE
from ...core.pictures import MOST_BYTES
from ...store import faults
from ..frame.context import place

MOST_FILES, MOST_UNPACKED = 2000, 8 * 2**30
STAGED, NAME = "body-{}.json", 16


def given() -> list[FileStorage]:
    """The files that were chosen; PlumError where there is none."""
    sent = [f for f in request.files.getlist("file") if f.filename]
    if not sent:
        raise PlumError("No file was chosen. Choose the raws and the camera's pictures of them.")
    return sent


def laid_out(sent: list[FileStorage], folder: Path) -> bytes | None:
    """What was sent as files in a folder; returns the table of settings, if one is among them."""
    table = None
    for each in sent:
        name = str(each.filename)
        if name.lower().endswith(".csv"):
            table = each.read()
        elif name.lower().endswith(".zip"):
            table = _unzipped(each, folder) or table
        else:
            each.save(_place(name, folder))
    return table


def _place(name: str, folder: Path) -> Path:
    """Where a file goes that is called so by whoever sent it: with the folders that it lay in, for
    they may say what was set."""
    parts = [re.sub(r"[^\w .()+-]", "_", p).strip(". ")[-50:] for p in re.split(r"[/\\]", name)]
    at = folder.joinpath(*[p for p in parts if p][-3:] or ["file"])
    at.parent.mkdir(parents=True, exist_ok=True)
    return at


def _unzipped(sent: FileStorage, folder: Path) -> bytes | None:
    table = None
    try:
        with zips.opened(sent.stream, MOST_FILES, MOST_UNPACKED) as packed:
            zips.fits(packed, MOST_BYTES, faults.free(folder) - faults.LOW)
            for inside in packed.infolist():
                name = inside.filename
                if inside.is_dir() or re.search(r"(^|/)(\.|__MACOSX)", name):
                    continue
                if name.lower().endswith(".csv"):
                    table = zips.bounded(packed, name, MOST_TABLE)
                    continue
                with packed.open(inside) as source, _place(name, folder).open("wb") as out:
                    shutil.copyfileobj(source, out)
    except zips.DAMAGED as error:
        if faults.sentence(error):
            raise  # of our own disk
        raise PlumError(f"This zip is damaged or locked ({error}). Pack it again.") from error
    return table


def stage(text: str | bytes) -> str:
    """Put a body's file where its page shows it before it counts; returns where."""
    token = secrets.token_hex(NAME)
    if not place().folder.is_dir():
        raise faults.Missing(faults.MISSING)
    place().scratch.mkdir(parents=True, exist_ok=True)
    data = text.encode() if isinstance(text, str) else text
    (place().scratch / STAGED.format(token)).write_bytes(data)
    return url_for("kit.looked_at", token=token)


def staged(token: str) -> bytes:
    """The file of a body that was staged."""
    at = place().scratch / STAGED.format(token)
    if not token.isalnum() or len(token) > 2 * NAME or not at.is_file():
        raise NotFound("This body is not at hand any more. Bring it in or teach it again.")
    return at.read_bytes()
