"""Freed memory is kept for the next picture, within a bound."""

import platform
import subprocess
import sys

import pytest

HOLES = """
from pathlib import Path
from zesty_plum import allocator
def held():
    status = Path("/proc/self/status").read_text().splitlines()
    line = next(l for l in status if l.startswith("VmRSS"))
    return int(line.split()[1]) // 1024
allocator.keep_freed()
blocks = [bytearray(b"x") * 2**20 for _ in range(300)]
del blocks[::2]
full = held()
for _ in range(allocator.TRIM_EVERY - 1):
    allocator.picture_made()
before = held()
allocator.picture_made()
print(full, before, held())
"""


@pytest.mark.skipif(platform.libc_ver()[0] != "glibc", reason="the C library is not glibc")
def test_every_twentieth_picture_hands_back_what_lies_free_between_things_in_use() -> None:
    full, before, after = map(
        int, subprocess.check_output([sys.executable, "-c", HOLES], text=True).split()
    )
    assert before >= full - 5
    assert after < full - 90  # 150 MB lay free in holes
