"""What a file keeps: code values, colours at half the width or height, and what a codec's bits
allow. A picture's JPEG and a clip's frame are really written and read back, a clip's by H.264 with
every frame by itself, within the bits that the bit rate leaves for it."""

from fractions import Fraction
from typing import Any

import numpy as np

from ..base.arrays import Array
from ..base.late import library
from ..look import Look
from . import encode

cv2 = library("cv2")

QUALITY = 95  # of a body's finest JPEG
SAMPLING = {444: 0x111111, 422: 0x211111, 420: 0x221111}
AVERAGED = 1.5  # samples of the file a pixel from which on colours at half size do not show
NEAR = 0.7  # pixels of what is shown for one of the file, from which on its JPEG shows
LEAST_SIDE = 256  # pixels a side of what goes to the encoder, an even number
HEADER = 800  # bits that a frame's description takes
LUMA = np.array([0.2126, 0.7152, 0.0722])  # BT.709, on encoded values
_TO_YCC = np.stack(
    [LUMA, (np.array([0, 0, 1]) - LUMA) / 1.8556, (np.array([1, 0, 0]) - LUMA) / 1.5748]
)
_TO_RGB = np.linalg.inv(_TO_YCC)


def as_file(encoded: Array, look: Look, frame: int, photosites: int) -> Array:
    """Encoded values (h, w, 3) of a part of a frame that is `frame` pixels wide as they come back
    from the file that a camera with `photosites` across writes."""
    if look.clip:
        return _clip(encoded, look, frame)
    rounded = encode.quantised(encoded, look.bits, look.limited)
    return _jpeg(rounded, look.chroma) if frame >= NEAR * photosites else rounded


def _jpeg(encoded: Array, chroma: int) -> Array:
    codes = np.rint(np.clip(encoded[..., ::-1], 0, 1) * 255).astype(np.uint8)
    how = [cv2.IMWRITE_JPEG_QUALITY, QUALITY, cv2.IMWRITE_JPEG_SAMPLING_FACTOR, SAMPLING[chroma]]
    data = cv2.imencode(".jpg", codes, how)[1]
    back = np.asarray(cv2.imdecode(data, cv2.IMREAD_COLOR), np.float32)
    return np.ascontiguousarray(back[..., ::-1]) / np.float32(255)


def pixel_bits(look: Look) -> float:
    """Bits that a clip's rate leaves for each pixel of its frames, at 16:9."""
    return look.bit_rate * 1e6 / look.rate / (look.frame_size**2 * 9 / 16)


def _clip(encoded: Array, look: Look, frame: int) -> Array:
    """A part of a clip's frame, at the size it is recorded in if that is smaller."""
    height, width = encoded.shape[:2]
    finer = look.frame_size / frame  # samples of the file for each pixel shown, along a side
    small = encoded
    if finer < 1:
        size = max(1, round(width * finer)), max(1, round(height * finer))
        small = cv2.resize(encoded, size, interpolation=cv2.INTER_AREA)
    rows, columns = small.shape[:2]
    # An encoder takes whole pairs of rows and columns, and what it says of the whole frame must not
    # outweigh a small part: that is mirrored.
    more = [max(side % 2, LEAST_SIDE - side) for side in (rows, columns)]
    whole = small
    if any(more):
        whole = np.pad(small, ((0, more[0]), (0, more[1]), (0, 0)), mode="symmetric")
    chroma = 444 if finer >= AVERAGED else look.chroma
    area = whole.shape[0] * whole.shape[1] * max(finer, 1.0) ** 2
    back = _coded(whole, look, chroma, pixel_bits(look) * area + HEADER)[:rows, :columns]
    if finer < 1:
        back = cv2.resize(back, (width, height), interpolation=cv2.INTER_LINEAR)
    out = np.ascontiguousarray(back, np.float32)
    return np.clip(out, 0, 1, out=out)


