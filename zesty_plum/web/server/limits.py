"""How much may be sent to each address, known before anything is read."""

from werkzeug.exceptions import HTTPException
from werkzeug.routing import Map

from ...core.bodies import file
from ...core.pictures import MOST_BYTES
from ...store.backup import MOST_UNPACKED

FORM_BYTES, NO_BODY = 2 * 2**20, 64 * 1024
FORM_PARTS = 20_000  # files, or slips that are picked one by one
PAIRS_BYTES = 6 * 2**30  # of a camera's pairs, sixty of 24 megapixels
FILE_BYTES = MOST_BYTES + 2**20  # a file and the form around it
LARGER = {
    "dropped.take_in": FILE_BYTES,
    "bring.look": FILE_BYTES,
    "bring.restore": MOST_UNPACKED,
    "kit.bring": FORM_BYTES + file.MOST_BYTES,
    "charts.teach": FILE_BYTES,
    "kit.near": 8 * FILE_BYTES,
    "cases.bring": 9 * 2**20,
    "kit.teach": PAIRS_BYTES,
    "lessons.add": PAIRS_BYTES,
    "lessons.teach": PAIRS_BYTES,
}
SIZES = {
    "bring.restore": "20 GB",
    "kit.teach": "6 GB",
    "lessons.add": "6 GB",
    "lessons.teach": "6 GB",
    "kit.bring": "6 MB",
    "kit.near": "800 MB",
}


def of_endpoint(endpoint: str | None, method: str) -> int:
    """Bytes that a body may have."""
    return LARGER.get(endpoint or "", FORM_BYTES) if method == "POST" else NO_BODY


def endpoint_of(url_map: Map, method: str, path: str) -> str:
    """The endpoint of a path, before there is a request; empty where there is none."""
    try:
        return str(url_map.bind("").match(path, method)[0])
    except HTTPException:
        return ""


def of_address(url_map: Map, method: str, path: str) -> int:
    """Bytes that a body may have by its path, before there is a request."""
    endpoint = endpoint_of(url_map, method, path)
    return of_endpoint(endpoint, method) if endpoint else NO_BODY


def sentence(endpoint: str | None) -> str:
    """What to say of a body that is too large."""
    if endpoint in LARGER:
        size = SIZES.get(endpoint or "", "100 MB")
        return f"This is over {size}. Export it smaller, or send it in parts."
    return f"This is over the {FORM_BYTES // 2**20} MB that this page takes. Send less of it."
