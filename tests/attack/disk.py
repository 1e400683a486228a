"""A disk that fills up, a small one of its own: nothing is called damaged, reading goes on, and
what was acknowledged is there when there is room again."""

import http.client
import os
import re
import subprocess
import sys
import tempfile
from collections.abc import Callable
from contextlib import ExitStack, suppress
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from tests.attack.report import Result

PAGES = ("/slips", "/bench", "/outing/days", "/notes/", "/kit/", "/drill/")
LEFT = (64, 32, 28, 24, 20, 16, 12, 8, 4, 0)  # KB
FULL = "The disk is full"


class _Server:
    """The program on a data folder of that disk."""

    def __init__(self, stack: ExitStack, data: Path) -> None:
        command = [sys.executable, "-m", "zesty_plum", "serve", "--port", "0", "--data", str(data)]
        self.process = stack.enter_context(
            subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        )
        stack.callback(self.process.terminate)
        assert self.process.stdout is not None
        self.said = self.process.stdout.readline()
        found = re.search(r":(\d+)/", self.said)
        self.port = int(found[1]) if found else 0
        self._cookie = self._token = ""
        if self.port:
            _, page, cookie = self.ask("GET", "/slips")
            token = re.search(r'name="csrf-token" content="([^"]+)"', page)
            self._cookie, self._token = cookie.split(";")[0], token[1] if token else ""

    def ask(self, method: str, path: str, form: Any = None) -> tuple[int, str, str]:
        """Status, text and cookie of an answer."""
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        kind = {"Content-Type": "application/x-www-form-urlencoded"} if form else {}
        asked = {**kind, **({"Cookie": self._cookie} if self._cookie else {})}
        body = urlencode({**form, "csrf_token": self._token}) if form else None
        line.request(method, path, body, asked | ({"Accept": "application/json"} if form else {}))
        answer = line.getresponse()
        told = answer.read().decode(errors="replace")
        line.close()
        return answer.status, told, answer.getheader("Set-Cookie") or ""


def run(tried: int, seed: int = 1, say: Callable[[str], None] = lambda _: None) -> list[Result]:
    """So many steps of a disk that fills up, from 64 KB to none, again and again: on one in memory,
    and on one of ext4 in a file."""
    del seed, say
    results = []
    for kind in ("tmpfs", "ext4"):
        result = Result(f"a filling disk, {kind}", 0)
        with tempfile.TemporaryDirectory() as name, ExitStack() as stack:
            disk = Path(name) / "disk"
            disk.mkdir()
            if _mounted(stack, kind, disk):
                _filled(stack, disk, tried, result)
            else:
                result.note = "not tried: no such disk can be made here"
        results.append(result)
    return results


def _mounted(stack: ExitStack, kind: str, disk: Path) -> bool:
    image, size = disk.with_suffix(".img"), 90 * 2**20
    ways = {
        "tmpfs": [["mount", "-t", "tmpfs", "-o", f"size={size}", "tmpfs", str(disk)]],
        "ext4": [
            ["truncate", "-s", str(size), str(image)],
            ["mkfs.ext4", "-q", "-F", "-m", "0", str(image)],
            ["mount", "-o", "loop", str(image), str(disk)],
        ],
    }
    for command in ways[kind]:
        try:
            if subprocess.run(command, capture_output=True, check=False).returncode:
                return False
        except FileNotFoundError:
            return False
    stack.callback(subprocess.run, ["umount", "-l", str(disk)], capture_output=True, check=False)
    return True


def _filled(stack: ExitStack, disk: Path, tried: int, result: Result) -> None:
    server, kept = _Server(stack, disk / "data"), list[str]()
    while result.tried < tried:
        with suppress(FileNotFoundError):
            (disk / "filled").unlink()
        for left in LEFT:
            result.tried += 1
            _fill(disk / "filled", left)
            _tried(server, result, left, kept)
            if result.tried >= tried:
                break
    server.process.terminate()
    server.process.wait()
    _fill(disk / "filled", 0)
    again = _Server(stack, disk / "data")  # on a full disk, by what was kept in reserve
    if not again.port:
        assert again.process.stderr is not None
        said = again.process.stderr.read()
        if FULL not in said or "amaged" in said:
            code = again.process.wait()
            result.faults.append(f"started on a full disk it ends by {code}: {said:.200}")
        (disk / "filled").unlink()
        again = _Server(stack, disk / "data")
    page = again.ask("GET", "/slips")[1]
    result.faults += [f"{name} was acknowledged and is gone" for name in kept if name not in page]
    result.note = f"{len(kept)} saves were acknowledged"


def _fill(path: Path, left: int) -> None:
    room = os.statvfs(path.parent)
    more = room.f_bavail * room.f_frsize - left * 1024
    with path.open("ab") as file, suppress(OSError):
        if more > 0:
            os.posix_fallocate(file.fileno(), file.seek(0, 2), more)


def _tried(server: _Server, result: Result, left: int, kept: list[str]) -> None:
    for page in PAGES:
        code, told, _ = server.ask("GET", page)
        if code != 200:
            result.faults.append(f"{page} is a {code} with {left} KB left: {told:.80}")
    name = f"Slip {result.tried}"
    code, told, _ = server.ask("POST", "/slips/save", {"name": name, "body": "heron-m2"})
    if code == 200:
        kept.append(name)
    elif FULL not in told:
        result.faults.append(f"a save says with {left} KB left: {told:.120}")
    if server.process.poll() is not None:
        result.faults.append(f"it ended with {left} KB left, by {server.process.returncode}")
