"""Asking the process that decodes strangers' files (`worker`). It is started when it is first
needed, answers one request at a time, and is started anew when a file has ended it."""

import base64
import json
import math
import os
import subprocess
import sys
import tempfile
import threading
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..base.errors import PlumError

MOST_SECONDS = 90
MOST_ANSWER = 2**20
LARGE = 15 * 10**6  # pixels after which the process is ended, which hands all its memory back
Samples = NDArray[np.uint16]
_ONE_THREAD = dict.fromkeys(("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"), "1")


class Apart:
    """The process, and a gate in front of it: who comes while it works waits."""

    def __init__(self, seconds: float = MOST_SECONDS) -> None:
        self._seconds, self._gate = seconds, threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None

    def decode(
        self, data: bytes, name: str, longest: int | None, folder: Path | None = None
    ) -> tuple[Samples, dict[str, Any]]:
        """Samples (h, w, 3) as `decode.decode` makes them, and what is known of them. Large ones
        are a mapped file without a name in `folder`, or else where the system keeps such files."""
        handle, text = tempfile.mkstemp(dir=folder, prefix=".decoded-")
        os.close(handle)
        out = Path(text)
        try:
            about = self._ask(data, work="decode", name=name, longest=longest, out=str(out))
            height, width = about["size"]
            mapped = np.memmap(out, np.uint16, "r", shape=(height, width, 3))
            return np.array(mapped) if longest is not None else mapped, about
        except OSError as error:
            raise PlumError(f"'{name}' could not be unpacked: {error.strerror}.") from error
        finally:
            out.unlink(missing_ok=True)

    def codes(self, data: bytes) -> list[str]:
        """Texts of the square codes that a picture shows; none where it cannot be read."""
        try:
            return list(self._ask(data, work="codes", name="This picture")["codes"])
        except PlumError:
            return []

    def taken(self, data: bytes, place: bool = False, owner: bool = False) -> bytes:
        """EXIF of how a picture was taken, packed, as `decode.taken` chooses it; empty where it
        cannot be read."""
        asked = {"work": "taken", "name": "This picture", "keep": [place, owner]}
        try:
            return base64.b64decode(self._ask(data, **asked)["taken"])
        except PlumError:
            return b""

    def shot_by(self, data: bytes) -> dict[str, str]:
        """When a picture was taken (`time`) and by what (`maker`, `model`), as far as it tells."""
        try:
            return dict(self._ask(data, work="shot_by", name="This picture")["shot_by"])
        except PlumError:
            return {}

    def _ask(self, data: bytes, **asked: Any) -> dict[str, Any]:
        with self._gate:
            process = self._running()
            try:
                answer = self._sent(process, json.dumps(asked | {"bytes": len(data)}), data)
                if math.prod(answer.get("size", ())) > LARGE:
                    self._end()
            except TimeoutError as error:
                self._end()
                raise PlumError(
                    f"'{asked['name']}' took longer than {self._seconds:.0f} seconds to decode, so "
                    "it was left. Export it smaller."
                ) from error
            except (OSError, ValueError) as error:
                self._end()
                raise PlumError(
                    f"'{asked['name']}' cannot be decoded: it makes the decoder stop. It is "
                    "damaged, or not what it says it is."
                ) from error
        if "fault" in answer:
            raise PlumError(answer["fault"])
        return answer

    def _sent(self, process: "subprocess.Popen[bytes]", head: str, data: bytes) -> dict[str, Any]:
        assert process.stdin is not None
        assert process.stdout is not None
        late = threading.Event()

        def end() -> None:
            late.set()
            process.kill()

        timer = threading.Timer(self._seconds, end)  # also while the file is handed over
        timer.start()
        try:
            process.stdin.write(head.encode() + b"\n")
            process.stdin.write(data)
            process.stdin.flush()
            answer = json.loads(process.stdout.readline(MOST_ANSWER))
        except (OSError, ValueError):
            if late.is_set():
                raise TimeoutError from None
            raise
        finally:
            timer.cancel()
        if not isinstance(answer, dict):
            raise ValueError
        return answer

    def _running(self) -> "subprocess.Popen[bytes]":
        if self._process is None or self._process.poll() is not None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", f"{__package__}.worker"],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                stderr=subprocess.DEVNULL,
                env=os.environ | _ONE_THREAD,
            )
        return self._process

    def _end(self) -> None:
        if self._process is not None:
            self._process.kill()
            with suppress(OSError):
                self._process.communicate()
            self._process = None


apart = Apart()
