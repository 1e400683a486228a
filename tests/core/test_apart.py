"""Strangers' pictures are decoded in a process of its own: what would take the memory, the time or
the life of a program takes a worker's."""

import io
import struct
import subprocess
import sys
import threading
import time
import zlib

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms

from tests.builders import file_of
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.pictures import apart as parted
from zesty_plum.core.pictures import worker
from zesty_plum.core.pictures.apart import Apart
from zesty_plum.core.pictures.read import LOOKED_AT, read
from zesty_plum.core.scenes.frame import Deep, Held

GOOD = file_of(np.full((40, 60, 3), 90, np.uint8))


@pytest.fixture
def apart():
    own = Apart()
    yield own
    own._end()


def png(width: int, height: int, depth: int = 8, kind: int = 2, rows: int | None = None) -> bytes:
    """A PNG of zeros of any size, packed to next to nothing."""

    def chunk(name: bytes, body: bytes) -> bytes:
        whole = name + body
        return struct.pack(">I", len(body)) + whole + struct.pack(">I", zlib.crc32(whole))

    row = bytes(1 + (width * depth * {0: 1, 2: 3, 6: 4}[kind] + 7) // 8)
    packer = zlib.compressobj(1)
    body = b"".join(packer.compress(row) for _ in range(height if rows is None else rows))
    head = struct.pack(">IIBBBBB", width, height, depth, kind, 0, 0, 0)
    parts = chunk(b"IHDR", head), chunk(b"IDAT", body + packer.flush()), chunk(b"IEND", b"")
    return b"\x89PNG\r\n\x1a\n" + b"".join(parts)


def tiff(pixels: np.ndarray, **more: object) -> bytes:
    out = io.BytesIO()
    tifffile.imwrite(out, pixels, compression="zlib", **more)
    return out.getvalue()


BOMBS = {
    "20000 squared, one bit": (png(20_000, 20_000, 1, 0, rows=10), "400 megapixels"),
    "60000 squared, one bit": (png(60_000, 60_000, 1, 0, rows=10), "3600 megapixels"),
    "a line": (png(1_000_000, 20, rows=1), "1,000,000 pixels long"),
    "16 bits and alpha": (png(7700, 7700, 16, 6, rows=1), "broken"),
    "32 samples": (tiff(np.zeros((3000, 3000, 32), np.uint8), photometric="minisblack",
                        planarconfig="contig"), "samples of a kind"),
    "floats": (tiff(np.zeros((6300, 9500, 3), np.float32), photometric="rgb"), "718 MB"),
    "doubles": (tiff(np.zeros((64, 64, 3), np.float64), photometric="rgb"), ""),
    "whole": (tiff(np.zeros((64, 64, 3), np.int32), photometric="rgb"), "samples of a kind"),
    "a volume": (tiff(np.zeros((32, 64, 64), np.uint8), photometric="minisblack", volumetric=True,
                      tile=(16, 16, 16)), "samples of a kind"),
}  # fmt: skip


@pytest.mark.parametrize("name", BOMBS)
def test_bombs_are_told_by_their_heads(apart, name):
    data, words = BOMBS[name]
    begun = time.monotonic()
    if words:
        with pytest.raises(PlumError, match=words):
            apart.decode(data, "bomb", LOOKED_AT)
    else:
        apart.decode(data, "bomb", LOOKED_AT)
    assert apart.codes(data) == []
    assert time.monotonic() - begun < 10
    assert apart.decode(GOOD, "good.png", None)[0].shape == (40, 60, 3)


def test_a_decoder_that_takes_all_memory_gives_a_sentence():
    """The bound holds in the process that has it, whatever the decoder does."""
    script = (
        "from zesty_plum.core.pictures import worker\n"
        "import numpy as np\n"
        "def greedy(*_): return np.ones(3 * 2**30, np.uint8)\n"
        "worker.decode = greedy; worker._bounded()\n"
        "print(worker._answer({'work': 'decode', 'name': 'x', 'longest': None, 'out': '/'}, b''))"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert "takes more memory to decode than a picture may" in done.stdout, done.stderr
    assert worker.MOST_MEMORY < 2 * 2**30


@pytest.mark.parametrize("end", ["kill", "exit", "chatter"])
def test_a_file_that_ends_the_decoder_gives_a_sentence_and_the_next_is_read(
    apart, monkeypatch, end
):
    scripts = {
        "kill": "import os, sys; sys.stdin.buffer.readline(); os.abort()",
        "exit": "pass",
        "chatter": "import sys; sys.stdin.buffer.readline(); print('[]', flush=True); input()",
    }
    started = subprocess.Popen

    def faulty(command, **more):
        return started([command[0], "-c", scripts[end]], **more)

    monkeypatch.setattr(parted.subprocess, "Popen", faulty)
    with pytest.raises(PlumError, match=r"'bad\.raw' cannot be decoded: it makes the decoder stop"):
        apart.decode(GOOD, "bad.raw", None)
    monkeypatch.setattr(parted.subprocess, "Popen", started)
    assert apart.decode(GOOD, "good.png", None)[0].shape == (40, 60, 3)


def test_a_decoder_that_takes_for_ever_is_ended(monkeypatch):
    started, own = subprocess.Popen, Apart(seconds=0.5)
    monkeypatch.setattr(
        parted.subprocess,
        "Popen",
        lambda command, **more: started([command[0], "-c", "import time; time.sleep(60)"], **more),
    )
    for data in (GOOD, GOOD + bytes(2**20)):  # more than the line between the two holds
        begun = time.monotonic()
        with pytest.raises(PlumError, match="took longer than"):
            own.decode(data, "slow.raw", None)
        assert time.monotonic() - begun < 10
        assert own._process is None


def test_many_at_once_wait_for_one_decoder(apart, tmp_path):
    found: list[tuple[int, ...]] = []

    def one(side: int) -> None:
        data = file_of(np.full((side, side, 3), 50, np.uint8))
        found.append(apart.decode(data, "x.png", None, tmp_path)[0].shape)

    threads = [threading.Thread(target=one, args=(20 + k,)) for k in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(found) == [(20 + k, 20 + k, 3) for k in range(12)]
    assert list(tmp_path.iterdir()) == []  # nothing lies about


def test_decoding_apart_changes_no_sample():
    """Against the pictures that were written: all samples of 8 and 16 bits, whole and by rows."""
    dice = np.random.default_rng(3)
    for depth, most in ((np.uint8, 255), (np.uint16, 65535)):
        pixels = dice.integers(0, most, (300, 70, 3), endpoint=True).astype(depth)
        frame = read(tiff(pixels, photometric="rgb"), "x.tif", "own").frame
        assert frame[:] == pytest.approx(pixels / most, abs=1e-7)
        assert frame[120:130] == pytest.approx(pixels[120:130] / most, abs=1e-7)
        assert frame.shrunk(35, 150) == pytest.approx(
            pixels.reshape(150, 2, 35, 2, 3).mean((1, 3)) / most, abs=2e-5
        )


def test_frames_are_the_same_however_they_are_kept():
    pixels = np.random.default_rng(5).random((90, 120, 3), np.float32)
    held, deep = Held(pixels), Deep(np.round(pixels * 65535).astype(np.uint16))
    for ask in (
        lambda f: f[:],
        lambda f: f[7:31],
        lambda f: f.sparse,
        lambda f: f.middle(40),
        lambda f: f.shrunk(60, 45),
    ):
        assert ask(deep) == pytest.approx(ask(held), abs=2e-5)
    assert held.sparse == pytest.approx(pixels[::4, ::4])
    assert held.middle(40) == pytest.approx(pixels[25:65, 40:80])


def test_grey_profiles_and_inks():
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    inks = Image.fromarray(np.zeros((32, 32, 4), np.uint8), "CMYK")
    for icc, words in ((None, "has no profile"), (profile, "profile cannot be read")):
        out = io.BytesIO()
        inks.save(out, "JPEG", **({"icc_profile": icc} if icc else {}))
        with pytest.raises(PlumError, match=rf"for print \(CMYK\).*{words}"):
            read(out.getvalue(), "inks.jpg", "own")
    grey = Image.fromarray(np.full((32, 32), 128, np.uint8))
    out = io.BytesIO()
    grey.save(out, "PNG", icc_profile=b"no profile at all")
    assert read(out.getvalue(), "x.png", "own").pixels.mean() == pytest.approx(128 / 255)
