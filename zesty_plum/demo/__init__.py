"""The made-up scenario: Lantern Week at Saltmarsh Quay, in recipe files of its picture crew."""

from pathlib import Path

from ..core.recipe import Recipe, loads

HERE = Path(__file__).parent
# A body learnt from the pairs of the stand-in camera, by `tools/teach.py`.
TAUGHT = HERE / "turnstone" / "turnstone.body.json"
VARIED_FROM = {"Slack tide, faces": "Slack tide"}
TAGS = {
    "Slack tide": ["faces", "overcast"],
    "Slack tide, faces": ["faces", "overcast"],
    "Kite weather": ["sun"],
    "Last lantern": ["faces", "lantern week"],
    "Harbour clip": ["lantern week"],
}


def recipes() -> list[Recipe]:
    """The crew's slips in the order in which they were made."""
    return [loads(p.read_bytes()) for p in sorted(HERE.glob("*.plum.json"))]
