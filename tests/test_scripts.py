"""The scripts' own tests, by node's test runner; and keys that do what the list of keys says."""

import json
import re
import shutil
import subprocess
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from zesty_plum.web.frame.keys import KEYS

ROOT = Path(__file__).parents[1]
SCRIPTS = ROOT / "frontend" / "js"


needs_node = pytest.mark.skipif(
    shutil.which("node") is None, reason="Node.js is not to be had here"
)


@needs_node
def test_what_scripts_decide():
    command = ["node", "--test", *map(str, sorted((ROOT / "tests" / "js").glob("*.test.js")))]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout[-4000:]
    assert int(re.search(r"# pass (\d+)", done.stdout)[1]) >= 8


def test_every_key_of_the_list_has_something_to_do_and_only_those():
    script = (SCRIPTS / "bench" / "bench.js").read_text()
    acts = script[script.index("const acts = {") : script.index("const actOf")]
    done = set(re.findall(r"^  (\w+):", acts, re.M))
    assert done == {act for key in KEYS for _, act in key.acts}
    presses = [press for key in KEYS for press, _ in key.acts]
    assert len(presses) == len(set(presses))


def test_scripts_write_no_address_by_hand():
    for path in SCRIPTS.rglob("*.js"):
        for written in re.findall(r"""["'`](/[a-z][^"'`\s]*)""", path.read_text()):
            raise AssertionError(f"{path.name}: {written}")


ROUND = """
import { readFileSync } from "node:fs";
const { data, states } = JSON.parse(readFileSync(0));
const { benchQuery } = await import(process.argv[1]);
console.log(JSON.stringify(states.map((s) => `${benchQuery(data, s)}`)));
"""


@needs_node
def test_the_address_holds_the_whole_state(client):
    """Any state of the Bench that its script writes to the address opens the same Bench."""

    def opened(query):
        page = client.get(f"/bench?{query}").text
        return json.loads(re.search(r'id="bench-data">(.*?)</script>', page)[1])

    data = opened("scene=garden")
    state = st.fixed_dictionaries(
        {
            "positions": st.tuples(*(st.integers(0, len(d["values"]) - 1) for d in data["dials"])),
            "scene": st.sampled_from([s["id"] for s in data["scenes"]]),
            "line": st.sampled_from([d["id"] for d in data["dials"]]),
            "intent": st.sampled_from(["finished", "raw_only", "grade"]),
            "view": st.sampled_from(["", "grey", "tritan"]),
            "stripes": st.sampled_from(["", "70", "95"]),
            "than": st.sampled_from(["", "slip-3"]),
            "size": st.sampled_from(["", "phone"]),
            "surround": st.sampled_from(["mid", "light", "dark"]),
            "spot": st.sampled_from(["", "0.250,0.700"]),
            "place": st.sampled_from(["", "0.500,0.125"]),
            **dict.fromkeys(("clip", "loupe", "wipe", "apart"), st.booleans()),
            **dict.fromkeys(("guess", "written", "ends"), st.booleans()),
        }
    )
    script = (SCRIPTS / "bench" / "address.js").as_uri()

    @settings(max_examples=4, deadline=None, suppress_health_check=list(HealthCheck))
    @given(st.lists(state, min_size=10, max_size=20))
    def round_trip(states):
        done = subprocess.run(
            ["node", "--input-type=module", "-e", ROUND, script],
            input=json.dumps({"data": data, "states": states}),
            capture_output=True,
            text=True,
            check=True,
        )
        for query, state in zip(json.loads(done.stdout), states, strict=True):
            assert opened(query)["state"] == {**state, "positions": list(state["positions"])}

    round_trip()
