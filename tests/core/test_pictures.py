"""A person's own pictures: what comes in goes out unchanged through Plain, upright, in its own
colours, under limits."""

import io
import struct
import zlib
from pathlib import Path

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms
from skimage import data

from tests.builders import file_of, raw_of, rendered
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.pictures import decode
from zesty_plum.core.pictures import read as reader
from zesty_plum.core.pictures.read import read
from zesty_plum.core.scenes.scene import Scene


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea"])
def test_plain_at_zero_gives_a_finished_picture_back(name):
    photo = getattr(data, name)()
    scene = read(file_of(photo), "photo.png", "own-1")
    assert scene.finished
    assert np.abs(rendered(scene, scene.size[0]).pixels.astype(int) - photo).max() <= 1
    # Automatic balance, the daylight preset and a grey card leave it alone too.
    for balance in ("keep_warm", "daylight", "grey_card"):
        assert (
            np.abs(
                rendered(scene, scene.size[0], white_balance=balance).pixels.astype(int) - photo
            ).max()
            <= 1
        )


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("kind", ["JPEG", "PNG", "TIFF", "WEBP"])
def test_pictures_stand_upright(orientation, kind):
    upright = np.zeros((40, 60, 3), np.uint8)
    upright[:10, :15] = (255, 0, 0)
    upright[-10:, -15:] = (0, 0, 255)
    # What a camera held that way would store, by the EXIF standard's own words on where row 0 and
    # column 0 are.
    stored = {
        1: upright,
        2: upright[:, ::-1],
        3: upright[::-1, ::-1],
        4: upright[::-1],
        5: upright.transpose(1, 0, 2),
        6: np.rot90(upright, 1),
        7: upright[::-1, ::-1].transpose(1, 0, 2),
        8: np.rot90(upright, -1),
    }[orientation]
    tags = Image.Exif()
    tags[0x0112] = orientation
    scene = read(file_of(np.ascontiguousarray(stored), kind, exif=tags), "x", "own-1")
    assert scene.size == (60, 40)
    assert scene.pixels[4, 6] == pytest.approx([1, 0, 0], abs=0.05)
    assert scene.pixels[-5, -7] == pytest.approx([0, 0, 1], abs=0.05)


def test_a_telephones_picture_comes_in(monkeypatch):
    """HEIC where its library is there, and a sentence where it is not."""
    upright = np.zeros((64, 96, 3), np.uint8)
    upright[:20, :30] = (255, 0, 0)
    data = file_of(upright, "HEIF", quality=95)
    scene = read(data, "pier.heic", "own-1")
    assert scene.size == (96, 64)
    assert scene.pixels[8, 10] == pytest.approx([1, 0, 0], abs=0.06)
    monkeypatch.setattr(decode, "HEIF", False)
    with pytest.raises(PlumError, match=r"'pier\.heic' is HEIC, which cannot be read here"):
        decode.decode(data, "pier.heic", None, Path("nowhere"))


def test_a_profile_is_honoured():
    photo = data.astronaut()[::4, ::4]
    # A profile whose red and blue are swapped shows at once whether it was used; made from sRGB's
    # own tags.
    profile = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    count = struct.unpack(">I", profile[128:132])[0]
    at = {bytes(profile[132 + 12 * k : 136 + 12 * k]): 132 + 12 * k for k in range(count)}
    red, blue = at[b"rXYZ"], at[b"bXYZ"]
    profile[red : red + 4], profile[blue : blue + 4] = b"bXYZ", b"rXYZ"
    plain, swapped = (
        read(file_of(photo, icc_profile=p), "x", "own").pixels for p in (None, bytes(profile))
    )
    assert np.abs(swapped - plain[..., ::-1]).mean() < 0.02
    assert np.abs(swapped - plain).mean() > 0.05


def test_sixteen_bit_and_grey_and_transparent_pictures():
    ramp = np.linspace(0, 65535, 256 * 64).reshape(64, 256).astype(np.uint16)
    out = io.BytesIO()
    tifffile.imwrite(out, np.repeat(ramp[..., None], 3, -1), photometric="rgb")
    assert len(np.unique(read(out.getvalue(), "deep.tif", "own").pixels[..., 0])) > 10_000
    grey = read(file_of((ramp >> 8).astype(np.uint8)), "grey.png", "own").pixels
    assert np.ptp(grey, axis=-1).max() == 0
    clear = np.zeros((32, 32, 4), np.uint8)
    assert read(file_of(clear), "clear.png", "own").pixels.min() == 1  # on white paper


@pytest.mark.parametrize("packed", ["raw", "tiff_lzw", "tiff_deflate", "packbits", "jpeg"])
def test_a_tiff_is_read_however_it_is_packed(packed):
    photo = data.astronaut()[::4, ::4]
    seen = read(file_of(photo, "TIFF", compression=packed), "x.tif", "own").pixels * 255
    assert np.abs(seen - photo).mean() < (6 if packed == "jpeg" else 0.01)


def test_a_deep_tiff_is_taken_for_what_it_says_it_is():
    ramp = np.linspace(0, 65535, 64 * 64).reshape(64, 64).astype(np.uint16)
    seen = {}
    for kind in ("minisblack", "miniswhite"):
        out = io.BytesIO()
        tifffile.imwrite(out, ramp, photometric=kind)
        seen[kind] = read(out.getvalue(), "x.tif", "own").pixels[..., 0]
    assert seen["minisblack"] == pytest.approx(ramp / 65535, abs=1e-6)
    assert seen["miniswhite"] == pytest.approx(1 - ramp / 65535, abs=1e-6)
    out = io.BytesIO()
    tifffile.imwrite(out, np.stack([ramp] * 4, -1), photometric="separated")
    with pytest.raises(PlumError, match="samples of a kind"):
        read(out.getvalue(), "inks.tif", "own")


def dng(folder: Path) -> bytes:
    """A raw mosaic of a bright disc on grey."""
    y, x = np.mgrid[0:240, 0:320]
    return raw_of(np.where((x - 160) ** 2 + (y - 120) ** 2 < 60**2, 3200, 500), folder, 4095)


def test_a_raw_comes_in_as_light(tmp_path):
    scene = read(dng(tmp_path), "made.dng", "own-raw")
    assert isinstance(scene, Scene)
    assert not scene.finished
    middle, edge = scene.pixels[110:130, 150:170].mean(), scene.pixels[:20, :20].mean()
    assert middle / edge == pytest.approx(3200 / 500, rel=0.1)


def big_png(width: int, height: int) -> bytes:
    """A PNG that claims to be large; decoding it would take the memory it claims."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        return (
            struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        )

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(b"\0" * 100))
        + chunk(b"IEND", b"")
    )


@pytest.mark.parametrize(
    ("bytes_", "words"),
    [
        (b"", "empty"),
        (b"GIF89a" + b"\0" * 100, "not a picture"),
        (b"\xff\xd8\xff\xe0" + b"\0" * 50, "broken"),
        (file_of(data.astronaut(), "JPEG")[:4000], "broken"),
        (big_png(30_000, 30_000), "900 megapixels"),
        (big_png(8, 8), "8 x 8"),
        (b"II*\0" + b"\0" * 200, "not a picture"),
    ],
)
def test_everything_else_is_refused_with_a_sentence(bytes_, words):
    with pytest.raises(PlumError, match=words):
        read(bytes_, "thing.bin", "own")


def test_over_a_hundred_megabytes_is_refused(monkeypatch):
    monkeypatch.setattr(reader, "MOST_BYTES", 1000)
    with pytest.raises(PlumError, match="100 MB"):
        read(file_of(data.astronaut()), "big.png", "own")
