"""The scripts' own tests, by node's test runner; and keys that do what the list of keys says."""

import re
import shutil
import subprocess
from pathlib import Path

import pytest

from zesty_plum.web.frame.keys import KEYS

ROOT = Path(__file__).parents[1]
SCRIPTS = ROOT / "zesty_plum" / "web" / "static" / "js"


@pytest.mark.skipif(shutil.which("node") is None, reason="Node.js is not to be had here")
def test_what_scripts_decide():
    command = ["node", "--test", *map(str, sorted((ROOT / "tests" / "js").glob("*.test.js")))]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout[-4000:]
    assert int(re.search(r"# pass (\d+)", done.stdout)[1]) > 10


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
