"""The grid of sample sizes of one plan, and the search along it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, ClassVar, TypeAlias

from ragwort.base.lazily import np
from ragwort.stats.search import one as search

if TYPE_CHECKING:
    from numpy.typing import NDArray

Sizes: TypeAlias = "NDArray[np.float64]"
Steps: TypeAlias = "NDArray[np.int64]"
Powers: TypeAlias = "NDArray[np.float64]"
PowerOf = Callable[[Sizes], Powers]  # of group sizes (groups x steps)

LARGEST_TOTAL = 10_000_000
SLACK = 1e-9  # a product this close to a whole number is that number
TIE = 1e-12  # powers that differ by less are the same


class Counting:
    """The grid of sample sizes of one plan, one step at a time. As declared here: a total that counts up."""

    real_sizes: ClassVar[bool] = True  # sizes that are not whole stand for themselves, not for people in whole clusters
    settles_sizes: ClassVar[bool] = True  # group sizes follow from it and what is given as the size alone

    @property
    def lowest(self) -> int:
        """The first step."""
        raise NotImplementedError

    @property
    def highest(self) -> int:
        """The last step, at a total of at most `LARGEST_TOTAL`."""
        return LARGEST_TOTAL

    @property
    def equal_groups(self) -> int:
        """How many groups there are if all have the same size at every step; 0 where they differ."""
        return 0

    def ways(self, steps: Steps) -> list[Sizes]:
        """The ways to split each step into groups, best first where powers tie."""
        raise NotImplementedError

    @property
    def ways_count(self) -> int:
        """How many ways there are to split a step."""
        return 1

    def splits(self, total: int) -> list[Sizes]:
        """The ways to split a given total (groups x 1 arrays), best first where powers tie."""
        return self.ways(np.array([total]))

    def step_near(self, total: float) -> int:
        """The step whose total is nearest."""
        return round(total)

    def in_groups(self, sizes: Iterable[float]) -> list[int]:
        """Whole participants of each group."""
        return [rounded_up(size) for size in sizes]

    def in_all(self, sizes: Iterable[float]) -> int:
        """Whole participants of all groups."""
        return whole_total(sizes)

    def paths(self, power: PowerOf) -> list[search.StepPower]:
        """Power along the steps for each way to split them."""

        def path(way: int) -> search.StepPower:
            return lambda steps: power(self.ways(steps)[way])

        return [path(way) for way in range(self.ways_count)]

    def along(self, power: PowerOf, steps: Steps) -> Powers:
        """Power at each step: of the better split where there are several."""
        paths = self.paths(power)
        return np.asarray(paths[0](steps) if len(paths) == 1 else np.max([path(steps) for path in paths], axis=0))

    def better(self, power: PowerOf, ways: list[Sizes]) -> Sizes:
        """Of several ways to split a total (each groups x 1), the one with the larger power, of equals the first."""
        best, *others = ways
        for other in others:
            if float(power(other)[0]) > float(power(best)[0]) + TIE:
                best = other
        return best

    def at(self, power: PowerOf, step: int | None) -> Sizes | None:
        """The sizes at a step that a search found (groups x 1)."""
        return None if step is None else self.better(power, self.ways(np.array([step])))

    def smallest(self, power: PowerOf, target: float) -> Sizes | None:
        """The smallest sizes whose power reaches the target, for a power that never falls; None where none does."""
        step = search.first_step(lambda steps: self.along(power, steps), target, self.lowest, self.highest)
        return self.at(power, step)


def rounded_up(size: float) -> int:
    """The whole number of people that a size takes: at least one for any size above 0."""
    return max(math.ceil(size - SLACK), 1) if size > 0 else 0


def whole_total(sizes: Iterable[float]) -> int:
    """Participants that come whole, for sizes that do not."""
    return rounded_up(sum(sizes))
