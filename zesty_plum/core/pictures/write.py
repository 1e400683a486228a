"""Writing rendered pictures: quick previews without metadata, and files that carry their recipe."""

import errno
import io
import os
import shutil
import tempfile
from pathlib import Path
from typing import IO

import numpy as np
from numpy.typing import NDArray

from ..base.arrays import Bytes8
from ..base.errors import PlumError
from ..base.late import library
from ..bodies import file as body_file
from ..bodies import mark
from ..recipe import Recipe
from . import metadata

Image = library("PIL.Image")
PngImagePlugin = library("PIL.PngImagePlugin")


cv2 = library("cv2")
tifffile = library("tifffile")

PREVIEW_QUALITY, FILE_QUALITY = 88, 95
STRIP_ROWS, PNG_HEAD = 64, 33  # rows of a TIFF packed together; bytes of a PNG before its chunks
Samples = NDArray[np.uint8] | NDArray[np.uint16]
KINDS = (".jpg", ".jpeg", ".png", ".tif", ".tiff")


def preview(pixels: Bytes8, quality: int = PREVIEW_QUALITY) -> bytes:
    """A quick JPEG (4:4:4, so that fine colour is judged fairly)."""
    options = [
        cv2.IMWRITE_JPEG_QUALITY,
        quality,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR,
        cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444,
    ]
    done, data = cv2.imencode(".jpg", cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR), options)
    assert done
    return bytes(data)


def check_kind(kind: str, bits: int) -> None:
    """Refuse an extension or a depth that cannot be written."""
    if kind not in KINDS:
        raise PlumError(f"Pictures are written as .jpg, .png or .tif, not '{kind}'.")
    if bits not in (8, 16):
        raise PlumError(f"A picture can have 8 or 16 bits a channel, not {bits}.")
    if kind in (".jpg", ".jpeg") and bits == 16:
        raise PlumError("A JPEG has 8 bits a channel. Choose .png or .tif for 16.")


def file_of(
    pixels: Samples,
    recipe: Recipe,
    kind: str,
    quality: int = FILE_QUALITY,
    taken: bytes = b"",
) -> bytes:
    """The same as `write`, as bytes."""
    out = io.BytesIO()
    write(out, pixels, recipe, kind, quality, taken=taken)
    return out.getvalue()


def write(
    out: IO[bytes],
    pixels: Samples,
    recipe: Recipe,
    kind: str,
    quality: int = FILE_QUALITY,
    scratch: Path | None = None,
    taken: bytes = b"",
) -> None:
    """Write pixels (h, w, 3), uint8 or for PNG and TIFF uint16, as a file of a kind, with recipe,
    sRGB profile and EXIF, `taken` among it in a JPEG; what is half done meanwhile lies in
    `scratch`."""
    icc = metadata.srgb_profile()
    if kind in (".tif", ".tiff"):
        extra = [(700, 1, None, metadata.packet(recipe), True), (34675, 7, len(icc), icc, True)]
        tifffile.imwrite(
            out,
            pixels,
            photometric="rgb",
            compression="zlib",
            rowsperstrip=STRIP_ROWS,
            extratags=extra,
            software=metadata.SOFTWARE,
        )
    elif kind == ".png":
        _png(out, pixels, recipe, icc, scratch)
    else:
        image = Image.fromarray(pixels)
        image.save(
            out,
            "JPEG",
            quality=quality,
            subsampling=0,
            icc_profile=icc,
            exif=metadata.exif(recipe, taken),
            xmp=metadata.packet(recipe),
        )


def _png(out: IO[bytes], pixels: Samples, recipe: Recipe, icc: bytes, scratch: Path | None) -> None:
    """PNG of either depth: OpenCV writes the pixels, the chunks are put in behind its header. A
    large picture has its channels turned round in place, and back, for a copy takes too much."""
    in_place = pixels.flags.writeable and pixels.flags.c_contiguous
    turned = pixels if in_place else pixels.copy()
    info = PngImagePlugin.PngInfo()
    info.add_itxt(metadata.PNG_KEY.decode(), metadata.packet(recipe).decode())
    if mark(recipe.body):  # who gets the picture may not have the body
        info.add_itxt(metadata.BODY_KEY.decode(), body_file.dumps(recipe.camera), zip=True)
    holder = io.BytesIO()
    Image.new("RGB", (1, 1)).save(
        holder, "PNG", pnginfo=info, icc_profile=icc, exif=metadata.exif(recipe)
    )
    chunks = holder.getvalue()
    with tempfile.TemporaryDirectory(dir=scratch) as folder:
        plain = Path(folder) / "plain.png"
        cv2.cvtColor(turned, cv2.COLOR_RGB2BGR, dst=turned)
        done = cv2.imwrite(str(plain), turned)
        if in_place:
            cv2.cvtColor(turned, cv2.COLOR_BGR2RGB, dst=turned)
        if not done:
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        with plain.open("rb") as file:
            out.write(file.read(PNG_HEAD))
            out.write(chunks[PNG_HEAD : chunks.index(b"IDAT") - 4] + _before_end(chunks))
            shutil.copyfileobj(file, out, 2**20)


def _before_end(chunks: bytes) -> bytes:
    """eXIf, which Pillow writes behind the pixels, moved in front of them."""
    at = chunks.rfind(b"eXIf")
    if at < 0 or at < chunks.index(b"IDAT"):
        return b""
    length = int.from_bytes(chunks[at - 4 : at], "big")
    return chunks[at - 4 : at + 8 + length]
