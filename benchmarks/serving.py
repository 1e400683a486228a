"""A server of our own on loopback: started, asked, measured, ended."""

import http.client
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit


@dataclass(frozen=True)
class Server:
    """Its process and its address."""

    pid: int
    address: str


@contextmanager
def served(command: list[str]) -> Iterator[Server]:
    """A program of Python's with these arguments that prints its address first."""
    process = subprocess.Popen([sys.executable, *command], stdout=subprocess.PIPE, text=True)
    try:
        assert process.stdout is not None
        yield Server(process.pid, process.stdout.readline().split()[-1].rstrip("/"))
    finally:
        process.terminate()
        process.wait()


def get(address: str, path: str) -> bytes:
    """What the server answers to a path."""
    connection = http.client.HTTPConnection(urlsplit(address).netloc)
    connection.request("GET", path)
    answer = connection.getresponse()
    body = answer.read()
    connection.close()
    assert answer.status == 200, f"{path}: {answer.status}"
    return body


def resident(pid: int) -> float:
    """Memory of a process in MB."""
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmRSS"):
            return int(line.split()[1]) / 1024
    return 0.0
