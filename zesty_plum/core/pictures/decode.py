"""Strangers' files to samples, under limits that are checked before anything is decoded. This runs
in a process of its own (`worker`), for decoders can be made to crash or to take all memory.

Samples are 16 bits, in rows in a file that the asking process maps, upright: encoded sRGB of a
finished picture; of a raw one the camera's own channels, linear, under the gains of the light it
was shot in, full where the file clips.
"""

import io
import os
import warnings
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import IntEnum
from pathlib import Path
from typing import Any

import numpy as np
import rawpy
import tifffile
import zxingcpp
from numpy.typing import NDArray
from PIL import ExifTags, Image, ImageCms, UnidentifiedImageError

from ..base.errors import PlumError
from ..base.late import library
from .raw_colour import colour_of

cv2 = library("cv2")

MOST_PIXELS, MOST_SIDE, MOST_SAMPLES = 60 * 10**6, 30_000, 500 * 10**6
LEAST_SIDE, MOST_CHANNELS = 16, 5
DEPTHS = (np.uint8, np.uint16)
LIGHT = (0, 1, 2)  # kinds of TIFF samples that are grey or RGB
BAND = 256  # rows worked on at a time
CODE_SIDE = 2400  # pixels to which larger pictures are reduced before a code is looked for
TIFF_MAGIC = (b"II*\0", b"MM\0*")
PNG_MAGIC = b"\x89PNG\r\n\x1a\n"
_KINDS = ["JPEG", "PNG", "TIFF", "WEBP"]  # decoders that are asked; others are never tried
HEIF_BRANDS = (b"heic", b"heix", b"hevc", b"heim", b"heis", b"mif1", b"msf1")  # ISO/IEC 23008-12
try:
    from pillow_heif import register_heif_opener
except ImportError:  # pictures of telephones can then not be read, and a sentence says so
    HEIF = False
else:
    register_heif_opener(thumbnails=False)
    _KINDS.append("HEIF")
    HEIF = True
VISIBLE = 2  # steps of 8 bits by which a profile has to change a colour before it is applied

Image.MAX_IMAGE_PIXELS = None  # checked here, in a sentence
Samples = NDArray[Any]


def decode(data: bytes, name: str, longest: int | None, out: Path) -> dict[str, Any]:
    """Decode a JPEG, PNG, TIFF, WebP, HEIC or raw file; its longer side is brought down to
    `longest` where that is given.

    Writes the samples to `out` and returns what is known of them: `size` [height, width], `across`,
    the pixels that the file itself has from left to right, whether it is `finished`, and for a raw
    one `to_xyz`, `as_shot` and `baseline`, as in `raw_colour`. PlumError says why it cannot be.
    """
    webp = data[:4] == b"RIFF" and data[8:12] == b"WEBP"
    heif = data[4:8] == b"ftyp" and data[8:12] in HEIF_BRANDS
    if heif and not HEIF:
        raise PlumError(f"'{name}' is HEIC, which cannot be read here. Export it as JPEG.")
    if data[:3] == b"\xff\xd8\xff" or data[:8] == PNG_MAGIC or webp or heif:
        return _finished(_pillow(data, name, longest), name, longest, out)
    if data[:4] in TIFF_MAGIC and not _is_raw(data):
        return _finished(_tiff(data, name), name, longest, out)
    return _raw(data, name, longest, out)


def codes_in(data: bytes) -> list[str]:
    """The texts of the square codes that a JPEG or PNG shows, small ones enlarged."""
    try:
        with Image.open(io.BytesIO(data), formats=_KINDS[:2]) as image:
            check_size(*image.size, "")
            image.draft("L", (CODE_SIDE, CODE_SIDE))
            image.thumbnail((CODE_SIDE, CODE_SIDE))
            grey = np.asarray(image.convert("L"))
    except (PlumError, UnidentifiedImageError, OSError, ValueError, SyntaxError):
        return []
    only = zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode)
    found = zxingcpp.read_barcodes(grey, only)
    if not found and max(grey.shape) <= CODE_SIDE // 2:
        large = cv2.resize(grey, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC)
        found = zxingcpp.read_barcodes(large, only)
    return [code.text for code in found]


