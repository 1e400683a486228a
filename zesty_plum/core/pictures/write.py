"""Writing rendered pictures: quick previews without metadata, and files that carry their recipe."""

import io
import os
import tempfile
from pathlib import Path

import cv2
import numpy as np
import tifffile
from PIL import Image, PngImagePlugin

from ..arrays import Bytes8
from ..develop.pipeline import Picture
from ..errors import PlumError
from ..recipe import Recipe
from . import metadata

PREVIEW_QUALITY, FILE_QUALITY = 88, 95
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
    return data.tobytes()


def encode(picture: Picture, recipe: Recipe, kind: str, bits: int = 8) -> bytes:
    """File bytes for `kind` (an extension); PNG and TIFF also in 16 bits.

    JPEG and PNG carry recipe, sRGB profile and EXIF.
    """
    if kind not in KINDS:
        raise PlumError(f"Pictures are written as .jpg, .png or .tif, not '{kind}'.")
    if bits not in (8, 16):
        raise PlumError(f"A picture can have 8 or 16 bits a channel, not {bits}.")
    if kind in (".jpg", ".jpeg") and bits == 16:
        raise PlumError("A JPEG has 8 bits a channel. Choose .png or .tif for 16.")
    deep = (
        np.round(np.clip(picture.encoded, 0, 1) * 65535).astype(np.uint16)
        if bits == 16
        else picture.pixels
    )
    return file_of(deep, recipe, kind)


def file_of(pixels: np.ndarray, recipe: Recipe, kind: str, quality: int = FILE_QUALITY) -> bytes:
    """File bytes of pixels (h, w, 3), uint8 or for PNG and TIFF uint16, with recipe, sRGB profile
    and EXIF."""
    out = io.BytesIO()
    icc = metadata.srgb_profile()
    if kind in (".tif", ".tiff"):
        extra = [(700, 1, None, metadata.packet(recipe), True), (34675, 7, len(icc), icc, True)]
        tifffile.imwrite(
            out,
            pixels,
            photometric="rgb",
            compression="zlib",
            extratags=extra,
            software=metadata.SOFTWARE,
        )
    elif kind == ".png":
        return _png(pixels, recipe, icc)
    else:
        image = Image.fromarray(pixels)
        image.save(
            out,
            "JPEG",
            quality=quality,
            subsampling=0,
            icc_profile=icc,
            exif=metadata.exif(recipe),
            xmp=metadata.packet(recipe),
        )
    return out.getvalue()


def _png(pixels: np.ndarray, recipe: Recipe, icc: bytes) -> bytes:
    """PNG of either depth: OpenCV writes the pixels, the chunks are put in behind its header."""
    done, data = cv2.imencode(".png", cv2.cvtColor(pixels, cv2.COLOR_RGB2BGR))
    assert done
    raw = data.tobytes()
    info = PngImagePlugin.PngInfo()
    info.add_itxt(metadata.PNG_KEY.decode(), metadata.packet(recipe).decode())
    holder = io.BytesIO()
    Image.new("RGB", (1, 1)).save(
        holder, "PNG", pnginfo=info, icc_profile=icc, exif=metadata.exif(recipe)
    )
    chunks = holder.getvalue()
    return raw[:33] + chunks[33 : chunks.index(b"IDAT") - 4] + _before_end(chunks) + raw[33:]


def _before_end(chunks: bytes) -> bytes:
    """eXIf, which Pillow writes behind the pixels, moved in front of them."""
    at = chunks.rfind(b"eXIf")
    if at < 0 or at < chunks.index(b"IDAT"):
        return b""
    length = int.from_bytes(chunks[at - 4 : at], "big")
    return chunks[at - 4 : at + 8 + length]


def save(path: Path, data: bytes) -> None:
    """Write a file whole or not at all."""
    folder = path.parent
    if not folder.is_dir():
        raise PlumError(f"There is no folder '{folder}'. Make it first, or choose another place.")
    if path.is_dir():
        raise PlumError(f"'{path}' is a folder; name a file.")
    try:
        handle, part = tempfile.mkstemp(dir=folder, prefix=".zesty-plum-")
    except OSError as error:
        raise PlumError(f"'{folder}' cannot be written to: {error.strerror}.") from error
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(part, 0o644)
        os.replace(part, path)
    except OSError as error:
        Path(part).unlink(missing_ok=True)
        raise PlumError(f"'{path}' could not be written: {error.strerror}.") from error
