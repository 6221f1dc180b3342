"""Finding the unknown of any plan: sample size, power, effect or alpha."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ragwort.designs.design import Plan
from ragwort.designs.errors import NotAttainable, number_text, percent_text
from ragwort.designs.sizes import LARGEST_TOTAL, Sizes, Steps
from ragwort.stats import search
from ragwort.stats.search import StepPower

_TIE = 1e-12


@dataclass(frozen=True)
class Answer:
    """What was found, and everything that is said beside it."""

    design: str
    find: str
    answer: float | int
    groups: tuple[int, ...]  # analysed, by group
    power: float  # at these sizes
    plan: Plan  # with the unknown filled in
    effect: dict[str, float]
    details: dict[str, Any]
    notes: tuple[str, ...] = ()
    enrol: tuple[int, ...] = ()  # to enrol, by group; empty without dropout
    n_more: dict[str, Any] = field(default_factory=dict)

    @property
    def total(self) -> int:
        """Participants analysed, all groups together."""
        return sum(self.groups)

    def sizes(self) -> Sizes:
        """The group sizes as an array (groups x 1)."""
        return np.array(self.groups, dtype=float)[:, None]


def larger_power(plan: Plan, ways: list[Sizes]) -> Sizes:
    """Of several ways to split a total (each groups x 1), the one with the larger power; a tie goes to the first."""
    best, *others = ways
    for other in others:
        if float(plan.power(other)[0]) > float(plan.power(best)[0]) + _TIE:
            best = other
    return best


def find_sizes(plan: Plan, primary: str) -> Sizes:
    """The smallest sizes whose power reaches the target. Raises `NotAttainable`."""
    _refuse_no_effect(plan, primary)
    counting = plan.counting
    paths = _paths(plan)
    blocks = counting.blocks() if plan.humps else range(0)
    if blocks:
        step = search.first_in_blocks(paths, plan.target, counting.block, blocks[0], blocks[-1])
    else:
        step = search.first_step(
            _best(paths), plan.target, counting.lowest, counting.highest, one_by_one=64 if plan.humps else 1
        )
    if step is None:
        reached = float(_best(paths)(np.array([counting.highest]))[0])
        raise NotAttainable(
            primary,
            f"No sample size up to {number_text(LARGEST_TOTAL)} reaches {percent_text(plan.target)} power; "
            f"the largest power reachable is {percent_text(reached)}.",
        )
    return larger_power(plan, counting.ways(np.array([step])))


def _paths(plan: Plan) -> list[StepPower]:
    def path(way: int) -> StepPower:
        return lambda steps: plan.power(plan.counting.ways(steps)[way])

    return [path(way) for way in range(plan.counting.ways_count)]


def _best(paths: list[StepPower]) -> StepPower:
    if len(paths) == 1:
        return paths[0]

    def best(steps: Steps) -> Any:
        return np.max([path(steps) for path in paths], axis=0)

    return best


def power_along(plan: Plan, steps: Steps) -> Any:
    """Power at each step of the plan's counting (the better split where there are several)."""
    return _best(_paths(plan))(steps)


def _refuse_no_effect(plan: Plan, primary: str) -> None:
    if plan.effect == 0:
        raise NotAttainable(
            primary,
            "With no effect there is nothing to detect, at any sample size. Give an effect other than 0.",
        )
    if points_away(plan):
        raise NotAttainable(
            primary,
            "The effect points against the one-sided test, so no sample size reaches the power: "
            "change the sign of the effect, or the direction of the test.",
        )


def points_away(plan: Plan) -> bool:
    """Whether a one-sided test looks in the direction opposite to the effect."""
    if plan.sides == "two":
        return False
    return bool(plan.effect < 0) if plan.sides == "greater" else bool(plan.effect > 0)


def find_effect(plan: Plan, groups: Sizes, up: bool, primary: str) -> float:
    """The effect nearest to zero whose power reaches the target at these sizes. Raises `NotAttainable`."""
    sign = 1.0 if up else -1.0
    limit = sign * plan.effect_limit
    power = _power_of_effect(plan, groups)
    found = search.nearest_root(power, plan.target, sign * plan.effect_scale, limit)
    if found is None:
        raise NotAttainable(
            primary,
            f"No effect within its bounds reaches {percent_text(plan.target)} power at this sample size; "
            f"the largest power reachable is {percent_text(power(limit))}.",
        )
    return found


def _power_of_effect(plan: Plan, groups: Sizes) -> Callable[[float], float]:
    return lambda effect: float(plan.replace(effect=effect).power(groups)[0])


def find_alpha(plan: Plan, groups: Sizes) -> float:
    """The alpha at which power equals the target. Raises `NotAttainable` unless it lies below the target."""

    def power(alpha: float) -> float:
        return float(plan.replace(alpha=alpha).power(groups)[0])

    found = None
    if plan.effect != 0 and not points_away(plan):
        found = search.least_alpha(power, plan.target)
    if found == 0.0:
        raise NotAttainable(
            "alpha", f"Every alpha, however small, gives more than {percent_text(plan.target)} power here."
        )
    if found is None or found >= plan.target:
        raise NotAttainable(
            "alpha",
            f"No alpha below {percent_text(plan.target)} gives {percent_text(plan.target)} power here: the effect is "
            "zero or points against the one-sided test.",
        )
    return found
