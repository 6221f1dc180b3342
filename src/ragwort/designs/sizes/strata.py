"""Whole clusters of several kinds of size: how many there are of each kind, and how many people that makes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.sizes.counting import LARGEST_TOTAL, SLACK, Counting, PowerOf, Sizes, Steps
from ragwort.designs.sizes.two_groups import ByRatio
from ragwort.stats.noncentral import Array
from ragwort.stats.search import one as search

_TAG = 1e-8  # of a person: what each cluster adds to the size of its arm, so that the size tells their number
_DIGITS = 9  # remainders that agree to so many decimals are the same
_SEVERAL = 4096  # numbers of clusters that are looked at one by one: the kinds come out even only now and then


@dataclass(frozen=True)
class Kinds:
    """Kinds of clusters: of each its share of all clusters, and the mean number of people in one."""

    shares: tuple[float, ...]
    means: tuple[float, ...]

    @property
    def mean(self) -> float:
        """People per cluster, on average over all kinds."""
        return math.fsum(share * mean for share, mean in zip(self.shares, self.means, strict=True))

    @property
    def wander(self) -> int:
        """How many clusters at most an arm's people are apart from those of its number of average clusters."""
        return 0 if len(self.means) == 1 else math.ceil(sum(self.means) / self.mean) + 1

    def numbers(self, clusters: Array) -> Array:
        """Clusters of each kind (... x kinds) for whole numbers of clusters (...): the largest remainders are filled.

        Balinski and Young, *Fair Representation* (2nd ed., 2001), chapter 2: Hamilton's method.
        """
        exact = clusters[..., None] * np.array(self.shares)
        whole = np.floor(exact + SLACK)
        spare = clusters - whole.sum(axis=-1)
        first = np.argsort(-np.round(exact - whole, _DIGITS), axis=-1, kind="stable")
        rank = np.argsort(first, axis=-1, kind="stable")
        return np.asarray(whole + (rank < spare[..., None]))

    def people(self, clusters: Array) -> Array:
        """The people of whole numbers of clusters; not whole where the mean sizes are not."""
        return np.asarray((self.numbers(clusters) * np.array(self.means)).sum(axis=-1))

    def sized(self, clusters: Array) -> Array:
        """The same as sizes of arms, which tell apart numbers of clusters that have as many people."""
        return self.people(clusters) + clusters * _TAG

    def clusters(self, sizes: Array) -> Array:
        """The number of clusters of arms of these sizes: the inverse of `sized`."""
        near = np.round(np.asarray(sizes, dtype=float) / self.mean)
        around = np.maximum(near[..., None] + np.arange(-self.wander, self.wander + 1), 0)
        best = np.argmin(np.abs(self.sized(around) - np.asarray(sizes)[..., None]), axis=-1)
        return np.asarray(np.take_along_axis(around, best[..., None], axis=-1)[..., 0])


@dataclass(frozen=True)
class ByStrata(Counting):
    """Two arms of whole clusters of several kinds: those of arm 1 count up, arm 2 has ceil(ratio x arm 1).

    Sizes are the people of the clusters (`Kinds.sized`). Power may fall from a step to the next, where a large cluster
    gives way to small ones.
    """

    settles_sizes = False
    real_sizes = False

    ratio: float
    kinds: Kinds

    @property
    def _clusters(self) -> ByRatio:
        return ByRatio(self.ratio, 2)

    @property
    def lowest(self) -> int:
        return 2

    @property
    def highest(self) -> int:
        return max(2, int(LARGEST_TOTAL / self.kinds.mean / (1 + self.ratio)))

    @property
    def equal_groups(self) -> int:
        return 2 if self.ratio == 1 else 0

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        return [self.kinds.sized(self._clusters.ways(steps)[0])]

    @override
    def step_near(self, total: float) -> int:
        near = max(round(total / self.kinds.mean / (1 + self.ratio)), self.lowest)
        steps = np.arange(max(near - self.kinds.wander, self.lowest), near + self.kinds.wander + 1)
        return int(steps[np.argmin(np.abs(self.ways(steps)[0].sum(axis=0) - total))])

    @override
    def in_groups(self, sizes: Iterable[float]) -> list[int]:
        """Each arm rounded half up, as its clusters have these people on average."""
        return [math.floor(size + 0.5) for size in self.kinds.people(self.kinds.clusters(np.array(list(sizes))))]

    @override
    def in_all(self, sizes: Iterable[float]) -> int:
        """The sum of both arms."""
        return sum(self.in_groups(sizes))

    @override
    def smallest(self, power: PowerOf, target: float) -> Sizes | None:
        """Also where power falls now and then."""

        def along(steps: Steps) -> Sizes:
            return self.along(power, steps)

        start, end = self.lowest, min(self.lowest + _SEVERAL, self.highest + 1)
        while start < end:
            if (step := _first(along, target, start, min(2 * start, end))) is not None:
                return self.at(power, step)
            start = min(2 * start, end)
        step = search.first_step(along, target, end, self.highest)
        if step is None:
            return None
        before = max(step - max(_SEVERAL, 8 * self.kinds.wander), self.lowest)
        return self.at(power, _first(along, target, before, step + 1))


def _first(along: Callable[[Steps], Array], target: float, start: int, end: int) -> int | None:
    """The first of these steps that reaches the target."""
    steps = np.arange(start, end)
    reached = np.flatnonzero(along(steps) >= target)
    return int(steps[reached[0]]) if reached.size else None
