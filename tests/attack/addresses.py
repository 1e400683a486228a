"""Odd values at every address, as `tests.web.test_every_address` tries them, many more."""

import time
from collections.abc import Callable

from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.attack.report import Result
from tests.web.test_every_address import ask, world_in

SLOWEST = 5.0


def run(many: int, seed: int = 1, say: Callable[[str], None] = lambda text: None) -> list[Result]:
    """So many odd addresses."""
    import tempfile
    from pathlib import Path

    result, slowest = Result("odd addresses", 0), 0.0
    with tempfile.TemporaryDirectory() as name:
        client, rules = world_in(Path(name) / "data")

        @settings(
            max_examples=many,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(data=st.data())
        def attack(data: st.DataObject) -> None:
            nonlocal slowest
            begun = time.perf_counter()
            what, answer = ask(client, rules, data)
            took = time.perf_counter() - begun
            slowest = max(slowest, took)
            result.tried += 1
            if answer.status_code >= 500 or took > SLOWEST:
                result.faults.append(f"{answer.status_code} in {took:.1f} s: {what}")
            if result.tried % 1000 == 0:
                say(f"{result.tried} addresses")

        attack()
    result.note = f"slowest {slowest * 1000:.0f} ms"
    return [result]
