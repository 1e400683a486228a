"""Reading a person's own picture under limits: finished ones and raws, upright, in known colour."""

import io
import warnings

import cv2
import numpy as np
import rawpy
import tifffile
from PIL import Image, ImageCms, ImageOps

from ..arrays import MID_GREY, Array
from ..colour.light import DAYLIGHT_MIRED, estimate_light
from ..colour.spaces import REC2020_TO_XYZ
from ..colour.white import mired_and_duv
from ..develop import reduce_noise
from ..errors import PlumError
from ..scenes.scene import Scene

MOST_BYTES, MOST_PIXELS = 100 * 10**6, 60 * 10**6
TIFF_MAGIC = (b"II*\0", b"MM\0*")
LOOKED_AT = 3000  # longer side that is enough for looking at on a screen

Image.MAX_IMAGE_PIXELS = None  # the limit is checked here, before anything is decoded


def read(data: bytes, name: str, scene_id: str, longest: int | None = None) -> Scene:
    """Turn the bytes of a JPEG, PNG, TIFF or raw file into a scene; PlumError says why it cannot
    be.

    `longest` limits the longer side in pixels, for looking at; None keeps the picture's own size.
    """
    if not data:
        raise PlumError(f"'{name}' is empty. Choose a JPEG, PNG, TIFF or raw picture.")
    if len(data) > MOST_BYTES:
        raise PlumError(
            f"'{name}' has {len(data) / 1e6:.0f} MB; at most 100 MB can be taken in. Export "
            "it smaller."
        )
    title = name.rsplit("/", 1)[-1].rsplit(".", 1)[0][:60] or "Picture"
    if data[:3] == b"\xff\xd8\xff" or data[:8] == b"\x89PNG\r\n\x1a\n":
        return _finished(_pillow(data, name), title, scene_id, longest)
    if data[:4] in TIFF_MAGIC and not _is_raw(data):
        return _finished(_tiff(data, name), title, scene_id, longest)
    return _raw(data, name, title, scene_id, longest)


def _check_size(width: int, height: int, name: str) -> None:
    if width * height > MOST_PIXELS:
        raise PlumError(
            f"'{name}' has {width * height / 1e6:.0f} megapixels; at most 60 can be taken in. "
            "Export it smaller."
        )
    if min(width, height) < 16:
        raise PlumError(
            f"'{name}' is only {width} x {height} pixels; at least 16 each way are needed."
        )


def _pillow(data: bytes, name: str) -> Array:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image: Image.Image = Image.open(io.BytesIO(data))
            _check_size(*image.size, name)
            if image.mode in ("I;16", "I", "F") or (data[:4] == b"\x89PNG" and data[24] == 16):
                return _deep_png(data, image, name)
            image.load()
            image = ImageOps.exif_transpose(image)
    except PlumError:
        raise
    except Exception as error:  # a decoder meets broken files with errors of every kind
        raise PlumError(
            f"'{name}' is broken or not finished: it cannot be decoded. Export it again."
        ) from error
    return _to_srgb(image, name)


def _to_srgb(image: Image.Image, name: str) -> Array:
    if image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info:
        image = image.convert("RGBA")
        paper = Image.new("RGBA", image.size, (255, 255, 255, 255))
        profile = image.info.get("icc_profile")
        image = Image.alpha_composite(paper, image).convert("RGB")
        if profile:
            image.info["icc_profile"] = profile
    icc = image.info.get("icc_profile")
    if icc:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(icc))
            target = ImageCms.createProfile("sRGB")
            if image.mode not in ("RGB", "CMYK", "L"):
                image = image.convert("RGB")
            done = ImageCms.profileToProfile(
                image,
                source,
                target,
                ImageCms.Intent.RELATIVE_COLORIMETRIC,
                "RGB",
                flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
            )
            assert done is not None
            image = done
        except (ImageCms.PyCMSError, OSError, ValueError):
            pass  # a profile that cannot be read: sRGB is the likeliest
    if image.mode == "CMYK" and not icc:
        raise PlumError(f"'{name}' is for print (CMYK) and has no profile. Export it as RGB.")
    encoded = np.array(image.convert("RGB"), np.float32)
    encoded /= 255
    return encoded


def _deep_png(data: bytes, image: Image.Image, name: str) -> Array:
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if decoded is None:
        raise PlumError(
            f"'{name}' is broken or not finished: it cannot be decoded. Export it again."
        )
    orientation = image.getexif().get(0x0112, 1)
    return _deep(
        decoded[..., ::-1] if decoded.ndim == 3 and decoded.shape[2] == 3 else decoded,
        orientation,
        image.info.get("icc_profile"),
        name,
    )


def _tiff(data: bytes, name: str) -> Array:
    try:
        with tifffile.TiffFile(io.BytesIO(data)) as file:
            page = file.pages[0]
            assert isinstance(page, tifffile.TiffPage)
            _check_size(page.imagewidth, page.imagelength, name)
            tags = {t.code: t.value for t in page.tags.values()}
            if page.dtype == np.uint8 and page.photometric not in (2, 6):
                with Image.open(io.BytesIO(data)) as image:
                    image.load()
                    return _to_srgb(ImageOps.exif_transpose(image), name)
            pixels = page.asarray()
            if page.axes.startswith("S"):
                pixels = np.moveaxis(pixels, 0, -1)
    except PlumError:
        raise
    except Exception as error:
        raise PlumError(
            f"'{name}' is broken, or a TIFF of a kind that cannot be read. Export it as 8 or "
            "16 bit RGB."
        ) from error
    return _deep(pixels, int(tags.get(274, 1)), tags.get(34675), name)


