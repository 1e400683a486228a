"""Rules of addresses whose way back, from an endpoint to an address, is compiled when it is first
gone: most of two hundred never are."""

from collections.abc import Callable
from typing import Any

from werkzeug.routing import Rule


class LateRule(Rule):
    """A rule of the library's, but for when it compiles."""

    def _compile_builder(self, append_unknown: bool = True) -> Callable[..., tuple[str, str]]:
        compiled: list[Callable[..., tuple[str, str]]] = []

        def build(rule: Rule, **values: Any) -> tuple[str, str]:
            if not compiled:
                compiled.append(super(LateRule, self)._compile_builder(append_unknown))
            return compiled[0](rule, **values)

        return build
