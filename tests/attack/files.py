"""Mutated files of every kind, brought in by every way there is: never a fault of ours, never an
answer over five seconds, and memory within its bound."""

import io
import json
import random
import tempfile
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import tifffile
from flask.testing import FlaskClient

from tests.attack.report import Result
from tests.builders import file_of, recipe
from tests.core.test_pictures import dng
from zesty_plum.core.paper import card
from zesty_plum.core.pictures import write
from zesty_plum.core.pictures.apart import apart
from zesty_plum.core.recipe import dumps, to_data
from zesty_plum.web import create_app

SLOWEST = 5.0
ODD = (
    b"",
    b"\0",
    b"\xff",
    b"\xff\xff\xff\xff",
    b"\0" * 64,
    b"<",
    b"[" * 400,
    b"{",
    b'"',
    b"9" * 40,
)
ODD += (b"\xed\xa0\x80", b"NaN", b"1e999", b"PK\3\4", b"PK\5\6", b"\x7f\xff\xff\xff", b"&#x110000;")
JSON = {"Accept": "application/json"}


def resident(pid: int) -> float:
    """Memory of a process in MB, the most it ever had."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmHWM"):
            return int(line.split()[1]) / 1024
    return 0.0


def seeds(client: FlaskClient, folder: Path) -> dict[str, tuple[str, str, bytes]]:
    """Whole files by kind: the address they go to, their name, and what they hold."""
    made, pixels = recipe("Tide", style="linen", grain="salt"), np.zeros((48, 64, 3), np.uint8)
    pixels[10:30, 10:40] = (200, 90, 30)
    tiff = io.BytesIO()
    tifffile.imwrite(tiff, pixels.astype(np.uint16) * 257, photometric="rgb", compression="zlib")
    parcel = io.BytesIO()
    with zipfile.ZipFile(parcel, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("tide.plum.json", dumps(made))
        packed.writestr("list.txt", "Style: Linen\nHighlights -1\n")
        packed.writestr("manifest.json", json.dumps({"format": "zesty-plum-parcel", "slips": []}))
    pair = [to_data(made), to_data(recipe("Kite", style="ink"))]
    blind = {"format": "zesty-plum-blind", "version": 1, "person": "crew", "seed": 7}
    blind |= {"scenes": ["corner"], "recipes": pair, "answers": [[0, 1, 0, 1.0]]}
    drawn = card.draw(made, [np.full((120, 180, 3), 90, np.uint8)], "square")
    return {
        "recipe": ("/take-in", "a.plum.json", dumps(made).encode()),
        "list": ("/bring", "a.json", json.dumps(pair).encode()),
        "text": ("/bring", "a.txt", b"Name: Tide\nStyle: Linen\nHighlights -1\nred +2, blue -3\n"),
        "zip": ("/bring", "a.zip", parcel.getvalue()),
        "JPEG": ("/take-in", "a.jpg", write.file_of(pixels, made, ".jpg")),
        "PNG": ("/take-in", "a.png", write.file_of(pixels, made, ".png")),
        "picture": ("/take-in", "b.jpg", file_of(pixels, "JPEG")),
        "16 bit PNG": ("/take-in", "b.png", write.file_of(pixels.astype(np.uint16), made, ".png")),
        "TIFF": ("/take-in", "a.tif", tiff.getvalue()),
        "8 bit TIFF": ("/take-in", "b.tif", file_of(pixels, "TIFF", compression="tiff_lzw")),
        "DNG": ("/take-in", "a.dng", dng(folder)),
        "card": ("/bring", "card.png", file_of(np.asarray(drawn))),
        "round": ("/blind/bring", "a.json", json.dumps(blind).encode()),
        "backup": ("/restore", "a.zip", client.get("/backup.zip").data),
    }


def mutated(data: bytes, dice: random.Random) -> bytes:
    """A file with one to five faults: bits turned, parts cut out, doubled, or replaced."""
    made = bytearray(data)
    for _ in range(dice.randint(1, 5)):
        # Heads hold what decoders believe, so most faults are there.
        most = len(made) if dice.random() < 0.4 else min(len(made), 600)
        at = dice.randrange(most) if most else 0
        way = dice.randrange(6)
        if way == 0 and made:
            made[at] ^= 1 << dice.randrange(8)
        elif way == 1:
            made[at : at + dice.choice((1, 2, 4))] = dice.choice(ODD)
        elif way == 2:
            made[at:at] = dice.choice(ODD)
        elif way == 3:
            del made[at : at + dice.choice((1, 4, 60, 4000))]
        elif way == 4:
            made[at:at] = made[at : at + dice.choice((4, 60, 400))]
        else:
            del made[max(at, 8) :]
    return bytes(made)


def run(many: int, seed: int = 1, say: Callable[[str], None] = lambda text: None) -> list[Result]:
    """Bring in so many mutated files in all."""
    dice, results = random.Random(seed), {}
    with tempfile.TemporaryDirectory() as name:
        app = create_app(Path(name) / "data")
        app.config["WTF_CSRF_ENABLED"] = False
        client = app.test_client()
        client.post("/slips/save", data={"name": "Tide", "style": "linen"})
        whole = seeds(client, Path(name))
        slowest, worker = dict.fromkeys(whole, 0.0), 0.0
        for kind in whole:
            results[kind] = Result(f"mutated files, {kind}", 0)
        for k in range(many):
            kind = list(whole)[k % len(whole)]
            url, file_name, data = whole[kind]
            sent = mutated(data, dice)
            begun = time.perf_counter()
            form = {"file": (io.BytesIO(sent), file_name), "how": dice.choice(("add", "replace"))}
            answer = client.post(url, data=form, headers=JSON)
            took = time.perf_counter() - begun
            result, slowest[kind] = results[kind], max(slowest[kind], took)
            result.tried += 1
            if answer.status_code >= 500 or took > SLOWEST:
                result.faults.append(f"{answer.status_code} in {took:.1f} s: {sent[:200]!r}")
            if apart._process is not None and k % 50 == 0:
                worker = max(worker, resident(apart._process.pid))
            if k % 500 == 499:
                say(f"{k + 1} files")
                for page in ("/slips", "/bench", "/wall", "/blind"):
                    if client.get(page).status_code != 200:
                        result.faults.append(f"{page} is not shown any more")
        for kind, result in results.items():
            result.note = f"slowest {slowest[kind] * 1000:.0f} ms"
    results["backup"].note += f"; decoder at most {worker:.0f} MB"
    return list(results.values())
