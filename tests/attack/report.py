"""What an attack tried and what came of it, as a row of a table."""

from dataclasses import dataclass, field


@dataclass
class Result:
    """`tried` times; `faults` are what must not be; `note` says more, such as the slowest."""

    what: str
    tried: int
    faults: list[str] = field(default_factory=list)
    note: str = ""

    def row(self) -> str:
        """A row in Markdown."""
        return f"| {self.what} | {self.tried:,} | {len(self.faults)} | {self.note} |"


HEAD = "| attack | tried | faults | |\n|---|---|---|---|"
