"""One statistic whose null hypothesis may have its edge elsewhere than at no effect: at a margin."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.kinds.statistic import StatisticPlan
from ragwort.designs.sizes import Sizes
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import Found


@dataclass(frozen=True)
class EdgedPlan(StatisticPlan):
    """`effect` counts from `edge`, which is 0 unless the hypothesis has a margin; `difference` counts from nothing."""

    edge: Number = field(default=0.0, kw_only=True)
    margin_kind: str = field(default="", kw_only=True)  # superiority or non-inferiority
    by_error: bool = field(default=False, kw_only=True)  # whether the effect or the margin is asked for

    @property
    def difference(self) -> Number:
        """The true effect, from no effect on."""
        return self.effect + self.edge

    @property
    def widest_margin(self) -> float:
        """The widest margin that there can be."""
        return 1e300

    @property
    @override
    def hopeless(self) -> str:
        if self.margin_kind and super().hopeless:
            return "The true effect lies on the wrong side of the margin or on it, so no sample size shows the claim."
        return super().hopeless

    @property
    @override
    def nothing(self) -> float:
        return float(np.ravel(self.edge)[0])

    @property
    @override
    def wider_is_easier(self) -> bool:
        return self.margin_kind != "superiority"

    @override
    def from_edge(self, stated: float) -> float:
        return stated - float(np.ravel(self.edge)[0])

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        """Where the effect or the margin is not known yet, the split with the smaller error."""
        if not self.by_error:
            return super().better(ways)
        apart = self.replace(effect=1.0)
        return max(ways, key=lambda way: float(np.ravel(apart.test(way).noncentrality)[0]))

    def margin_report(self) -> dict[str, Number]:
        """The margin, where there is one."""
        return {"margin": abs(self.edge)} if self.margin_kind else {}

    def from_nothing(self, found: Found) -> Found:
        """What was found of data less the edge, as effects that count from nothing."""
        if found.low is None or found.high is None:
            return replace(found, estimate=found.estimate + self.edge)
        low, high = found.low + self.edge, found.high + self.edge
        return replace(found, estimate=found.estimate + self.edge, low=low, high=high)
