"""Bodies that travel with recipes: alone, beside them in a zip, and in a PNG of ours."""

import io

from ..base import zips
from ..base.errors import PlumError
from ..bodies import Body, bodies, file, known
from ..pictures.metadata import find_body

FOLDER, ENDING = "bodies/", ".body.json"  # where a zip has the files of bodies that do not ship
MOST_FILES, MOST_UNPACKED = 20_000, 200 * 2**20


def bodies_in(data: bytes) -> list[bytes]:
    """Texts of the body files that a file is or carries; none where it cannot be read."""
    if data[:2] == b"PK":
        try:
            with zips.opened(io.BytesIO(data), MOST_FILES, MOST_UNPACKED) as packed:
                names = [n for n in packed.namelist() if n.endswith(ENDING)]
                return [zips.bounded(packed, name, file.MOST_BYTES) for name in names]
        except (*zips.DAMAGED, PlumError):
            return []
    if data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{":
        return [data] if file.FORMAT.encode() in data[:400] else []
    inside = find_body(data)
    return [inside] if inside else []


def missing(data: bytes) -> Body | None:
    """The first body that a file carries and that is not here; PlumError where it is faulty."""
    read = (file.loads(text, known()) for text in bodies_in(data))
    return next((made for made in read if made.id not in bodies()), None)
