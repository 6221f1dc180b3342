"""Two separate groups in a ratio."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.sizes.counting import LARGEST_TOTAL, SLACK, Counting, Sizes, Steps

if TYPE_CHECKING:
    from numpy.typing import NDArray


class TwoGroupCounting(Counting):
    """Two groups; there are runs of steps in which one of them stands still while the other grows."""

    def blocks(self) -> range:
        """Numbers of the runs of steps in which the size of one group stands still; empty if none does."""
        raise NotImplementedError

    def block(self, index: int) -> tuple[int, int]:
        """First and last step of run `index`."""
        raise NotImplementedError


@dataclass(frozen=True)
class ByRatio(TwoGroupCounting):
    """Two groups: group 1 counts up, group 2 = ceil(ratio x group 1)."""

    ratio: float
    smallest_size: int

    @property
    def lowest(self) -> int:
        return self.smallest_size

    @property
    def highest(self) -> int:
        step = int(LARGEST_TOTAL / (1 + self.ratio)) + 2
        while step > self.smallest_size and self._total(step) > LARGEST_TOTAL:
            step -= 1
        return max(step, self.smallest_size)

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        groups = np.empty((2, len(steps)))
        groups[0] = steps
        groups[1] = np.maximum(np.ceil(self.ratio * groups[0] - SLACK), self.smallest_size)
        return [groups]

    def splits(self, total: int) -> list[Sizes]:
        """The step with exactly this total if there is one, otherwise the nearest split to the ratio."""
        guess = int(total / (1 + self.ratio))
        for step in range(max(self.smallest_size, guess - 3), guess + 4):
            if self._total(step) == total:
                return self.ways(np.array([step]))
        return AnyTotal(self.ratio, self.smallest_size).splits(total)

    @property
    def equal_groups(self) -> int:
        return 2 if self.ratio == 1 else 0

    @override
    def step_near(self, total: float) -> int:
        return round(total / (1 + self.ratio))

    @override
    def blocks(self) -> range:
        """The sizes of group 2, for ratios under one."""
        if self.ratio >= 1:
            return range(0)
        last = self._total(self.highest) - self.highest
        return range(self.smallest_size, last + 1)

    @override
    def block(self, index: int) -> tuple[int, int]:
        """The steps at which group 2 is `index` large."""
        start = math.floor((index - 1 + SLACK) / self.ratio) + 1 if index > self.smallest_size else self.smallest_size
        end = math.floor((index + SLACK) / self.ratio)
        return _inside(start, end, self.lowest, self.highest)

    def _total(self, step: int) -> int:
        return step + max(math.ceil(self.ratio * step - SLACK), self.smallest_size)


@dataclass(frozen=True)
class AnyTotal(TwoGroupCounting):
    """Two groups: the total counts up, group 1 is the floor or ceiling of its share."""

    ratio: float
    smallest_size: int

    @property
    def lowest(self) -> int:
        return 2 * self.smallest_size

    @property
    def ways_count(self) -> int:
        return 2

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """Floor first, so that a tie gives the extra one to group 2."""
        total = steps.astype(float)
        share = total / (1 + self.ratio)
        whole = np.where(np.abs(share - np.round(share)) < SLACK, np.round(share), share)
        return [self._split(total, np.floor(whole)), self._split(total, np.ceil(whole))]

    @override
    def blocks(self) -> range:
        """The smaller group's share, rounded down."""
        return range(int(self.highest * self._smaller_share()) + 1)

    @override
    def block(self, index: int) -> tuple[int, int]:
        share = self._smaller_share()
        start = math.ceil(index / share - SLACK)
        end = math.ceil((index + 1) / share - SLACK) - 1
        return _inside(start, end, self.lowest, self.highest)

    def _smaller_share(self) -> float:
        return min(self.ratio, 1.0) / (1 + self.ratio)

    def _split(self, total: NDArray[np.float64], first: NDArray[np.float64]) -> Sizes:
        group1 = np.clip(first, self.smallest_size, total - self.smallest_size)
        return np.stack([group1, total - group1])


def _inside(start: int, end: int, lowest: int, highest: int) -> tuple[int, int]:
    start = min(max(start, lowest), highest)
    return start, min(max(end, start), highest)


@dataclass(frozen=True)
class ByEvents(Counting):
    """Events of two arms, one after the other; each arm has as many as its share of the people, seldom whole."""

    ratio: float

    @property
    def lowest(self) -> int:
        return 1

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        events = steps.astype(float)
        return [np.stack([events / (1 + self.ratio), events * self.ratio / (1 + self.ratio)])]