def _deep(pixels: np.ndarray, orientation: int, icc: bytes | None, name: str) -> Array:
    """8 or 16 bit or float samples of one to four channels to encoded sRGB, turned upright.

    A profile is applied in 8 bits: the colour engine at hand has no deeper RGB.
    """
    if pixels.dtype == np.uint16:
        encoded: Array = pixels.astype(np.float32) / 65535
    elif pixels.dtype == np.uint8:
        encoded = pixels.astype(np.float32) / 255
    elif pixels.dtype.kind == "f":
        encoded = np.nan_to_num(pixels.astype(np.float32), nan=0, posinf=1, neginf=0).clip(0, 1)
    else:
        raise PlumError(
            f"'{name}' has samples of a kind that cannot be read. Export it as 8 or 16 bit RGB."
        )
    if encoded.ndim == 2:
        encoded = encoded[..., None]
    if encoded.shape[2] in (2, 4):
        alpha = encoded[..., -1:]
        encoded = encoded[..., :-1] * alpha + (1 - alpha)
    if encoded.shape[2] == 1:
        encoded = np.repeat(encoded, 3, -1)
    if icc and encoded.shape[2] == 3:
        image = Image.fromarray(np.round(encoded * 255).astype(np.uint8))
        image.info["icc_profile"] = bytes(icc)
        managed = _to_srgb(image, name)
        shown = np.asarray(image, np.float32) / 255
        encoded = managed if np.abs(managed - shown).max() > 1.5 / 255 else encoded
    return np.ascontiguousarray(_upright(encoded[..., :3], orientation), np.float32)


def _upright(pixels: Array, orientation: int) -> Array:
    """Undo an EXIF orientation (1 to 8)."""
    if orientation in (5, 6, 7, 8):
        pixels = pixels.transpose(1, 0, 2)
    rows = orientation in (3, 4, 7, 8)
    columns = orientation in (2, 3, 6, 7)
    return pixels[:: -1 if rows else 1, :: -1 if columns else 1]


def _shrink(pixels: Array, longest: int | None) -> Array:
    side = max(pixels.shape[:2])
    if longest is None or side <= longest:
        return np.ascontiguousarray(pixels, np.float32)
    size = (round(pixels.shape[1] * longest / side), round(pixels.shape[0] * longest / side))
    return np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA), np.float32)


def _finished(encoded: Array, title: str, scene_id: str, longest: int | None) -> Scene:
    encoded = _shrink(encoded, longest)
    own = (DAYLIGHT_MIRED, 0.0)
    return Scene(
        scene_id,
        title,
        encoded,
        own,
        own,
        finished=True,
        story="Your own picture, taken back to light approximately.",
        group="own",
        noise_present=reduce_noise.present(encoded),
    )


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


def _raw(data: bytes, name: str, title: str, scene_id: str, longest: int | None) -> Scene:
    unknown = (
        f"'{name}' is not a picture that can be read. JPEG, PNG, TIFF, DNG and most "
        "camera raws can."
    )
    try:
        with rawpy.imread(io.BytesIO(data)) as raw:
            _check_size(raw.sizes.width, raw.sizes.height, name)
            linear = raw.postprocess(
                gamma=(1, 1),
                no_auto_bright=True,
                output_bps=16,
                output_color=rawpy.ColorSpace.XYZ,
                use_camera_wb=True,
                highlight_mode=rawpy.HighlightMode.Clip,
                half_size=longest is not None and raw.sizes.width > 2 * longest,
            )
            as_shot = _as_shot_white(raw)
    except PlumError:
        raise
    except Exception as error:
        raise PlumError(unknown) from error
    xyz = linear.astype(np.float32) / 65535
    pixels = np.maximum(xyz @ np.linalg.inv(REC2020_TO_XYZ).T.astype(np.float32), 0)
    pixels = _shrink(pixels, longest)
    # LibRaw balanced it for the light it was shot in; put the cast of that light back, scenes are
    # not balanced.
    pixels = _unbalance(pixels, as_shot)
    # No meter reading is known: the middle of the picture is taken for mid grey.
    luminance = pixels @ np.array([0.2627, 0.6780, 0.0593], np.float32)
    middle = float(np.exp(np.mean(np.log(np.clip(luminance, 1e-4, None)))))
    pixels = np.asarray(pixels * np.clip(MID_GREY / max(middle, 1e-5), 0.25, 16), np.float32)
    auto = as_shot or estimate_light(pixels[::8, ::8])
    return Scene(
        scene_id, title, pixels, auto, auto, story="Your own raw picture, as light.", group="own"
    )


def _as_shot_white(raw: "rawpy.RawPy") -> tuple[float, float] | None:
    """(mired, Duv) of the light the camera balanced for, from its multipliers and its matrix to
    XYZ."""
    gains = np.array(raw.camera_whitebalance[:3], float)
    matrix = np.array(raw.rgb_xyz_matrix[:3], float)
    if not (np.isfinite(gains).all() and (gains > 0).all() and np.abs(matrix).sum() > 0):
        return None
    xyz = np.linalg.solve(matrix, 1 / gains)
    if xyz.sum() <= 0 or (xyz <= 0).any():
        return None
    return mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))


def _unbalance(pixels: Array, light: tuple[float, float] | None) -> Array:
    from ..develop.balance import balance_matrix

    if light is None:
        return pixels
    back = np.linalg.inv(balance_matrix(light, finished=False))
    return np.maximum(pixels @ back.T.astype(np.float32), 0)
