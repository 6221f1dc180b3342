"""Finding the unknown of any plan: sample size, power, effect or alpha."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np

from ragwort.designs.design import Plan
from ragwort.designs.refusals import NotAttainable, number_text, percent_text
from ragwort.designs.sizes import LARGEST_TOTAL, RealArms, Sizes, Steps
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
    planned: tuple[float, ...] = ()  # group sizes that were computed with, where they are no whole numbers

    @property
    def total(self) -> int:
        """Participants analysed, all groups together."""
        return whole_total(self.planned) if self.planned else sum(self.groups)

    def sizes(self) -> Sizes:
        """The group sizes as an array (groups x 1)."""
        return np.array(self.planned or self.groups, dtype=float)[:, None]


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
    if isinstance(plan.counting, RealArms):
        return _real_sizes(plan, plan.counting, primary)
    counting = plan.counting
    if plan.exact:
        found = first_and_steady(plan)
        step = None if found is None else found[plan.steady]
        return _sizes_at(plan, step, primary)
    paths = _paths(plan)
    blocks = counting.blocks() if plan.humps else range(0)
    if blocks:
        step = search.first_in_blocks(paths, plan.target, counting.block, blocks[0], blocks[-1])
    else:
        step = search.first_step(
            _best(paths), plan.target, counting.lowest, counting.highest, one_by_one=64 if plan.humps else 1
        )
    return _sizes_at(plan, step, primary)


@lru_cache(maxsize=256)
def first_and_steady(plan: Plan) -> tuple[int, int] | None:
    """See `Plan.first_and_steady`; kept, because the answer, the curve and the steps all ask for it."""
    return plan.first_and_steady()


def _sizes_at(plan: Plan, step: int | None, primary: str) -> Sizes:
    """The sizes at a step; raises `NotAttainable` where the search found none."""
    last = plan.last_step
    if step is not None:
        return larger_power(plan, plan.counting.ways(np.array([step])))
    most = plan.counting.ways(np.array([last]))[0].sum()
    limit = LARGEST_TOTAL if last == plan.counting.highest else most
    raise NotAttainable(
        primary,
        f"No sample size up to {number_text(limit)} reaches {percent_text(plan.target)} power; "
        f"the largest power reachable is {percent_text(float(power_along(plan, np.array([last]))[0]))}.",
    )


def _real_sizes(plan: Plan, arms: RealArms, primary: str) -> Sizes:
    """The sizes, not rounded, at which power equals the target."""

    def power(first: float) -> float:
        return float(plan.power(arms.sizes(first))[0])

    found = search.nearest_root(power, plan.target, 64.0, LARGEST_TOTAL / (1 + arms.ratio))
    return _sizes_at(plan, None, primary) if found is None else arms.sizes(found)


def whole_total(sizes: Iterable[float]) -> int:
    """Participants that come whole, for sizes that do not."""
    return math.ceil(sum(sizes) - 1e-9)


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
    limit = plan.furthest(up)
    power = _power_of_effect(plan, groups)
    scale = min(plan.effect_scale, abs(limit))
    found = search.nearest_root(power, plan.target, scale if up else -scale, limit)
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
