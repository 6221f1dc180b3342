"""One group, and several groups or cells of (nearly) one size."""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.sizes.counting import LARGEST_TOTAL, SLACK, Counting, Sizes, Steps


@dataclass(frozen=True)
class OneGroup(Counting):
    """One group, which counts up."""

    smallest_size: int

    @property
    def lowest(self) -> int:
        return self.smallest_size

    @property
    def equal_groups(self) -> int:
        return 1

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        return [steps.astype(float)[None, :]]


@dataclass(frozen=True)
class EqualGroups(Counting):
    """k groups, cells or arms: the size of the smallest counts up, the others are `weights` times as large."""

    groups: int
    smallest_size: int = 2
    weights: tuple[float, ...] = ()

    @property
    def lowest(self) -> int:
        return self.smallest_size

    @property
    def highest(self) -> int:
        return max(self.smallest_size, int(LARGEST_TOTAL / self._parts))

    @property
    def equal_groups(self) -> int:
        return 0 if self.weights and max(self.weights) > 1 else self.groups

    @property
    def _parts(self) -> float:
        """How many times the smallest group all are."""
        return sum(self.weights or [1.0] * self.groups)

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        first = steps.astype(float)
        if not self.weights:
            return [np.broadcast_to(first, (self.groups, len(steps)))]
        return [np.ceil(np.array(self.weights)[:, None] * first - SLACK)]

    def splits(self, total: int) -> list[Sizes]:
        """The step with this total if there is one; otherwise the last groups get one more each."""
        step = min(max(self.step_near(total), self.smallest_size), self.highest)
        for near in range(max(self.smallest_size, step - 2), step + 3):
            ways = self.ways(np.array([near]))
            if ways[0].sum() == total:
                return ways
        return AnyOver(self.groups).splits(total)

    @override
    def step_near(self, total: float) -> int:
        return round(total / self._parts)


@dataclass(frozen=True)
class AnyOver(Counting):
    """k groups or cells: the total counts up from k + 1; what does not divide makes the last groups one larger."""

    groups: int
    smallest_total: int = 0  # where the test asks for more than that

    @property
    def lowest(self) -> int:
        return max(self.groups + 1, self.smallest_total)

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        whole, rest = np.divmod(steps, self.groups)
        larger = np.arange(self.groups)[:, None] >= self.groups - rest
        return [(whole + larger).astype(float)]