# What a picture that is passed on may tell of how it was taken (EXIF 2.32): by which camera, when
# and with what settings. All else stays out, makers' notes and what nobody thought of too.
CAMERA = (0x010F, 0x0110, 0x0132)  # make, model, time
SHOT = (
    *(0x829A, 0x829D, 0x8822, 0x8827, 0x8830, 0x8831, 0x8832, 0x9000, 0x9003, 0x9004, 0x9010),
    *(0x9011, 0x9012, *range(0x9201, 0x920B), 0x9290, 0x9291, 0x9292, *range(0xA402, 0xA40B)),
    *(0xA40C, 0xA432, 0xA433, 0xA434),  # the lens: range, make, model
)
# Only if it is asked for: who took it and whose the camera is, with serial numbers and comments.
OWNERS = (0x013B, 0x8298)  # artist, copyright
OWNERS_SHOT = (0x9286, 0xA430, 0xA431, 0xA435, 0xA420)  # comment, owner, serials, its own number


def taken(data: bytes, place: bool = False, owner: bool = False) -> bytes:
    """EXIF of how a file was taken, packed; empty where it tells nothing that can be read. Its
    `place` and its `owner` stay out unless they are asked for."""
    kept = Image.Exif()
    try:
        with Image.open(io.BytesIO(data), formats=_KINDS) as image:
            told = image.getexif()
            for tag in (*CAMERA, *(OWNERS if owner else ())):
                if tag in told:
                    kept[tag] = told[tag]
            shot, inside = kept.get_ifd(ExifTags.IFD.Exif), told.get_ifd(ExifTags.IFD.Exif)
            for tag in (*SHOT, *(OWNERS_SHOT if owner else ())):
                if tag in inside:
                    shot[tag] = inside[tag]
            if place:
                where = told.get_ifd(ExifTags.IFD.GPSInfo)
                kept.get_ifd(ExifTags.IFD.GPSInfo).update(where)
        return kept.tobytes()
    except Exception:  # a parser meets broken files with errors of every kind; the picture is read
        return b""


# Of the EXIF part (EXIF 2.32): tag, its name there, and what it is called here.
_SHOT = (
    (0x9003, "DateTimeOriginal", "time"),
    (0x9011, "OffsetTimeOriginal", "offset"),
    (0x8827, "ISOSpeedRatings", "iso"),
    (0x829D, "FNumber", "aperture"),
    (0x829A, "ExposureTime", "seconds"),
    (0x9204, "ExposureBiasValue", "bias"),
    (0xA403, "WhiteBalance", "balance"),
)


def _spelled(value: Any) -> str:
    """A value of EXIF as text; shares as numbers."""
    if isinstance(value, tuple | list):
        value = value[0] / value[1] if len(value) == 2 and value[1] else value[0]
    if hasattr(value, "numerator") and not isinstance(value, int):
        value = float(value)
    return str(int(value) if isinstance(value, IntEnum) else value).strip("\0 ")


def shot_by(data: bytes) -> dict[str, str]:
    """What a file tells of when it was taken, by which camera and how: `time`, `offset`, `maker`,
    `model`, `iso`, `aperture`, `seconds`, `bias`, `balance` (0 by the camera, 1 by hand), those
    that can be read."""
    names = {0x0110: "model", 0x010F: "maker", 0x0132: "time"}
    found: dict[str, str] = {}
    try:
        if data[:4] in TIFF_MAGIC:
            with tifffile.TiffFile(io.BytesIO(data)) as file:
                page = file.pages[0]
                assert isinstance(page, tifffile.TiffPage)
                told = {t.code: t.value for t in page.tags.values()}
                part = told.get(0x8769)
                inside = part if isinstance(part, dict) else {}
        else:
            with Image.open(io.BytesIO(data), formats=_KINDS) as image:
                exif = image.getexif()
                told, inside = dict(exif), exif.get_ifd(ExifTags.IFD.Exif)
        found = {name: str(told[tag]).strip("\0 ") for tag, name in names.items() if tag in told}
        for tag, named, name in _SHOT:
            value = inside.get(tag, inside.get(named))
            if value not in (None, "", 0) or (value == 0 and name in ("bias", "balance")):
                found[name] = _spelled(value)
    except Exception:  # a parser meets broken files with errors of every kind; nothing is told then
        return {}
    return {name: text[:60] for name, text in found.items() if text}


