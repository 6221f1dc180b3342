"""How a sample size is counted: the whole numbers that a design allows, one step at a time.

A counting turns steps (1-d array of whole numbers) into group sizes (array of shape groups x steps), and a
total into the groups that make it up. Group sizes are whole numbers held as floats, ready for the formulas.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

Sizes = NDArray[np.float64]
Steps = NDArray[np.int64]

LARGEST_TOTAL = 10_000_000
_SLACK = 1e-9  # a product this close to a whole number is that number


class Counting(Protocol):
    """The grid of sample sizes of one plan."""

    @property
    def lowest(self) -> int:
        """The first step."""

    @property
    def highest(self) -> int:
        """The last step, at a total of at most `LARGEST_TOTAL`."""

    @property
    def ways_count(self) -> int:
        """How many ways there are to split a step."""

    def ways(self, steps: Steps) -> list[Sizes]:
        """The ways to split each step into groups, best first where powers tie."""

    def splits(self, total: int) -> list[Sizes]:
        """The ways to split a given total (groups x 1 arrays), best first where powers tie."""

    @property
    def equal_groups(self) -> int:
        """How many groups there are if all have the same size at every step; 0 where they differ."""

    def step_near(self, total: float) -> int:
        """The step whose total is nearest."""

    def blocks(self) -> range:
        """Numbers of the runs of steps in which one group's size stands still; empty if none does."""

    def block(self, index: int) -> tuple[int, int]:
        """First and last step of run `index`."""


class _Monotone:
    """A counting in which no group stands still while others grow."""

    def blocks(self) -> range:
        """See `Counting.blocks`: none."""
        return range(0)

    def block(self, index: int) -> tuple[int, int]:
        """See `Counting.block`."""
        raise IndexError(index)


@dataclass(frozen=True)
class OneGroup(_Monotone):
    """One group, which counts up."""

    smallest: int

    @property
    def lowest(self) -> int:
        return self.smallest

    @property
    def highest(self) -> int:
        return LARGEST_TOTAL

    @property
    def equal_groups(self) -> int:
        return 1

    @property
    def ways_count(self) -> int:
        return 1

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        return [steps.astype(float)[None, :]]

    def splits(self, total: int) -> list[Sizes]:
        """See `Counting.splits`."""
        return self.ways(np.array([total]))

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total)


@dataclass(frozen=True)
class EqualGroups(_Monotone):
    """k groups, cells or arms: the size of the smallest counts up, the others are `weights` times as large."""

    groups: int
    smallest: int = 2
    weights: tuple[float, ...] = ()

    @property
    def lowest(self) -> int:
        return self.smallest

    @property
    def highest(self) -> int:
        return max(self.smallest, int(LARGEST_TOTAL / sum(self.weights or [1.0] * self.groups)))

    @property
    def equal_groups(self) -> int:
        return 0 if self.weights and max(self.weights) > 1 else self.groups

    @property
    def ways_count(self) -> int:
        return 1

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        first = steps.astype(float)
        if not self.weights:
            return [np.broadcast_to(first, (self.groups, len(steps)))]
        return [np.ceil(np.array(self.weights)[:, None] * first - _SLACK)]

    def splits(self, total: int) -> list[Sizes]:
        """The step with this total if there is one; otherwise the last groups get one more each."""
        step = min(max(self.step_near(total), self.smallest), self.highest)
        for near in range(max(self.smallest, step - 2), step + 3):
            ways = self.ways(np.array([near]))
            if ways[0].sum() == total:
                return ways
        return AnyOver(self.groups).splits(total)

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total / sum(self.weights or [1.0] * self.groups))


@dataclass(frozen=True)
class AnyOver(_Monotone):
    """k groups or cells: the total counts up from k + 1; what does not divide makes the last groups one larger."""

    groups: int

    @property
    def lowest(self) -> int:
        return self.groups + 1

    @property
    def highest(self) -> int:
        return LARGEST_TOTAL

    @property
    def equal_groups(self) -> int:
        return 0

    @property
    def ways_count(self) -> int:
        return 1

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        whole, rest = np.divmod(steps, self.groups)
        larger = np.arange(self.groups)[:, None] >= self.groups - rest
        return [(whole + larger).astype(float)]

    def splits(self, total: int) -> list[Sizes]:
        """See `Counting.splits`."""
        return self.ways(np.array([total]))

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total)


