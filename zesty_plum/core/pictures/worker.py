"""The process in which strangers' files are decoded: bounded in memory, one file after another, and
ended by whoever asked when it takes too long.

It reads requests from standard input, each a line of JSON and then as many bytes as that says, and
answers each with a line of JSON: what was found, or `fault`, the sentence for people.
"""

import base64
import json
import sys
from contextlib import suppress
from pathlib import Path
from typing import Any, BinaryIO

from ..base.errors import PlumError
from .decode import codes_in, decode, shot_by, taken

MOST_MEMORY = 1_500 * 2**20  # of addresses, some 300 MB of which are programs


def _bounded() -> None:
    """Take no more memory than `MOST_MEMORY`, where the system can be told so."""
    with suppress(ImportError, ValueError, OSError):
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
        resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _answer(asked: dict[str, Any], data: bytes) -> dict[str, Any]:
    name = str(asked.get("name", ""))
    try:
        if asked["work"] == "codes":
            return {"codes": codes_in(data)}
        if asked["work"] == "taken":
            return {"taken": base64.b64encode(taken(data, *asked["keep"])).decode()}
        if asked["work"] == "shot_by":
            return {"shot_by": shot_by(data)}
        return decode(data, name, asked["longest"], Path(asked["out"]))
    except PlumError as error:
        return {"fault": str(error)}
    except OSError as error:
        return {"fault": f"'{name}' could not be unpacked: {error.strerror}."}
    except MemoryError:
        return {
            "fault": f"'{name}' takes more memory to decode than a picture may. Export it smaller."
        }


def main(incoming: BinaryIO = sys.stdin.buffer, outgoing: BinaryIO = sys.stdout.buffer) -> None:
    """Answer until there is nothing more to read."""
    _bounded()
    while line := incoming.readline():
        asked = json.loads(line)
        data = incoming.read(asked["bytes"])
        answer = _answer(asked, data)
        del data
        outgoing.write(json.dumps(answer).encode() + b"\n")
        outgoing.flush()


if __name__ == "__main__":
    main()