def check_size(width: int, height: int, name: str, sample_bytes: int = 3) -> None:
    """Refuse what is too large or too small; `sample_bytes` are those of one pixel."""
    if width * height > MOST_PIXELS:
        raise PlumError(
            f"'{name}' has {width * height / 1e6:.0f} megapixels; at most 60 can be taken in. "
            "Export it smaller."
        )
    if max(width, height) > MOST_SIDE:
        raise PlumError(
            f"'{name}' is {max(width, height):,} pixels long; at most {MOST_SIDE:,} can be taken "
            "in. Export it smaller."
        )
    if width * height * sample_bytes > MOST_SAMPLES:
        raise PlumError(
            f"'{name}' unpacks to {width * height * sample_bytes / 1e6:.0f} MB; at most "
            f"{MOST_SAMPLES // 10**6} MB can be taken in. Export it as 8 or 16 bit RGB."
        )
    if min(width, height) < LEAST_SIDE:
        raise PlumError(
            f"'{name}' is only {width} x {height} pixels; at least {LEAST_SIDE} each way are "
            "needed."
        )


def _broken(name: str) -> PlumError:
    return PlumError(f"'{name}' is broken or not finished: it cannot be decoded. Export it again.")


@dataclass(frozen=True)
class _Loaded:
    """Samples (h, w) or (h, w, n) as a file holds them; orientation 1 to 8; profile; whether they
    are inks, not light; its own rows and columns where these are a smaller copy."""

    samples: Samples
    turned: int
    icc: bytes | None
    inks: bool = False
    own: tuple[int, int] | None = None


