"""Faults: which rules have something to say of a picture, of what part of it, one for a cause."""

from dataclasses import dataclass

from ..develop.balance import keep_warm
from ..look import Look
from ..measure.report import Report
from ..recipe import Intent
from ..scenes.scene import Scene
from .rules import Rule, rules


@dataclass(frozen=True)
class Fault:
    """What a rule has to say: of a region, by its figure."""

    rule: Rule
    region: str
    value: float

    @property
    def importance(self) -> float:
        """How much it matters."""
        return self.rule.importance(self.value)


@dataclass(frozen=True, eq=False)
class Eye:
    """Who looks: at a scene, for a purpose, having decided some things (`schools`) otherwise."""

    scene: Scene
    intent: Intent
    schools: frozenset[str] = frozenset()

    def faults(self, look: Look, report: Report) -> list[Fault]:
        """All faults of a picture, the weightiest first; those that only come of another's cause
        are left to that one."""
        found = [f for rule in rules() if (f := self._fault(rule, look, report))]
        hidden = {name for f in found for name in f.rule.hides}
        return sorted((f for f in found if f.rule.id not in hidden), key=lambda f: -f.importance)

    def _fault(self, rule: Rule, look: Look, report: Report) -> Fault | None:
        decided = rule.not_for & self.schools or rule.wanted_so(look)
        elsewhere = rule.alone and self.scene.mask is not None
        if self.intent not in rule.intents or decided or elsewhere:
            return None
        worst = rule.seen_in(report)
        if worst is None or (rule.less_by_lamps and worst[1] <= rule.limit + self._expected()):
            return None
        return Fault(rule, *worst)

    def _expected(self) -> float:
        """Mired by which people expect a light to look warm: what keep-warm leaves of it."""
        mired = self.scene.card_light[0]
        return mired - keep_warm(mired)
