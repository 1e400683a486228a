"""Data that people edit: TOML files, whose faults are told in a sentence with file and line."""

import re
import tomllib
from collections.abc import Iterable
from inspect import signature
from pathlib import Path
from typing import Any, TypeVar

from .errors import PlumError

Made = TypeVar("Made")


class DataFile:
    """One file with its lines, so that a fault can be told where it stands."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.text = path.read_text(encoding="utf-8")
        try:
            self.data = tomllib.loads(self.text)
        except tomllib.TOMLDecodeError as error:
            line = re.search(r"line (\d+)", str(error))
            where = f", line {line[1]}" if line else ""
            raise PlumError(f"{path.name}{where}: this is not TOML: {error}.") from error

    def line_of(self, key: str, after: str = "") -> int:
        """The first line that gives `key` a value, begins a table of that name or has it in a
        list, behind the line that holds `after`; that one where there is none."""
        begun, name = 0 if after else 1, re.escape(key)
        wanted = re.compile(rf'(^|[\s{{,\[]){name}(\s*=|\]|\.)|"{name}"')
        for number, line in enumerate(self.text.splitlines(), 1):
            begun = begun or (number if after in line else 0)
            if begun and wanted.search(line.split("#")[0]):
                return number
        return begun or 1

    def fault(self, what: str, key: str, after: str = "") -> PlumError:
        """A fault of the value of `key`, behind the line that holds `after`."""
        return PlumError(f"{self.path.name}, line {self.line_of(key, after)}: {what}")

    def known(
        self, given: Iterable[str], allowed: Iterable[str], what: str, after: str = ""
    ) -> None:
        """Refuse keys that mean nothing, with those that do."""
        allowed = list(allowed)
        for key in given:
            if key not in allowed:
                listed = ", ".join(allowed)
                raise self.fault(f"{what} has no '{key}'. It can have {listed}.", key, after)

    def need(self, data: dict[str, Any], keys: Iterable[str], what: str, after: str = "") -> None:
        """Refuse a table that lacks one of its keys."""
        for key in keys:
            if key not in data:
                at = after.split(" ")[0] if after else next(iter(data), "")
                raise self.fault(f"{what} has no {key}: write one.", at, after)

    def filled(self, kind: type[Made], data: dict[str, Any], what: str, after: str = "") -> Made:
        """A dataclass from a table of numbers, texts and rows of numbers."""
        self.known(data, signature(kind).parameters, what, after)
        made = {k: tuple(v) if isinstance(v, list) else v for k, v in data.items()}
        for key, value in made.items():
            every = value if isinstance(value, tuple) else (value,)
            if not all(isinstance(v, int | float) and not isinstance(v, bool) for v in every):
                raise self.fault(f"'{key}' of {what} has to be a number.", key, after)
        try:
            return kind(**made)
        except (TypeError, ValueError) as error:
            raise self.fault(
                f"{what} is not whole: {error}.", next(iter(made), ""), after
            ) from error