def _pillow(data: bytes, name: str, longest: int | None) -> _Loaded:
    """A JPEG, PNG, WebP or HEIC."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image: Image.Image = Image.open(io.BytesIO(data), formats=_KINDS)
            check_size(*image.size, name, 4)
            turned, icc = _orientation(image.getexif().get(0x0112)), image.info.get("icc_profile")
            if image.mode in ("I;16", "I", "F") or (data[:8] == PNG_MAGIC and data[24] == 16):
                check_size(*image.size, name, 8)
                return _Loaded(_deep_png(data, name), turned, icc)
            own = image.height, image.width
            if longest is not None:
                image.draft(None, (longest, longest))
            return replace(_of_image(image, turned, icc, name), own=own)
    except (PlumError, MemoryError):
        raise
    except Exception as error:  # a decoder meets broken files with errors of every kind
        raise _broken(name) from error


def _of_image(image: Image.Image, turned: int, icc: bytes | None, name: str) -> _Loaded:
    """Grey, RGB, either with transparency, or inks."""
    if image.mode == "CMYK":
        if not icc:
            raise PlumError(f"'{name}' is for print (CMYK) and has no profile. Export it as RGB.")
        return _Loaded(np.asarray(image), turned, icc, inks=True)
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        image = image.convert("RGBA")
    elif image.mode not in ("RGB", "L"):
        image = image.convert("RGB")
    return _Loaded(np.asarray(image), turned, icc)


def _orientation(value: object) -> int:
    """1 to 8; whatever else a file says means upright."""
    return value if isinstance(value, int) and 1 <= value <= 8 else 1


def _deep_png(data: bytes, name: str) -> Samples:
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if decoded is None:
        raise _broken(name)
    turned = {3: cv2.COLOR_BGR2RGB, 4: cv2.COLOR_BGRA2RGBA}
    if decoded.ndim == 3 and decoded.shape[2] in turned:
        cv2.cvtColor(decoded, turned[decoded.shape[2]], dst=decoded)  # in place
    return np.asarray(decoded)


def _is_raw(data: bytes) -> bool:
    """Whether a TIFF is a DNG or another raw in TIFF's clothes: it carries a DNG version or a
    colour filter array."""
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            assert isinstance(page, tifffile.TiffPage)
            return 50706 in page.tags or page.photometric in (32803, 34892)
    except Exception:
        return True  # not a TIFF that we know: let the raw reader try


def _tiff(data: bytes, name: str) -> _Loaded:
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            assert isinstance(page, tifffile.TiffPage)
            kind, many = page.dtype, page.samplesperpixel
            if kind is None or page.imagedepth != 1 or not 1 <= many <= MOST_CHANNELS:
                raise _kind_of_samples(name)
            check_size(page.imagewidth, page.imagelength, name, max(3, kind.itemsize * many))
            tags = {t.code: t.value for t in page.tags.values()}
            icc = tags.get(34675)
            turned, icc = _orientation(tags.get(274)), icc if isinstance(icc, bytes) else None
            if kind == np.uint8 and page.planarconfig == 1:
                # The other library knows every way in which 8 bits are packed.
                with Image.open(io.BytesIO(data), formats=_KINDS) as image:
                    check_size(*image.size, name, 4)
                    image.load()  # which turns a TIFF upright, and takes the word for it out
                    left = _orientation(image.getexif().get(0x0112))
                    return _of_image(image, left, icc, name)
            if page.photometric not in LIGHT:
                raise _kind_of_samples(name)
            pixels = page.asarray()
            if page.photometric == 0:  # white is zero
                pixels = (np.iinfo(kind).max if kind.kind == "u" else 1) - pixels
            if page.axes.startswith("S"):
                pixels = np.moveaxis(pixels, 0, -1)
    except (PlumError, MemoryError):
        raise
    except Exception as error:
        raise PlumError(
            f"'{name}' is broken, or a TIFF of a kind that cannot be read. Export it as 8 or "
            "16 bit RGB."
        ) from error
    if pixels.ndim not in (2, 3) or not (pixels.dtype.kind == "f" or pixels.dtype in DEPTHS):
        raise _kind_of_samples(name)
    return _Loaded(pixels, turned, icc)


def _kind_of_samples(name: str) -> PlumError:
    return PlumError(
        f"'{name}' has samples of a kind that cannot be read. Export it as 8 or 16 bit RGB."
    )


def _deep(rows: Samples) -> NDArray[np.uint16]:
    """Samples of 8 or 16 bits or floats, with one to four channels, as 16-bit RGB on white."""
    if rows.dtype == np.uint8:
        deep = rows.astype(np.uint16) * np.uint16(257)
    elif rows.dtype == np.uint16:
        deep = rows
    else:
        light = np.nan_to_num(rows.astype(np.float32), nan=0, posinf=1, neginf=0)
        deep = np.round(light.clip(0, 1) * 65535).astype(np.uint16)
    deep = deep[..., None] if deep.ndim == 2 else deep[..., :4]
    if deep.shape[2] in (2, 4):
        alpha = deep[..., -1:].astype(np.float32) / 65535
        deep = np.round(deep[..., :-1] * alpha + (1 - alpha) * 65535).astype(np.uint16)
    return np.repeat(deep, 3, -1) if deep.shape[2] == 1 else deep


def _eight(rows: NDArray[np.uint16]) -> NDArray[np.uint8]:
    return np.round(rows / np.float32(257)).astype(np.uint8)


def _managed(loaded: _Loaded, name: str) -> Callable[[Samples], NDArray[np.uint16]] | None:
    """What turns rows of samples in their profile into sRGB, in 8 bits, for the colour engine at
    hand has no deeper RGB; None without a profile, with one that changes nothing visibly, or with
    one that cannot be read: then sRGB is the likeliest."""
    if not loaded.icc:
        return None
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(loaded.icc))
        grey = profile.profile.xcolor_space.strip() == "GRAY"
        if grey and loaded.samples.ndim == 3 and loaded.samples.shape[2] > 2:
            return None  # it is not the profile of these colours
        mode = "CMYK" if loaded.inks else "L" if grey else "RGB"
        transform = ImageCms.buildTransform(
            profile,
            ImageCms.createProfile("sRGB"),
            mode,
            "RGB",
            ImageCms.Intent.RELATIVE_COLORIMETRIC,
            ImageCms.Flags.BLACKPOINTCOMPENSATION,
        )
    except (ImageCms.PyCMSError, OSError, ValueError, TypeError) as error:
        if loaded.inks:
            raise PlumError(
                f"'{name}' is for print (CMYK) and its profile cannot be read. Export it as RGB."
            ) from error
        return None

    def apply(rows: Samples) -> NDArray[np.uint16]:
        eight = rows if loaded.inks else _eight(_deep(rows))
        plain = np.ascontiguousarray(eight[..., 0] if mode == "L" else eight)
        image = Image.frombytes(mode, (plain.shape[1], plain.shape[0]), plain.tobytes())
        return _deep(np.asarray(ImageCms.applyTransform(image, transform)))

    if loaded.inks:
        return apply
    height, width = loaded.samples.shape[:2]
    few = loaded.samples[:: max(1, height // 256), :: max(1, width // 256)]
    changed = np.abs(_eight(apply(few)).astype(int) - _eight(_deep(few)))
    return apply if int(changed.max()) >= VISIBLE else None


def _finished(loaded: _Loaded, name: str, longest: int | None, out: Path) -> dict[str, Any]:
    managed = _managed(loaded, name)
    height, width = loaded.samples.shape[:2]
    whole = np.empty((height, width, 3), np.uint16)
    for top in range(0, height, BAND):
        rows = loaded.samples[top : top + BAND]
        whole[top : top + BAND] = managed(rows) if managed else _deep(rows)
    made = _written(whole, loaded.turned, longest, out, loaded.own or (height, width))
    return made | {"finished": True}


def _raw(data: bytes, name: str, longest: int | None, out: Path) -> dict[str, Any]:
    try:
        with rawpy.imread(io.BytesIO(data)) as raw:
            sizes = raw.sizes
            check_size(sizes.width, sizes.height, name)
            check_size(sizes.raw_width, sizes.raw_height, name)
            halved = longest is not None and sizes.width > 2 * longest
            colour = colour_of(data, raw.rgb_xyz_matrix, list(raw.camera_whitebalance))
            red, green, blue = colour.gains
            linear = raw.postprocess(
                gamma=(1, 1),
                no_auto_bright=True,
                # White is the file's own clip, not the brightest that this picture has.
                adjust_maximum_thr=0.0,
                output_bps=16,
                output_color=rawpy.ColorSpace.raw,
                user_wb=[red, green, blue, green],
                highlight_mode=rawpy.HighlightMode.Clip,
                half_size=halved,
            )
    except (PlumError, MemoryError):
        raise
    except Exception as error:
        raise PlumError(
            f"'{name}' is not a picture that can be read. JPEG, PNG, TIFF, WebP, HEIC, DNG and "
            "most camera raws can."
        ) from error
    if linear.ndim != 3 or linear.shape[2] != 3:
        raise _kind_of_samples(name)
    own = linear.shape[0] * (1 + halved), linear.shape[1] * (1 + halved)
    return _written(linear, 1, longest, out, own) | {
        "finished": False,
        "to_xyz": colour.to_xyz.tolist(),
        "as_shot": colour.as_shot,
        "baseline": colour.baseline,
    }


def _written(
    whole: Samples, turned: int, longest: int | None, out: Path, own: tuple[int, int]
) -> dict[str, Any]:
    """Bring a picture to its size, turn it upright and put it into the file; `own` are the rows and
    columns that it had before anything made it smaller."""
    height, width = whole.shape[:2]
    if longest is not None and max(height, width) > longest:
        share = longest / max(height, width)
        size = max(1, round(width * share)), max(1, round(height * share))
        whole = cv2.resize(whole, size, interpolation=cv2.INTER_AREA)
    upright = _upright(whole, turned)
    with out.open("wb") as file:
        # In full before it is mapped: what a full disk leaves out of a mapped file ends a process.
        os.posix_fallocate(file.fileno(), 0, max(1, upright.size * upright.itemsize))
        for top in range(0, len(upright), BAND):
            file.write(np.ascontiguousarray(upright[top : top + BAND]).data)
    across = own[0] if turned in (5, 6, 7, 8) else own[1]
    return {"size": list(upright.shape[:2]), "across": across}


def _upright(pixels: Samples, orientation: int) -> Samples:
    """Undo an EXIF orientation (1 to 8)."""
    if orientation in (5, 6, 7, 8):
        pixels = pixels.transpose(1, 0, 2)
    rows = orientation in (3, 4, 7, 8)
    columns = orientation in (2, 3, 6, 7)
    return pixels[:: -1 if rows else 1, :: -1 if columns else 1]
