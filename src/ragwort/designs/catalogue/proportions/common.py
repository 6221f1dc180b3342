"""What comparisons of proportions share: a known proportion and a planned one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import Assumption, Choice
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.effects import h_of, odds
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import counts

ARCSINE = Choice("arcsine", "arcsine", "test on the arcsine scale")


def proportion(name: str, label: str, help_text: str, symbol: str, **more: Any) -> Assumption:
    bounds: dict[str, Any] = {"low": 0, "high": 1, "open_low": True, "open_high": True}
    return Assumption(name, label, "share", "Effect", help_text, symbol=symbol, **bounds, **more)


class SharePlan(Plan):
    """One proportion is known, another is planned."""

    effect_scale = 0.01

    @property
    def known(self) -> float:
        """The proportion that the effect starts from."""
        raise NotImplementedError

    @property
    def planned(self) -> Number:
        """The proportion that the effect leads to."""
        return np.clip(self.known + self.effect, 0.0, 1.0)

    @override
    def furthest(self, up: bool) -> float:
        """The effect that leaves the planned proportion just inside 0 and 1."""
        return (1 - self.known) * (1 - 1e-15) if up else -self.known * (1 - 1e-15)


@dataclass(frozen=True)
class TwoShares(SharePlan):
    """Two independent groups; `effect` is proportion 2 less proportion 1."""

    proportion1: float
    method: str

    estimated = "difference of proportions"
    traits = frozenset({"arms"})
    reported = simulated.YES

    @property
    @override
    def known(self) -> float:
        return self.proportion1

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        shares = (self.proportion1, float(self.planned))
        return counts.draw_shares(population, count, sizes, shares)

    @override
    def seen(self, groups: Sequence[Array]) -> counts.Shares:
        return counts.seen_shares(groups)

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        return counts.analyse_two_shares(data, self.method, self.level)

    @property
    @override
    def truth(self) -> float:
        """The difference of the proportions."""
        return float(self.effect)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return self.confidence.newcombe((self.proportion1, self.planned), groups)

    @override
    def effect_report(self) -> dict[str, Number]:
        p1, p2 = self.proportion1, self.planned
        return {
            "proportion2": p2,
            "risk_difference": self.effect,
            "risk_ratio": p2 / p1,
            "odds_ratio": odds(p2) / odds(p1),
            "h": h_of(p1, p2),
        }
