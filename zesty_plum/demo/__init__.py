"""The made-up scenario: Lantern Week at Saltmarsh Quay, in recipe files of its picture crew."""

from pathlib import Path

from ..core.recipe import Recipe, loads

HERE = Path(__file__).parent


def recipes() -> list[Recipe]:
    """The crew's slips in the order in which they were made; each file may hold several versions."""
    return [loads(p.read_bytes()) for p in sorted(HERE.glob("*.plum.json"))]
