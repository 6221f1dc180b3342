"""Two arms of whole clusters, and two arms that are computed with real numbers."""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.sizes.counting import LARGEST_TOTAL, Counting, PowerOf, Sizes, Steps
from ragwort.designs.sizes.two_groups import ByRatio
from ragwort.stats.search import one as search

_TRIED_FIRST = 64.0  # participants of arm 1


@dataclass(frozen=True)
class ByClusters(Counting):
    """Two arms of whole clusters: those of arm 1 count up, arm 2 has ceil(ratio x arm 1), both at least 2.

    Sizes are participants: clusters x cluster size, which need not be whole where the size is a mean.
    """

    real_sizes = False

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

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        return [self._clusters.ways(steps)[0] * self.cluster_size]

    def splits(self, total: int) -> list[Sizes]:
        """The participants of whole clusters; `total` must be a multiple of the cluster size."""
        clusters = self._clusters.splits(round(total / self.cluster_size))
        return [way * self.cluster_size for way in clusters]

    @override
    def step_near(self, total: float) -> int:
        return round(total / self.cluster_size / (1 + self.ratio))


@dataclass(frozen=True)
class RealArms(Counting):
    """Two arms whose sizes are real numbers of participants; steps are whole ones of arm 1."""

    settles_sizes = False

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

    def sizes(self, first: float) -> Sizes:
        """The sizes (groups x 1) with `first` participants in arm 1."""
        return np.array([[first], [self.ratio * first]])

    @override
    def ways(self, steps: Steps) -> list[Sizes]:
        """One way."""
        return [np.stack([steps.astype(float), self.ratio * steps])]

    @override
    def splits(self, total: int) -> list[Sizes]:
        return [self.sizes(total / (1 + self.ratio))]

    @override
    def step_near(self, total: float) -> int:
        return round(total / (1 + self.ratio))

    @override
    def smallest(self, power: PowerOf, target: float) -> Sizes | None:
        """The sizes, not rounded, at which power equals the target."""

        def power_with(first: float) -> float:
            return float(power(self.sizes(first))[0])

        found = search.nearest_root(power_with, target, _TRIED_FIRST, LARGEST_TOTAL / (1 + self.ratio))
        return None if found is None else self.sizes(found)
