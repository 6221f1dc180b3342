"""The difference of two independent proportions with a wanted precision."""

from __future__ import annotations

from dataclasses import dataclass, replace

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.base.patience import check
from ragwort.designs import evidence
from ragwort.designs.assumption import DROPOUT, TOTAL, Assumption, Choice, method
from ragwort.designs.catalogue.precision.common import (
    CONFIDENCE,
    HALF_WIDTH_OF_SHARE,
    UNUSED_CHANCE,
    Estimated,
    Precise,
    confidence_by_search,
    in_blocks,
    interval_found,
    likely_counts,
)
from ragwort.designs.design import Values, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, Sub, row
from ragwort.designs.kinds.precision import PrecisionPlan
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import BETWEEN, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import COCHRAN, NEWCOMBE
from ragwort.stats import limits, simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import counts

_MOST_COUNTS = 600  # of a group, that are looked at one by one


@dataclass(frozen=True)
class SharesPrecisionPlan(PrecisionPlan):
    """The interval of proportion 2 less proportion 1 at their planned values."""

    proportion1: float = 0.5
    proportion2: float = 0.5
    method: str = "newcombe"

    estimated = "difference of proportions"
    traits = frozenset({"arms"})
    reported = simulated.YES

    def limits(self, groups: Sizes) -> tuple[Array, Array]:
        """At the planned proportions."""
        return self._between(self.proportion1, self.proportion2, *groups)

    @override
    def chance(self, groups: Sizes) -> Array:
        """Over the counts that both groups may have."""
        return np.array([self._chance_at(round(float(n1)), round(float(n2))) for n1, n2 in np.atleast_2d(groups.T)])

    def _chance_at(self, n1: int, n2: int) -> float:
        check()
        (yes1, chances1), (yes2, chances2) = (
            in_blocks(*likely_counts(of, share), _MOST_COUNTS)
            for of, share in ((n1, self.proportion1), (n2, self.proportion2))
        )
        low, high = self._between(yes1[:, None] / n1, yes2[None, :] / n2, n1, n2)
        return float((chances1[:, None] * chances2[None, :])[self.is_narrow(low, high)].sum())

    def _between(self, share1: Number, share2: Number, n1: Number, n2: Number) -> tuple[Array, Array]:
        by = limits.newcombe if self.method == "newcombe" else limits.wald_difference
        return by((share1, share2), (n1, n2), np.asarray(self.alpha) / 2)

    @override
    def half_width(self, groups: Sizes) -> Array:
        low, high = self.limits(groups)
        return np.asarray((high - low) / 2)

    @override
    def confidence_kept(self, groups: Sizes) -> float:
        return confidence_by_search(self, groups)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return Interval("difference", "points", *self.limits(groups), self.confidence.level)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        return counts.draw_shares(population, count, sizes, (self.proportion1, self.proportion2))

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        (yes1, yes2), (n1, n2) = data.yes, data.of
        found = self._between(yes1 / n1, yes2 / n2, n1, n2)
        return self.narrow(interval_found(yes2 / n2 - yes1 / n1, *found))

    @property
    @override
    def truth(self) -> float:
        return self.proportion2 - self.proportion1


def _planned(number: int, place: str) -> Assumption:
    return Assumption(
        f"proportion{number}",
        f"Proportion in group {number}",
        "share",
        "Effect",
        f"The proportion that is expected in the {place} group.",
        words=f"Proportion, {{group{number}}}",
        symbol="p₁" if number == 1 else "p₂",
        low=0,
        high=1,
        required=True,
    )


@register
class PrecisionTwoProportions(Precise, TwoGroups):
    """The interval of the difference of two independent proportions."""

    id = "precision-two-proportions"
    title = "Precision of a difference of proportions: confidence interval"
    summary = "How far apart are the proportions of two independent groups, to within so many points?"
    smallest = 1
    in_protocol = InProtocol(
        BETWEEN,
        {"newcombe": "Newcombe interval", "wald": "Wald interval"},
        "its limits at the planned proportions",
        sided=False,
        cites={"newcombe": (NEWCOMBE,), "wald": (COCHRAN.at("chapter 4"),)},
    )
    evidence = evidence.SHARES_ALONE
    takes = {"measured": ("yes-no",), "compared": ("two",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "risk difference with interval",
        "newcombe",
        "margin of error",
        "confidence interval of a risk difference",
    )
    buys = "The study says how far apart two proportions are, to within so many points."
    assumptions = (
        replace(HALF_WIDTH_OF_SHARE, open_high=True, high=1),
        _planned(1, "first"),
        _planned(2, "second"),
        CONFIDENCE,
        method(
            "Newcombe: Wilson's limits of both groups put together, good at nearly all sizes. Wald: the textbook's, "
            "poor for rare events and few people.",
            Choice("newcombe", "Newcombe", "Newcombe"),
            Choice("wald", "Wald", "Wald"),
        ),
        UNUSED_CHANCE,
        TOTAL,
        *group_sizes(1),
        RATIO,
        BALANCE,
        DROPOUT,
    )
    starting = {"half_width": 0.1, "proportion1": 0.3, "proportion2": 0.4}
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
    )
    approximation = (
        "Newcombe's interval holds the true difference about as often as it says, Wald's less often for rare events. "
        "What is observed differs from what is planned, and the interval with it."
    )

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        p1, p2 = values["proportion1"], values["proportion2"]
        if values["method"] == "wald" and p1 in (0, 1) and p2 in (0, 1):
            raise RequestError("method", "With proportions of 0 or 100% Wald's interval has no width: take Newcombe's.")
        return SharesPrecisionPlan(**self.basis(values, find), proportion1=p1, proportion2=p2, method=values["method"])

    @override
    def estimated(self, values: Values) -> Estimated:
        of = "the difference between {proportion1} with {groups.1} and {proportion2} with {groups.2} ({method})"
        return Estimated(of).in_points

    @override
    def size_words(self, values: Values, find: str) -> str:
        return TwoGroups.size_words(self, values, find)

    @override
    def claim(self, values: Values) -> Claim:
        return Claim("", "", ("p₁ is the proportion with {groups.1}, p₂ the proportion with {groups.2}.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        if values["method"] == "wald":
            inside = row(Frac("p₁(1 − p₁)", "n₁"), " + ", Frac("p₂(1 − p₂)", "n₂"))
            return (row("w = ", Sub("z", "1−α/2"), Root(inside)),)
        below = row("p₂ − p₁ − ", Root("(p₂ − l₂)² + (u₁ − p₁)²"))
        above = row("p₂ − p₁ + ", Root("(u₂ − p₂)² + (p₁ − l₁)²"))
        return below, above, "lⱼ and uⱼ are Wilson's limits of pⱼ"

    @override
    def method_text(self, values: Values) -> str:
        return f"as half of the {self.in_protocol.test_in(values).partition(' ')[2]} at the planned proportions."