def _coded(encoded: Array, look: Look, chroma: int, bits: float) -> Array:
    """Encoded values of whole pairs of rows and columns through a clip's codec."""
    planes, scale, start = planes_of(encoded, look, chroma)
    size = encoded.shape[1], encoded.shape[0]
    values = [plane.astype(np.float32) for plane in there_and_back(planes, look.bits, chroma, bits)]
    whole = [v if v.shape[::-1] == size else cv2.resize(v, size) for v in values]
    shift = np.array([-at / by for at, by in zip(start, scale)])
    back = np.column_stack([_TO_RGB / np.array(scale), _TO_RGB @ shift])
    return np.asarray(cv2.transform(cv2.merge(whole), back), np.float32)


def there_and_back(planes: list[Any], bits: int, chroma: int, budget: float) -> list[Any]:
    """Planes of code values as they come back from a clip's file."""
    return _decoded(h264(planes, bits, chroma, budget), planes)


def planes_of(
    encoded: Array, look: Look, chroma: int
) -> tuple[list[Any], tuple[int, ...], tuple[int, ...]]:
    """Code values of Y, Cb and Cr (BT.709), colours at the size that `chroma` says, how many codes
    make 1 of each, and the code of 0."""
    black, white = encode.levels(look.bits, look.limited)
    middle = 1 << (look.bits - 1)
    spread = 224 << (look.bits - 8) if look.limited else white
    most = (1 << look.bits) - 1
    scale, start = (white - black, spread, spread), (black, middle, middle)
    to_codes = np.column_stack([_TO_YCC * np.array(scale)[:, None], start])
    height, width = encoded.shape[:2]
    size = width // (1 if chroma == 444 else 2), height // (2 if chroma == 420 else 1)
    planes = []
    for k, plane in enumerate(cv2.split(cv2.transform(np.clip(encoded, 0, 1), to_codes))):
        if k and chroma != 444:
            plane = cv2.resize(plane, size, interpolation=cv2.INTER_AREA)
        np.clip(np.rint(plane, out=plane), 0, most, out=plane)
        planes.append(plane.astype(np.uint8 if look.bits == 8 else np.uint16))
    return planes, scale, start


def h264(planes: list[Any], bits: int, chroma: int, budget: float) -> bytes:
    """Planes of code values (Y, Cb, Cr) as one H.264 frame within a number of bits."""
    import av  # takes a quarter of a second, and only clips need it

    height, width = planes[0].shape
    layout = f"yuv{chroma}p" + ("" if bits == 8 else "10le")
    thousand = max(1, round(budget / 1000))
    encoder: Any = av.CodecContext.create("libx264", "w")
    encoder.width, encoder.height, encoder.pix_fmt = width, height, layout
    encoder.time_base, encoder.framerate = Fraction(1, 25), Fraction(25)
    encoder.bit_rate = thousand * 25_000
    encoder.options = {
        "preset": "veryfast",
        "tune": "zerolatency",
        "threads": "1",
        # Without arithmetic coding, as cameras write frames that stand by themselves at high rates.
        "x264-params": f"keyint=1:rc-lookahead=0:cabac=0:vbv-maxrate={thousand * 25}:"
        f"vbv-bufsize={thousand}:vbv-init=1",
    }
    shown = av.VideoFrame(width, height, layout)
    for plane, codes in zip(shown.planes, planes, strict=True):
        rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
        rows[:, : codes.shape[1] * codes.itemsize] = codes.view(np.uint8)
    shown.pts = 0
    return b"".join(map(bytes, list(encoder.encode(shown)) + list(encoder.encode(None))))


def _decoded(data: bytes, planes: list[Any]) -> list[Any]:
    """The planes of an H.264 frame, like `planes` in shape."""
    import av

    decoder: Any = av.CodecContext.create("h264", "r")
    frames: list[Any] = list(decoder.decode(av.Packet(data))) + list(decoder.decode(None))
    back = []
    for plane, codes in zip(frames[0].planes, planes, strict=True):
        rows = np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)
        wide = codes.shape[1] * codes.itemsize
        back.append(np.ascontiguousarray(rows[:, :wide]).view(codes.dtype))
    return back
