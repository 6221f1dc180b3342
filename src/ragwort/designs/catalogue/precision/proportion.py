"""One proportion with a wanted precision."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.base.patience import check
from ragwort.designs import evidence
from ragwort.designs.assumption import DROPOUT, TOTAL, Assumption, Choice, method, rounded
from ragwort.designs.catalogue.precision.common import (
    CONFIDENCE,
    DESIGN_EFFECT,
    HALF_WIDTH_OF_SHARE,
    POPULATION,
    UNUSED_CHANCE,
    Estimated,
    PreciseSample,
    confidence_by_search,
    interval_found,
    likely_counts,
)
from ragwort.designs.design import Derived, Values, Way, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, Sub, row
from ragwort.designs.kinds.precision import PrecisionPlan
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import InProtocol
from ragwort.designs.refusals import RequestError, plain_number, plain_percent
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import BROWN, CLOPPER_PEARSON, COCHRAN, WILSON
from ragwort.stats import limits, simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import counts

_FEW = 5  # with and without the event, under which the Wald interval is poor

_SHARE = Assumption(
    "share",
    "Of those enrolled, who count",
    "share",
    "Sample",
    "The share of those enrolled of whom the proportion is taken: for a sensitivity those who have the condition. All "
    "of them where the proportion is of everybody.",
    low=0,
    high=1,
    open_low=True,
    default=1.0,
)


@dataclass(frozen=True)
class SharePrecisionPlan(PrecisionPlan):
    """The interval of a proportion at its planned value; `lower` and `upper` are limits that are asked for instead."""

    proportion: float = 0.5
    method: str = "wilson"
    share: float = 1.0
    population: float = np.inf
    design_effect: float = 1.0
    lower: float | None = None
    upper: float | None = None

    estimated = "proportion"
    reported = simulated.YES

    @property
    @override
    def last_step(self) -> int:
        return int(min(self.counting.highest, self.population))

    def effective(self, groups: Sizes) -> Array:
        """The size of a simple random sample that says as much: Cochran (1977), chapter 4; Korn and Graubard (1998)."""
        n = groups[0]
        with np.errstate(divide="ignore"):
            left = 1.0 if np.isinf(self.population) else (self.population - n) / (self.population - 1)
            return np.asarray(n * self.share / (self.design_effect * np.asarray(left)))

    @property
    @override
    def met_words(self) -> str:
        if self.lower is not None:
            return "the lower limit will be at least that"
        return super().met_words if self.upper is None else "the upper limit will be at most that"

    def limits(self, groups: Sizes) -> tuple[Array, Array]:
        """At the planned proportion, of as many with the event as are expected."""
        return limits.BY_METHOD[self.method](self.proportion, self.effective(groups), np.asarray(self.alpha) / 2)

    @override
    def half_width(self, groups: Sizes) -> Array:
        low, high = self.limits(groups)
        return np.asarray((high - low) / 2)

    @override
    def is_met(self, groups: Sizes) -> Any:
        return self.is_narrow(*self.limits(groups))

    @override
    def is_narrow(self, low: Array, high: Array) -> Any:
        if self.lower is not None:
            return np.asarray(low >= self.lower)
        return np.asarray(high <= self.upper) if self.upper is not None else super().is_narrow(low, high)

    @override
    def chance(self, groups: Sizes) -> Array:
        """Over the counts that a simple random sample of the effective size, in whole people, may have."""
        return np.array([self._chance_at(float(size)) for size in np.ravel(self.effective(groups))])

    def _chance_at(self, size: float) -> float:
        check()
        if not np.isfinite(size):
            return 1.0
        of = max(round(size), 1)
        counts_of, chances = likely_counts(of, self.proportion)
        low, high = limits.BY_METHOD[self.method](counts_of / of, float(of), np.asarray(self.alpha) / 2)
        return float(chances[self.is_narrow(low, high)].sum())

    @override
    def confidence_kept(self, groups: Sizes) -> float:
        return confidence_by_search(self, groups)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return Interval("proportion", "points", *self.limits(groups), self.confidence.level)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        effective = float(self.effective(np.array([[float(sizes[0])]]))[0])
        people = max(round(effective), 1) if np.isfinite(effective) else sizes[0]
        return counts.draw_shares(population, count, (people,), (self.proportion,))

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        yes, of = data.yes[0], data.of[0]
        found = limits.BY_METHOD[self.method](yes / of, of, np.asarray(self.alpha) / 2)
        return self.narrow(interval_found(yes / of, *found))

    @property
    @override
    def truth(self) -> float:
        return self.proportion

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"half_width": self.effect}

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        effective = float(self.effective(groups)[0])
        return {"effective_n": effective} if np.isfinite(effective) else {}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if self.method != "wald":
            return []
        low, high = (float(np.ravel(each)[0]) for each in self.limits(groups))
        found = ["Wald's limits leave 0 to 1 here: take another method."] if low < 0 or high > 1 else []
        least = float(self.effective(groups)[0]) * min(self.proportion, 1 - self.proportion)
        if least < _FEW:
            found.append(
                f"Only {plain_number(least)} with or without the event: Wald's interval is poor, take another."
            )
        return found


@register
class PrecisionProportion(PreciseSample):
    """The interval of one proportion."""

    id = "precision-proportion"
    title = "Precision of a proportion: confidence interval"
    summary = "How large is a proportion, to within so many points?"
    in_protocol = InProtocol(
        "{subject} will be estimated as a proportion",
        {"wilson": "Wilson interval", "exact": "exact (Clopper-Pearson) interval", "wald": "Wald interval"},
        "its limits at the planned proportion",
        sided=False,
        cites={"wilson": (WILSON, BROWN), "exact": (CLOPPER_PEARSON, BROWN), "wald": (COCHRAN.at("chapter 4"),)},
    )
    evidence = evidence.SHARE_ALONE
    takes = {"measured": ("yes-no",), "compared": ("known",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "prevalence",
        "survey",
        "margin of error",
        "wilson",
        "clopper pearson",
        "rule of three",
        "freedom from a condition",
        "pilot",
        "finite population",
        "design effect",
        "sensitivity",
        "specificity",
    )
    buys = "The study says how common something is, to within so many points."
    assumptions = (
        replace(HALF_WIDTH_OF_SHARE, high=0.5, open_high=True),
        replace(
            HALF_WIDTH_OF_SHARE,
            name="lower_limit",
            label="Lower limit at least",
            help="What the lower confidence limit is to reach, in place of a half width: a sensitivity that is "
            "certainly above it.",
            symbol="",
            open_low=False,
            high=1,
        ),
        replace(
            HALF_WIDTH_OF_SHARE,
            name="upper_limit",
            label="Upper limit at most",
            help="What the upper confidence limit is to stay under, in place of a half width: with a proportion of 0 "
            "how rare something is that was never seen.",
            symbol="",
            high=1,
        ),
        Assumption(
            "proportion",
            "Proportion",
            "share",
            "Effect",
            "The proportion that is expected. Near 50% it needs the most people; where it is really far from that, a "
            "planned 50% wastes them.",
            symbol="p",
            low=0,
            high=1,
            required=True,
        ),
        CONFIDENCE,
        method(
            "Wilson: good at nearly all sizes. Exact: never less confidence than said, wider. Wald: the textbook's, "
            "poor for rare events and few people.",
            Choice("wilson", "Wilson", "Wilson"),
            Choice("exact", "exact", "exact"),
            Choice("wald", "Wald", "Wald"),
        ),
        UNUSED_CHANCE,
        replace(TOTAL, low=1),
        _SHARE,
        POPULATION,
        DESIGN_EFFECT,
        DROPOUT,
    )
    ways = (
        (
            Way("a half width", ("half_width",)),
            Way("a lower limit", ("lower_limit",)),
            Way("an upper limit", ("upper_limit",)),
        ),
    )
    starting = {"half_width": 0.05, "proportion": 0.3}
    derived = (Derived("Sample", "effective_n", "effective sample"),)
    data_assumptions = ("Observations of different participants are independent, but for the design effect.",)
    approximation = (
        "The exact interval holds the true proportion at least as often as it says; Wilson's about as often, Wald's "
        "less often for rare events. What is observed differs from what is planned, and the interval with it."
    )

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        p = values["proportion"]
        if values["method"] == "wald" and p in (0, 1):
            raise RequestError(
                "method", f"With a proportion of {plain_percent(p)} Wald's interval has no width: take another."
            )
        lower, upper = values.get("lower_limit"), values.get("upper_limit")
        asked = find == "n" and "half_width" not in values
        if asked and lower is not None and lower >= p:
            raise RequestError("lower_limit", f"The lower limit must be below the proportion, {plain_percent(p)}.")
        if asked and upper is not None and upper <= p:
            raise RequestError("upper_limit", f"The upper limit must be above the proportion, {plain_percent(p)}.")
        return SharePrecisionPlan(
            **self.basis(values, find),
            proportion=p,
            method=values["method"],
            share=values["share"],
            population=float(values.get("population", np.inf)),
            design_effect=values["design_effect"],
            lower=lower if asked else None,
            upper=upper if asked else None,
        )

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """The half width and both limits at the size that one of them asks for."""
        known = super().in_other_words(values)
        try:
            defaults = {each.name: each.default for each in self.assumptions if each.default is not None}
            plan = self.comparison({**defaults, **known}, "n")
        except (RequestError, KeyError):
            return known
        sizes = plan.smallest_sizes()
        if isinstance(plan, SharePrecisionPlan) and sizes is not None:
            low, high = (rounded(float(np.ravel(each)[0])) for each in plan.limits(sizes))
            found = {"half_width": rounded((high - low) / 2), "lower_limit": low, "upper_limit": high}
            known = {**found, **known}
        return known

    @override
    def estimated(self, values: Values) -> Estimated:
        of = "a proportion near {proportion} ({method})"
        if "half_width" not in values and "lower_limit" in values:
            return Estimated(of, (), "stays above {lower_limit}", "staying above {lower_limit}")
        if "half_width" not in values and "upper_limit" in values:
            return Estimated(of, (), "stays below {upper_limit}", "staying below {upper_limit}")
        return Estimated(of).in_points

    @override
    def claim(self, values: Values) -> Claim:
        return Claim("", "", ("p is the planned proportion, m the effective sample size.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        size = row("m = ", Frac("n · share", row("deff(N − n)/(N − 1)"))) if values.get("population") else None
        effective = size or row("m = ", Frac("n · share", "deff"))
        z = Sub("z", "1−α/2")
        by = {
            "wald": row("p ± ", z, Root(Frac("p(1 − p)", "m"))),
            "wilson": Frac(
                row("p + ", Frac("z²", "2m"), " ± z", Root(row(Frac("p(1 − p)", "m"), " + ", Frac("z²", "4m²")))),
                row("1 + ", Frac("z²", "m")),
            ),
            "exact": row("Beta⁻¹(α/2; mp, m − mp + 1) and Beta⁻¹(1 − α/2; mp + 1, m − mp)"),
        }
        return effective, by[values["method"]]

    @override
    def method_text(self, values: Values) -> str:
        return f"as half of the {self.in_protocol.test_in(values).partition(' ')[2]} at the planned proportion."
