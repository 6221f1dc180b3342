"""Two groups with a variance each, both estimated (Welch)."""

from __future__ import annotations

from typing_extensions import override

from ragwort.designs.kinds.statistic import StatisticPlan
from ragwort.designs.sizes import Sizes, TwoGroupCounting
from ragwort.stats.search import one as search

_ONE_BY_ONE = 64  # sizes, from the smallest on, among which power may still fall


class UnequalVariancesPlan(StatisticPlan):
    """The degrees of freedom may fall when only the group with little scatter grows, and power with them.

    So while one group stands still power has a hump, and a search that halves would miss the smallest size.
    """

    counting: TwoGroupCounting

    @override
    def smallest_sizes(self) -> Sizes | None:
        """Run by run of sizes at which one group stands still."""
        counting = self.counting
        blocks = counting.blocks()
        if blocks:
            paths = counting.paths(self.power)
            step = search.first_in_blocks(paths, self.target, counting.block, blocks[0], blocks[-1])
        else:
            ends = counting.lowest, counting.highest
            step = search.first_step(self.power_along, self.target, *ends, one_by_one=_ONE_BY_ONE)
        return counting.at(self.power, step)
