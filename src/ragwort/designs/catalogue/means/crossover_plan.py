"""Two treatments in two periods: what is planned, on the outcome as it is or on its logarithm."""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.kinds import EdgedPlan, EquivalencePlan
from ragwort.designs.precision import Interval
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import crossover
from ragwort.stats.statistic import TTest


@dataclass(frozen=True)
class CrossoverPlan(EdgedPlan):
    """`effect` is the second treatment less the first, of logarithms where `logs`; `sd` is within participants."""

    sd: Number
    logs: bool = False

    single = ("logs",)
    traits = frozenset({"measured", "bounds"})

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd)

    @property
    @override
    def on_logs(self) -> bool:
        return self.logs

    @property
    @override
    def effect_scale(self) -> Number:
        return self.sd

    @override
    def furthest(self, up: bool) -> float:
        """A ratio that can still be held."""
        end = 690.0 if self.logs else 1e300
        return end if up else -end

    @property
    @override
    def widest_margin(self) -> float:
        return 690.0 if self.logs else super().widest_margin

    @override
    def test(self, groups: Sizes) -> TTest:
        """Jones and Kenward (2014), section 2.11."""
        n1, n2 = groups
        return TTest(self.effect / (self.sd * np.sqrt((1 / n1 + 1 / n2) / 2)), n1 + n2 - 2)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> crossover.Periods:
        return crossover.draw_periods(population, count, sizes, float(self.difference), float(self.sd))

    @override
    def analyse(self, data: crossover.Periods, way: str = "") -> simulated.Found:
        return self.from_nothing(crossover.analyse_crossover(data, float(np.ravel(self.edge)[0]), self.level))

    @property
    @override
    def estimated(self) -> str:  # type: ignore[override]  # by scale
        return "log ratio of means" if self.logs else ""

    @property
    @override
    def truth(self) -> float:
        """The difference, of logarithms where that is the scale."""
        return float(np.ravel(self.difference)[0])

    @override
    def interval(self, groups: Sizes) -> Interval:
        test = self.replace(effect=1.0).test(groups)
        if not self.logs:
            return self.confidence.tested("difference", "measured", self.difference, test)
        reach = self.confidence.t(test.df) / np.asarray(test.noncentrality)
        low, high = np.exp(self.difference - reach), np.exp(self.difference + reach)
        return Interval("ratio of means", "ratio", low, high, self.confidence.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        if not self.logs:
            return {"difference": self.difference, **self.margin_report()}
        ratios = {name: np.exp(value) for name, value in self.margin_report().items()}
        return {"mean_ratio": np.exp(np.asarray(self.difference)), "difference": self.difference, **ratios}


@dataclass(frozen=True)
class CrossoverEquivalence(EquivalencePlan):
    """The same between two margins."""

    @override
    def effect_report(self) -> dict[str, Number]:
        found = super().effect_report()
        return found | {"margin": np.exp(found["margin"])} if self.inner.on_logs else found

    @property
    @override
    def truth(self) -> float:
        return float(np.ravel(self.effect)[0])