@dataclass(frozen=True)
class ByRatio:
    """Two groups: group 1 counts up, group 2 = ceil(ratio x group 1)."""

    ratio: float
    smallest: int

    @property
    def lowest(self) -> int:
        return self.smallest

    @property
    def highest(self) -> int:
        step = int(LARGEST_TOTAL / (1 + self.ratio)) + 2
        while step > self.smallest and self._total(step) > LARGEST_TOTAL:
            step -= 1
        return max(step, self.smallest)

    @property
    def ways_count(self) -> int:
        return 1

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        groups = np.empty((2, len(steps)))
        groups[0] = steps
        groups[1] = np.maximum(np.ceil(self.ratio * groups[0] - _SLACK), self.smallest)
        return [groups]

    def splits(self, total: int) -> list[Sizes]:
        """The step with exactly this total if there is one, otherwise the nearest split to the ratio."""
        guess = int(total / (1 + self.ratio))
        for step in range(max(self.smallest, guess - 3), guess + 4):
            if self._total(step) == total:
                return self.ways(np.array([step]))
        return AnyTotal(self.ratio, self.smallest).splits(total)

    @property
    def equal_groups(self) -> int:
        return 2 if self.ratio == 1 else 0

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total / (1 + self.ratio))

    def blocks(self) -> range:
        """See `Counting.blocks`: the sizes of group 2, for ratios under one."""
        if self.ratio >= 1:
            return range(0)
        last = self._total(self.highest) - self.highest
        return range(self.smallest, last + 1)

    def block(self, index: int) -> tuple[int, int]:
        """See `Counting.block`: the steps at which group 2 is `index` large."""
        start = math.floor((index - 1 + _SLACK) / self.ratio) + 1 if index > self.smallest else self.smallest
        end = math.floor((index + _SLACK) / self.ratio)
        return _inside(start, end, self.lowest, self.highest)

    def _total(self, step: int) -> int:
        return step + max(math.ceil(self.ratio * step - _SLACK), self.smallest)


@dataclass(frozen=True)
class AnyTotal:
    """Two groups: the total counts up, group 1 is the floor or ceiling of its share."""

    ratio: float
    smallest: int

    @property
    def lowest(self) -> int:
        return 2 * self.smallest

    @property
    def highest(self) -> int:
        return LARGEST_TOTAL

    @property
    def ways_count(self) -> int:
        return 2

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: floor first, so that a tie gives the extra one to group 2."""
        total = steps.astype(float)
        share = total / (1 + self.ratio)
        whole = np.where(np.abs(share - np.round(share)) < _SLACK, np.round(share), share)
        return [self._split(total, np.floor(whole)), self._split(total, np.ceil(whole))]

    def splits(self, total: int) -> list[Sizes]:
        """See `Counting.splits`."""
        return self.ways(np.array([total]))

    @property
    def equal_groups(self) -> int:
        return 0

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total)

    def blocks(self) -> range:
        """See `Counting.blocks`: the smaller group's share, rounded down."""
        return range(int(self.highest * self._smaller_share()) + 1)

    def block(self, index: int) -> tuple[int, int]:
        """See `Counting.block`."""
        share = self._smaller_share()
        start = math.ceil(index / share - _SLACK)
        end = math.ceil((index + 1) / share - _SLACK) - 1
        return _inside(start, end, self.lowest, self.highest)

    def _smaller_share(self) -> float:
        return min(self.ratio, 1.0) / (1 + self.ratio)

    def _split(self, total: NDArray[np.float64], first: NDArray[np.float64]) -> Sizes:
        group1 = np.clip(first, self.smallest, total - self.smallest)
        return np.stack([group1, total - group1])


@dataclass(frozen=True)
class ByClusters(_Monotone):
    """Two arms of whole clusters: those of arm 1 count up, arm 2 has ceil(ratio x arm 1), both at least 2.

    Sizes are participants: clusters x cluster size, which need not be whole where the size is a mean.
    """

    ratio: float
    cluster_size: float

    @property
    def _clusters(self) -> ByRatio:
        return ByRatio(self.ratio, 2)

    @property
    def lowest(self) -> int:
        return 2

    @property
    def highest(self) -> int:
        return max(2, int(LARGEST_TOTAL / self.cluster_size / (1 + self.ratio)))

    @property
    def equal_groups(self) -> int:
        return 2 if self.ratio == 1 else 0

    @property
    def ways_count(self) -> int:
        return 1

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        return [self._clusters.ways(steps)[0] * self.cluster_size]

    def splits(self, total: int) -> list[Sizes]:
        """The participants of whole clusters; `total` must be a multiple of the cluster size."""
        clusters = self._clusters.splits(round(total / self.cluster_size))
        return [way * self.cluster_size for way in clusters]

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total / self.cluster_size / (1 + self.ratio))


@dataclass(frozen=True)
class RealArms(_Monotone):
    """Two arms whose sizes are real numbers of participants; steps are whole ones of arm 1."""

    ratio: float

    @property
    def lowest(self) -> int:
        return 2

    @property
    def highest(self) -> int:
        return max(2, int(LARGEST_TOTAL / (1 + self.ratio)))

    @property
    def equal_groups(self) -> int:
        return 2 if self.ratio == 1 else 0

    @property
    def ways_count(self) -> int:
        return 1

    def sizes(self, first: float) -> Sizes:
        """The sizes (groups x 1) with `first` participants in arm 1."""
        return np.array([[first], [self.ratio * first]])

    def ways(self, steps: Steps) -> list[Sizes]:
        """See `Counting.ways`: one way."""
        return [np.stack([steps.astype(float), self.ratio * steps])]

    def splits(self, total: int) -> list[Sizes]:
        """See `Counting.splits`."""
        return [self.sizes(total / (1 + self.ratio))]

    def step_near(self, total: float) -> int:
        """See `Counting.step_near`."""
        return round(total / (1 + self.ratio))


def _inside(start: int, end: int, lowest: int, highest: int) -> tuple[int, int]:
    start = min(max(start, lowest), highest)
    return start, min(max(end, start), highest)


def enrolment(groups: list[int], dropout: float) -> list[int]:
    """Participants to enrol, group by group, so that `groups` remain after dropout (a share under 1)."""
    return [math.ceil(size / (1 - dropout) - _SLACK) for size in groups]
