"""Finding the unknown of any plan: sample size, power, effect or alpha."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.designs.kinds.equivalence import EquivalencePlan
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.refusals import NotAttainable, plain_number, plain_percent
from ragwort.designs.sizes import LARGEST_TOTAL, Sizes
from ragwort.stats.search import one as search


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

    @cached_property
    def interval(self) -> Interval | None:
        """The confidence interval expected at these sizes; None where there is none, or it cannot be said."""
        with np.errstate(all="ignore"):
            found = self.plan.interval(self.sizes())
        if found is None:
            return None
        low, high = (float(np.ravel(each)[0]) for each in (found.low, found.high))
        level = float(np.ravel(found.level)[0])
        return Interval(found.of, found.scale, low, high, level) if np.isfinite([low, high]).all() else None

    @property
    def primary(self) -> str:
        """The name of the primary effect, as it is reported first."""
        return next(iter(self.effect))

    @property
    def counted(self) -> str:
        """What the total counts where that is not people: `events`."""
        return self.plan.counted

    @property
    def total(self) -> int:
        """Participants analysed, all groups together; where only events are planned, these."""
        return self.plan.counting.in_all(self.planned) if self.planned else sum(self.groups)

    @property
    def unrounded(self) -> bool:
        """Whether the sizes computed with are no whole numbers of people that could be had."""
        return bool(self.planned) and self.plan.counting.real_sizes

    def next_smaller(self) -> tuple[int, float] | None:
        """The total of the next smaller size that could be had, and its power; None where there is none."""
        counting = self.plan.counting
        with np.errstate(all="ignore"):  # where nothing scatters, power is 0 or 1
            for step in range(counting.step_near(self.total), counting.lowest - 1, -1):
                sizes = counting.at(self.plan.power, step)
                if sizes is not None and (total := counting.in_all(sizes[:, 0])) < self.total:
                    return total, float(self.plan.power(sizes)[0])
        return None

    def sizes(self) -> Sizes:
        """The group sizes as an array (groups x 1)."""
        return np.array(self.planned or self.groups, dtype=float)[:, None]


def find_sizes(plan: Plan, primary: str) -> Sizes:
    """The smallest sizes whose power reaches the target. Raises `NotAttainable`."""
    _refuse_no_effect(plan, primary)
    found = plan.smallest_sizes()
    if found is not None and found.sum() <= LARGEST_TOTAL * (1 + 1e-9):
        return found
    if found is not None:
        raise NotAttainable(
            primary,
            f"The smallest study possible with these groups or clusters has more than "
            f"{plain_number(LARGEST_TOTAL)} in all: make them more even, or smaller.",
        )
    last = np.array([plan.last_step])
    limit = LARGEST_TOTAL if plan.last_step == plan.counting.highest else plan.counting.ways(last)[0].sum()
    raise NotAttainable(primary, plan.unreached(limit))


def _refuse_no_effect(plan: Plan, primary: str) -> None:
    if plan.hopeless:
        raise NotAttainable(primary, plan.hopeless)


def find_effect(plan: Plan, groups: Sizes, up: bool, primary: str) -> float:
    """The effect nearest to zero whose power reaches the target at these sizes. Raises `NotAttainable`."""
    if isinstance(plan, EquivalencePlan):
        return plan.furthest_effect(groups, up, primary)
    near, limit = plan.nearest(up), plan.furthest_at(groups, up)
    if near is None or limit == 0:
        way = "upwards" if up else "downwards"
        raise NotAttainable(
            primary, f"Beside the other values there can be no effect {way}: look the other way, or change them."
        )
    power = _power_of_effect(plan, groups, abs(near))
    if near and power(near) >= plan.target:
        return near
    scale = min(plan.effect_scale, abs(limit))
    found = search.nearest_root(power, plan.target, scale if up else -scale, limit)
    if found is None:
        raise NotAttainable(
            primary,
            f"No effect within its bounds reaches {plain_percent(plan.target)} power at this sample size; "
            f"the largest power reachable is {plain_percent(power(limit))}.",
        )
    return found


def _power_of_effect(plan: Plan, groups: Sizes, nearest: float) -> Callable[[float], float]:
    """Power at an effect; none at one that cannot be had, as it is nearer to nothing than `nearest`."""
    return lambda effect: float(plan.replace(effect=effect).power(groups)[0]) if abs(effect) >= nearest else 0.0


def find_alpha(plan: Plan, groups: Sizes) -> float:
    """The alpha at which power equals the target. Raises `NotAttainable` unless it lies below the target."""

    def power(alpha: float) -> float:
        patience.check()
        return float(plan.replace(alpha=alpha).power(groups)[0])

    found = None
    if not plan.hopeless:
        found = search.least_alpha(power, plan.target)
    if found == 0.0:
        raise NotAttainable(
            "alpha", f"Every alpha, however small, gives more than {plain_percent(plan.target)} power here."
        )
    if found is None or found >= plan.target:
        raise NotAttainable(
            "alpha",
            f"No alpha below {plain_percent(plan.target)} gives {plain_percent(plan.target)} power here: the effect is "
            "zero, too small for this size, or points against the one-sided test.",
        )
    return found
