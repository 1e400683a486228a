"""What would you set? Jobs and lights with four settings, rendered and judged as any recipe is;
what is best is measured, and schools are named where they see it otherwise."""

import random
import tomllib
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path

from ..base.text import joined
from ..judge.rules import SCHOOLS
from ..judge.verdicts import Verdict
from ..recipe import Intent, Recipe, make

HERE = Path(__file__).parent / "situations.toml"
BODY = "heron-m2"
Judge = Callable[[Recipe, frozenset[str]], list[Verdict]]


@dataclass(frozen=True)
class Situation:
    """A job in words, the scene of its light, what the files are for, the four choices by letter
    (label, recipe), and those that practitioners would make."""

    id: str
    job: str
    scene: str
    options: dict[str, tuple[str, Recipe]]
    good: frozenset[str]


@cache
def situations() -> dict[str, Situation]:
    """All of them by id."""
    with HERE.open("rb") as file:
        data = tomllib.load(file)
    return {name: _situation(name, told) for name, told in data.items()}


def _situation(name: str, told: dict[str, object]) -> Situation:
    options = {}
    for letter in "abcd":
        one = told[letter]
        assert isinstance(one, dict)
        recipe = make(f"Choice {letter}", BODY, one["dials"])
        options[letter] = one["label"], replace(recipe, intent=Intent(str(told["intent"])))
    good = told["good"]
    assert isinstance(good, list)
    return Situation(name, str(told["job"]), str(told["scene"]), options, frozenset(good))


def ask(seed: int, number: int) -> tuple[Situation, tuple[str, ...]]:
    """Question `number`, and the order of its choices: all situations in turn, shuffled."""
    every = list(situations())
    random.Random(f"set-{seed}-{number // len(every)}").shuffle(every)
    letters = list("abcd")
    random.Random(f"set-order-{seed}-{number}").shuffle(letters)
    return situations()[every[number % len(every)]], tuple(letters)


@dataclass(frozen=True)
class Judged:
    """What is said of each choice, those of which least is said, and what schools would add."""

    said: dict[str, list[Verdict]]
    best: frozenset[str]
    schools: tuple[str, ...]


def judged(one: Situation, judge: Judge) -> Judged:
    """The choices judged; `judge` gives the verdicts on a recipe in the situation's scene, with
    some schools."""
    said = {k: judge(recipe, frozenset()) for k, (_, recipe) in one.options.items()}
    best = _least(said)
    schools = []
    for school, words in SCHOOLS.items():
        here = _least({k: judge(r, frozenset([school])) for k, (_, r) in one.options.items()})
        more = sorted(one.options[k][0] for k in here - best)
        if more:
            listed = " and ".join(f"“{label}”" for label in more)
            schools.append(f"{words}: by that school {listed} would do as well.")
    return Judged(said, best, tuple(schools))


def _least(said: dict[str, list[Verdict]]) -> frozenset[str]:
    weight = {k: sum(v.weight for v in verdicts) for k, verdicts in said.items()}
    return frozenset(k for k, w in weight.items() if w == min(weight.values()))


def explained(one: Situation, found: Judged, chosen: str) -> str:
    """The answer in words."""
    labels = [f"“{one.options[k][0]}”" for k in sorted(found.best)]
    if len(labels) == 1:
        words = f"Nothing speaks against {labels[0]}, or least does."
    else:
        words = f"{joined(labels)} do equally well; take what you like."
    if chosen in found.said and chosen not in found.best and found.said[chosen]:
        words += f" Against yours: {found.said[chosen][0].sentence}"
    return " ".join([words, *found.schools])
