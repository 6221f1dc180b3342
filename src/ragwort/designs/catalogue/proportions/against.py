"""One proportion against a known one with a margin: the test of one proportion, its null hypothesis moved."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.catalogue.proportions.apart import MARGINS_OF_SHARES, both_reject
from ragwort.designs.catalogue.proportions.plans import BinomialPlan, ScorePlan
from ragwort.designs.formula import EDGE, Expression, Frac, power_of_two_variances, row
from ragwort.designs.kinds import CountsPlan, EdgedPlan, TwoTestsPlan
from ragwort.designs.kinds.counts import Bounds, by_bounds
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import Sizes, Steps
from ragwort.stats import simulated
from ragwort.stats.binomial import least_and_most
from ragwort.stats.effects import h_of
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import counts
from ragwort.stats.statistic import Test

if TYPE_CHECKING:
    from numpy.typing import NDArray

MARGINS = MARGINS_OF_SHARES
METHODS = ("exact", "score")  # that take a margin
_INSIDE = 1e-12


@dataclass(frozen=True)
class AgainstPlan(EdgedPlan):
    """By the score test. `effect` is the proportion less the edge, which counts from the reference `base`."""

    base: float

    @property
    def moved(self) -> ScorePlan | BinomialPlan:
        """The plan whose reference is the edge of the null hypothesis."""
        return ScorePlan(self.alpha, self.target, self.sides, self.effect, self.counting, null=self.base + self.edge)

    effect_scale = 0.01

    @override
    def furthest(self, up: bool) -> float:
        return self.moved.furthest(up)

    @property
    @override
    def widest_margin(self) -> float:
        """The edge must stay inside 0 and 1."""
        below, above = self.base - _INSIDE, 1 - self.base - _INSIDE
        if not self.margin_kind:
            return min(below, above)
        return below if (self.margin_kind == "superiority") == (self.sides == "less") else above

    @override
    def test(self, groups: Sizes) -> Test:
        return self.moved.test(groups)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        return self.moved.draw(sizes, population, count)

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        return self.moved.analyse(data, way)

    @property
    @override
    def nothing(self) -> float:
        return self.base + float(np.ravel(self.edge)[0])

    @override
    def effect_report(self) -> dict[str, Number]:
        p = self.moved.planned
        return {"proportion": p, "risk_difference": p - self.base, "h": h_of(self.base, p), **self.margin_report()}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return self.moved.notes(groups)


@dataclass(frozen=True)
class ExactAgainstPlan(CountsPlan, AgainstPlan):
    """By the exact binomial test."""

    n_rule: str

    @property
    @override
    def moved(self) -> BinomialPlan:
        basis = self.alpha, self.target, self.sides, self.effect, self.counting
        return BinomialPlan(*basis, null=self.base + self.edge, n_rule=self.n_rule)

    @property
    @override
    def last_step(self) -> int:
        return self.moved.last_step

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        return self.moved.actual_alpha(groups)

    @override
    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        return self.moved.rejection_limits(groups)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        return self.moved.first_and_steady()


@dataclass(frozen=True)
class ExactBetweenPlan(CountsPlan, TwoTestsPlan):
    """Equivalence by two exact binomial tests: counts from one limit to the other reject both."""

    n_rule: str = field(kw_only=True)

    @property
    @override
    def last_step(self) -> int:
        return self.inner.last_step

    @override
    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        """At or above one and at or below the other, though they may cross."""
        above, below = (side.test(groups) for side in self.on_sides())
        limits = above.regions(self.alpha, "greater") | below.regions(self.alpha, "less")  # type: ignore[attr-defined]
        return dict(limits)

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """The larger chance of rejecting both with the proportion on a margin."""
        edges = [self.replace(effect=edge).power(groups) for edge in (self.low, self.high)]
        return np.asarray(np.maximum(*edges))

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        limits = {name: float(limit[0]) for name, limit in self.rejection_limits(groups).items()}
        whole = {name.replace(" ", "_"): limit for name, limit in limits.items()}
        shown = {name: None if np.isnan(limit) else int(limit) for name, limit in whole.items()}
        return {**shown, "actual_alpha": float(self.actual_alpha(groups)[0])}

    @override
    def smallest_sizes(self) -> Sizes | None:
        return CountsPlan.smallest_sizes(self)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        """The bounds of both tests less 1 bound the power."""
        sides = [(side.sides, self.inner.base + side.edge) for side in self.on_sides()]  # type: ignore[attr-defined]
        share = self.inner.base + float(self.effect)  # type: ignore[attr-defined]

        def bounds(first: Steps, last: Steps) -> Bounds:
            ends = first.astype(float), last.astype(float)
            (least1, most1), (least2, most2) = (
                least_and_most(*ends, share, null, self.alpha, side) for side, null in sides
            )
            return least1 + least2 - 1, most1 + most2 - 1

        return by_bounds(self, bounds)


def need_edges_inside(base: float, low: float | None, high: float | None, names: tuple[str, str]) -> None:
    """Refuse margins whose edges leave 0 to 1. Raises `RequestError` that names the margin."""
    for edge, name in ((low, names[0]), (high, names[1])):
        if edge is not None and not 0 < base + edge < 1:
            raise RequestError(
                name,
                f"With this margin the null hypothesis would lie at {plain_number(base + edge)}: it must lie between 0 "
                "and 1.",
            )


def formulas_against(method: str, sides: str, kind: str) -> tuple[Expression, ...]:
    """The formulas of one proportion against a margin."""
    if method == "exact" and kind == "equivalence":
        limits = "c₁ rejects π₀ + M₁ upwards, c₂ rejects π₀ + M₂ downwards, each at α"
        return "1 − β = P(c₁ ≤ X ≤ c₂)", "X is binomial (n, π)", limits
    if method == "exact":
        power = "P(X ≥ c)" if sides == "greater" else "P(X ≤ c)"
        return f"1 − β = {power}", "X is binomial (n, π); c is where the exact test rejects π₀ + Δ₀", EDGE
    own = row("V₁ = ", Frac("π(1 − π)", "n"))
    if kind == "equivalence":
        nulls = "V₀₁ and V₀₂ are the same at π₀ + M₁ and at π₀ + M₂; Δ = π − π₀"
        return own, nulls, both_reject(("Δ − M₁", "V₀₁"), ("M₂ − Δ", "V₀₂"))
    nulls = "Δ = π − π₀ − Δ₀; V₀ is the same as V₁ at π₀ + Δ₀"
    return own, nulls, EDGE, power_of_two_variances(sides)
