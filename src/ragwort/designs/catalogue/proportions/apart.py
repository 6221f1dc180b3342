"""Two independent proportions against a margin on their difference."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.assumption import Choice
from ragwort.designs.catalogue.proportions.common import TwoShares
from ragwort.designs.formula import EDGE, Expression, Frac, Root, Sub, power_of_two_variances, power_of_z, row
from ragwort.designs.kinds import EdgedPlan
from ragwort.designs.margins import BETTER, HYPOTHESIS, MARGIN, MARGIN_HIGH, MARGIN_LOW
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.restricted import restricted_shares
from ragwort.stats.simulated import counts
from ragwort.stats.statistic import NormalTest

SCORE = Choice("score", "score, for margins", "score test")
METHODS = ("unpooled", "score")  # that take a margin
_SHARE: dict[str, Any] = {"kind": "share", "high": 1, "open_high": True}
MARGINS_OF_SHARES = (
    HYPOTHESIS,
    replace(MARGIN, **_SHARE),
    *(replace(each, low=-1, open_low=True, **_SHARE) for each in (MARGIN_LOW, MARGIN_HIGH)),
    BETTER,
)
METHOD_TEXTS = {
    "unpooled": "for the z test of a difference of proportions against the margin, with separate variances throughout, "
    "as a normal approximation.",
    "score": "for the score test of a difference of proportions against the margin, with the variance of those "
    "proportions on the margin that fit best (Farrington and Manning), as a normal approximation.",
}


@dataclass(frozen=True)
class ApartPlan(TwoShares, EdgedPlan):
    """`effect` is the difference of the proportions less the edge."""

    @property
    @override
    def planned(self) -> Number:
        return np.clip(self.known + self.difference, 0.0, 1.0)

    @override
    def furthest(self, up: bool) -> float:
        """The effect that leaves the planned proportion just inside 0 and 1."""
        edge = float(np.ravel(self.edge)[0])
        return (1 - self.known) * (1 - 1e-15) - edge if up else -self.known * (1 - 1e-15) - edge

    @property
    @override
    def widest_margin(self) -> float:
        return 1 - 1e-12

    def _own(self, groups: Sizes) -> Array:
        """The variance of the difference at the planned proportions."""
        (n1, n2), p1, p2 = groups, self.proportion1, self.planned
        return np.asarray(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2)

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Farrington and Manning (1990), methods 1 and 3."""
        own = np.sqrt(self._own(groups))
        if self.method == "unpooled":
            return NormalTest(self.effect / own)
        (n1, n2), p1, p2 = groups, self.proportion1, self.planned
        held1, held2 = restricted_shares(p1, p2, n1, n2, self.edge)
        on_margin = np.sqrt(held1 * (1 - held1) / n1 + held2 * (1 - held2) / n2)
        return NormalTest(self.effect / on_margin, own / on_margin, mean=self.effect, null_variance=on_margin**2)

    @override
    def better(self, ways: list[Sizes]) -> Sizes:
        if not self.by_error:
            return super().better(ways)
        return min(ways, key=lambda way: float(np.ravel(self._own(way))[0]))

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        return counts.analyse_apart(data, self.method, float(self.edge), self.level)

    @property
    @override
    def truth(self) -> float:
        return float(self.difference)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {**super().effect_report(), "risk_difference": self.difference, **self.margin_report()}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        few = min(float(np.ravel(n * share)[0]) for n, p in zip(groups, self._shares(), strict=True) for share in p)
        poor = "here, as fewer than 10 are expected with or without it in a group" if few < 10 else ""
        return [normal_approximation(poor)]

    def _shares(self) -> tuple[tuple[float, float], ...]:
        p2 = float(np.ravel(self.planned)[0])
        return (self.proportion1, 1 - self.proportion1), (p2, 1 - p2)


def formulas_apart(method: str, sides: str, kind: str) -> tuple[Expression, ...]:
    """The formulas of a test against a margin; Δ₀ is the edge of the null hypothesis."""
    own = row(Frac("π₁(1 − π₁)", "n₁"), " + ", Frac("π₂(1 − π₂)", "n₂"))
    if kind == "equivalence":
        named = row("Δ = π₂ − π₁,   V₁ = ", own)
        return named, *_equivalence(method)
    if method == "unpooled":
        return row("δ = ", Frac("π₂ − π₁ − Δ₀", Root(own))), EDGE, power_of_z(sides)
    held = "V₀ is V₁ at those π₁, π₂ with π₂ − π₁ = Δ₀ that fit best"
    return row("Δ = π₂ − π₁ − Δ₀,   V₁ = ", own), EDGE, held, power_of_two_variances(sides)


def _equivalence(method: str) -> tuple[Expression, ...]:
    """Both tests reject: the sum of their powers less 1."""
    low, high = ("V₁", "V₁") if method == "unpooled" else ("V₀₁", "V₀₂")
    power = both_reject(("Δ − M₁", low), ("M₂ − Δ", high))
    held = "V₀₁, V₀₂ are V₁ at those π₁, π₂ with π₂ − π₁ = M₁, or = M₂, that fit best"
    return (power,) if method == "unpooled" else (held, power)


def both_reject(*tests: tuple[str, str]) -> Expression:
    """The sum of the powers of two one-sided tests less 1, each of an effect apart from an edge with its V₀."""
    limit = Sub("z", "1−α")
    tails = [row("Φ(", Frac(row(f"{apart} − ", limit, Root(null)), Root("V₁")), ")") for apart, null in tests]
    return row("1 − β = ", tails[0], " + ", tails[1], " − 1, and 0 if that is below 0")
