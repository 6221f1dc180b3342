"""One proportion against a known one: what is planned, by each test."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.catalogue.proportions.common import SharePlan
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.kinds.counts import by_bounds
from ragwort.designs.precision import Interval
from ragwort.designs.remarks import General
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.binomial import BinomialTest, least_and_most
from ragwort.stats.effects import h_of
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import counts
from ragwort.stats.statistic import NormalTest, Test

if TYPE_CHECKING:
    from numpy.typing import NDArray

_LARGEST = 500_000  # participants up to which the exact test is searched
_METHOD_NAMES = {"score": "The score test", "arcsine": "The arcsine method"}


@dataclass(frozen=True)
class OneShare(SharePlan):
    """One sample; `effect` is the planned proportion less the reference."""

    null: float

    method: ClassVar[str]  # by which the sample is tested
    reported = simulated.YES

    @property
    @override
    def known(self) -> float:
        return self.null

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        return counts.draw_shares(population, count, sizes, (float(self.planned),))

    @override
    def seen(self, groups: Sequence[Array]) -> counts.Shares:
        return counts.seen_shares(groups)

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        return counts.analyse_one_share(data, self.null, self.method, self.level)

    @property
    @override
    def nothing(self) -> float:
        return self.null

    @override
    def interval(self, groups: Sizes) -> Interval:
        low, high = self.confidence.wilson(self.planned, groups[0])
        return Interval("proportion", "points", low, high, self.confidence.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        p = self.planned
        return {"proportion": p, "risk_difference": self.effect, "h": h_of(self.null, p)}


@dataclass(frozen=True)
class ScorePlan(OneShare, StatisticPlan):
    """The score test, a normal approximation."""

    method = "score"

    @override
    def test(self, groups: Sizes) -> Test:
        """Methods of section 4, one-proportion."""
        n, p, p0 = groups[0], self.planned, self.null
        null_sd = np.sqrt(p0 * (1 - p0))
        spread = np.sqrt(p * (1 - p)) / null_sd
        return NormalTest(np.sqrt(n) * self.effect / null_sd, spread, mean=self.effect, null_variance=null_sd**2 / n)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return [General(f"{_METHOD_NAMES[self.method]} is a normal approximation.")]


@dataclass(frozen=True)
class ArcsinePlan(ScorePlan):
    """The test on the arcsine scale, a normal approximation."""

    method = "arcsine"

    @override
    def test(self, groups: Sizes) -> Test:
        """Cohen (1988), chapter 6."""
        return NormalTest(h_of(self.null, self.planned) * np.sqrt(groups[0]))


@dataclass(frozen=True)
class BinomialPlan(OneShare, CountsPlan, StatisticPlan):
    """The exact binomial test."""

    n_rule: str

    method = "exact"

    @property
    @override
    def last_step(self) -> int:
        return _LARGEST

    @override
    def test(self, groups: Sizes) -> BinomialTest:
        return BinomialTest(self.planned, self.null, groups[0])

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        return np.asarray(self.test(groups).actual_alpha(self.alpha, self.sides))

    @override
    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        return self.test(groups).regions(self.alpha, self.sides)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        """Runs of sizes are ruled out by bounds."""

        p, p0 = float(self.planned), self.null
        return by_bounds(
            self, lambda a, b: least_and_most(a.astype(float), b.astype(float), p, p0, self.alpha, self.sides)
        )

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if all(np.isnan(limit[0]) for limit in self.rejection_limits(groups).values()):
            return ["No count of this sample is rare enough to reject at this alpha, so power is 0."]
        return []
