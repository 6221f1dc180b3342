"""Fisher's exact test of two independent proportions."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.designs.catalogue.proportions.common import TwoShares
from ragwort.designs.kinds import CountsPlan
from ragwort.designs.kinds.counts import horizon
from ragwort.designs.sizes import Sizes, Steps
from ragwort.stats.fisher import bound_of_power, fisher_power
from ragwort.stats.noncentral import Number
from ragwort.stats.search import one as search

if TYPE_CHECKING:
    from numpy.typing import NDArray

_LARGEST = 6_000  # participants in all up to which it is searched
_BATCH = 16  # sizes looked at between two reports of progress


@dataclass(frozen=True)
class FisherPlan(TwoShares, CountsPlan):
    """Fisher's exact test, which looks at each margin by itself and so has no one statistic."""

    n_rule: str

    @property
    @override
    def last_step(self) -> int:
        return max(self.counting.lowest, self.counting.step_near(_LARGEST))

    @property
    @override
    def step_words(self) -> str:
        return " in group 1" if self.counting.ways_count == 1 else ""

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        return self._fisher(groups, self.planned)

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """Where both groups have the proportion of group 1."""
        return self._fisher(groups, self.proportion1)

    def _fisher(self, groups: Sizes, proportion2: Number) -> NDArray[np.float64]:
        n1, n2, p2 = np.broadcast_arrays(groups[0], groups[1], proportion2)
        return np.array(
            [
                fisher_power(int(a), int(b), self.proportion1, float(p), float(self.alpha), self.sides)
                for a, b, p in zip(n1.ravel(), n2.ravel(), p2.ravel(), strict=True)
            ]
        ).reshape(n1.shape)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        """Size by size, from where a bound that never falls reaches the target."""
        power, last = self.power_along, self.last_step
        start = self._earliest(last)
        if start is None:
            return None
        for low in range(start, last + 1, _BATCH):
            patience.report((low - start) / (0.6 * start + 60))
            steps = np.arange(low, min(low + _BATCH, last + 1))
            reached = steps[power(steps) >= self.target]
            if reached.size:
                first = int(reached[0])
                end = horizon(power, self.target, first + max(20, math.ceil(first / 10)))
                return first, self._last_below(power, first, end) + 1
        return None

    def _last_below(self, power: Callable[[Steps], NDArray[np.float64]], first: int, horizon: int) -> int:
        for high in range(horizon, first, -_BATCH):
            steps = np.arange(max(high - _BATCH + 1, first), high + 1)
            short = steps[power(steps) < self.target]
            if short.size:
                return int(short[-1])
            patience.report(0.6 + 0.4 * (horizon - high) / (horizon - first))
        return first - 1

    def _earliest(self, last: int) -> int | None:
        """A step before which none reaches the target.

        Groups of one size make the two-sided test two one-sided ones at half of alpha. What the one against the effect
        rejects never grows with the sample size: it is at most half of alpha, and from a step on what it is there.
        """
        counting, alpha = self.counting, float(self.alpha)
        if self.sides != "two" or not counting.equal_groups:
            return search.first_step(lambda steps: self._bound(steps, alpha), self.target, counting.lowest, last)
        against = alpha / 2
        start: int | None = counting.lowest
        for _ in range(2):
            target = self.target - against
            start = search.first_step(lambda steps: self._bound(steps, alpha / 2), target, start or 1, last)
            if start is None:
                return None
            against = float(self._bound(np.array([start]), alpha / 2, against=True)[0])
        return start

    def _bound(self, steps: Steps, alpha: float, against: bool = False) -> NDArray[np.float64]:
        p1, p2 = self.proportion1, float(self.planned)
        ways = [way.astype(int) for way in self.counting.ways(steps)]
        bounds = [[bound_of_power(a, b, p1, p2, alpha, against) for a, b in zip(*way, strict=True)] for way in ways]
        return np.asarray(np.max(np.array(bounds), axis=0))

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {"actual_alpha": float(self.actual_alpha(groups)[0])}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        never = float(self.actual_alpha(groups)[0]) == 0.0
        return ["No table of this size is rare enough to reject at this alpha, so power is 0."] if never else []
