"""Zips that strangers pack: what they hold is checked before anything of it is unpacked."""

import struct
import zipfile
import zlib
from typing import IO

from .errors import PlumError
from .text import shortened, well_formed

MOST_RATIO = 20  # a raw without compression unpacks to twice what it was packed to, or thrice
MOST_ENTRY = 700  # bytes of the directory that one file takes at most, on average
_METHODS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)  # others may ask for gigabytes to unpack
DAMAGED = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    RuntimeError,
    NotImplementedError,
    OSError,
    ValueError,
    struct.error,
    IndexError,
)


def opened(file: IO[bytes], most_files: int, most_unpacked: int) -> zipfile.ZipFile:
    """A zip with at most so many files and bytes; PlumError where it has more, or is packed in a
    way that is not read, one of DAMAGED where it is broken."""
    if _directory_bytes(file) > most_files * MOST_ENTRY:
        raise PlumError(f"This zip holds more than {most_files:,} files. Split it.")
    packed = zipfile.ZipFile(file)
    inside = packed.infolist()
    if len(inside) > most_files:
        raise PlumError(f"This zip holds more than {most_files:,} files. Split it.")
    if sum(i.file_size for i in inside) > most_unpacked:
        raise PlumError(f"This zip unpacks to more than {most_unpacked // 2**20:,} MB. Split it.")
    if any(i.compress_type not in _METHODS for i in inside):
        raise PlumError("This zip is packed in a way that is not read. Pack it as a plain zip.")
    return packed


def fits(packed: zipfile.ZipFile, most_each: int, free: int) -> None:
    """PlumError where pictures in a zip are larger than a picture may be, unpack to far more than
    pictures do, or to more bytes than are `free` on the disk."""
    inside = packed.infolist()
    for each in inside:
        if each.file_size > most_each:
            raise PlumError(
                f"'{shortened(well_formed(each.filename), 60)}' in this zip unpacks to more than "
                f"{most_each // 10**6} MB. Leave it out, or export it smaller."
            )
    whole, sent = (sum(getattr(i, k) for i in inside) for k in ("file_size", "compress_size"))
    if whole > MOST_RATIO * sent + most_each:
        raise PlumError(
            f"This zip unpacks to {whole // 2**20:,} MB from {max(1, sent // 2**20):,} MB, which "
            "no pictures do. Pack the pictures themselves."
        )
    if whole > free:
        raise PlumError(
            f"This zip unpacks to {whole // 2**20:,} MB, and {free // 2**20:,} MB are free on the "
            "disk of the data folder. Make room, or send it in parts."
        )


def _directory_bytes(file: IO[bytes]) -> int:
    """Size that a zip's directory has by its last record (APPNOTE 4.3.16, and 4.3.14 for large
    ones); zipfile would read all of it before it could be counted."""
    file.seek(0, 2)
    end = file.tell()
    begin = max(0, end - 22 - 65_535 - 20)
    file.seek(begin)
    tail = file.read(end - begin)
    file.seek(0)
    at = tail.rfind(b"PK\5\6")
    if at < 0 or at + 22 > len(tail):
        raise zipfile.BadZipFile("its end is missing")
    size: int = struct.unpack_from("<L", tail, at + 12)[0]
    if size < 0xFFFFFFFF:
        return size
    locator = at - 20
    if locator < 0 or tail[locator : locator + 4] != b"PK\6\7":
        raise zipfile.BadZipFile("its directory is missing")
    file.seek(struct.unpack_from("<Q", tail, locator + 8)[0])
    large = file.read(56)
    file.seek(0)
    return int(struct.unpack_from("<Q", large, 40)[0])


def bounded(packed: zipfile.ZipFile, name: str, most: int) -> bytes:
    """What one file of a zip holds, at most so many bytes of it."""
    if packed.getinfo(name).file_size > most:
        raise PlumError(f"'{name}' in this zip unpacks to more than {most // 10**6} MB.")
    with packed.open(name) as part:
        return part.read(most)
