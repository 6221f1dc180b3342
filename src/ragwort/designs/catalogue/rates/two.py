"""Two independent rates of events."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence, holding
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import (
    ALPHA,
    DIRECTION,
    DROPOUT,
    POWER,
    SIDES,
    TOTAL,
    Assumption,
    Choice,
    method,
    rounded,
)
from ragwort.designs.catalogue.rates.common import EXPOSURE
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import (
    Claim,
    Expression,
    Frac,
    Root,
    power_of_two_variances,
    powers_of_equivalence,
    row,
)
from ragwort.designs.kinds import EdgedPlan
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.looks.reestimating import RATE_OF_ALL
from ragwort.designs.margins import MARGIN_WAYS
from ragwort.designs.phrases import Saying, is_down, looking_for, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.ratio_margins import RATIO_MARGINS, WithRatioMargins
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import ZHU
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import rates
from ragwort.stats.statistic import NormalTest

_FEW = 10  # events expected in a group, under which the normal approximation is poor
_FURTHEST = 60.0  # logarithm of a rate ratio

_RATE2 = Assumption(
    "rate2",
    "Rate in group 2",
    "number",
    "Effect",
    "Events per participant and unit of time expected in the second group, such as falls a year, or the nearest to the "
    "first group's rate that would matter.",
    words="Rate, {group2}",
    symbol="λ₂",
    low=0,
    open_low=True,
    timed="per",
)
_RATE_RATIO = Assumption(
    "rate_ratio",
    "Rate ratio",
    "number",
    "Effect",
    "The second rate over the first: 0.7 is 30% fewer events.",
    symbol="RR",
    low=0,
    open_low=True,
)


@dataclass(frozen=True)
class TwoRatesPlan(EdgedPlan):
    """`effect` is the logarithm of rate 2 over rate 1, from the edge of the null hypothesis on."""

    rate1: float
    exposure: float
    dispersion: float
    method: str

    something = "a rate ratio other than 1"
    effect_scale = 0.1
    estimated, estimated_ratio = "log rate ratio", "rate ratio"
    traits = frozenset({"arms"})
    reported = simulated.EVENTS

    @override
    def furthest(self, up: bool) -> float:
        """At given sizes see `furthest_at`."""
        return _FURTHEST if up else -_FURTHEST

    def _means(self) -> tuple[float, Number]:
        """Events expected of one participant, by group."""
        first = self.rate1 * self.exposure
        return first, first * np.exp(self.difference)

    def _own(self, groups: Sizes) -> Number:
        """The variance of the log rate ratio under the planned effect."""
        (n1, n2), (m1, m2) = groups, self._means()
        return (1 / m1 + self.dispersion) / n1 + (1 / m2 + self.dispersion) / n2

    @override
    def interval(self, groups: Sizes) -> Interval:
        return self.confidence.through("rate ratio", "ratio", np.exp, self.difference, np.sqrt(self._own(groups)))

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Methods of section 13, two-rates."""
        (n1, n2), (m1, m2) = groups, self._means()
        own = self._own(groups)
        if self.method == "unpooled":
            return NormalTest(self.effect / np.sqrt(own))
        both = (n1 * m1 + n2 * m2) / (n1 + n2)
        pooled = (1 / both + self.dispersion) * (1 / n1 + 1 / n2)
        return NormalTest(self.effect / np.sqrt(pooled), np.sqrt(own / pooled), mean=self.effect, null_variance=pooled)

    @override
    def furthest_at(self, groups: Sizes, up: bool) -> float:
        """Down to one event in group 2, below which the formula's power rises falsely."""
        lowest = float(-np.log(self.rate1 * self.exposure * groups[1, 0])) - float(np.ravel(self.edge)[0])
        return _FURTHEST if up else min(lowest, -1e-12)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> rates.Events:
        first, second = self._means()
        return rates.draw_events(population, count, sizes, (first, float(second)), self.dispersion)

    @property
    @override
    def watched(self) -> float:
        return float(self.exposure)

    @override
    def seen(self, groups: Sequence[Array]) -> rates.Events:
        """Of each group the events of everybody."""
        return rates.Events((groups[0][None, :], groups[1][None, :]), (None, None))

    @override
    def analyse(self, data: rates.Events, way: str = "") -> simulated.Found:
        found = rates.analyse_events(data, self.dispersion, self.method, self.level)
        return found.against(float(np.ravel(self.edge)[0]), self.level) if self.edge else found

    @property
    @override
    def truth(self) -> float:
        """The logarithm of the rate ratio."""
        return float(np.ravel(self.difference)[0])

    @override
    def effect_report(self) -> dict[str, Number]:
        ratio = np.exp(np.asarray(self.difference))
        margin = {name: np.exp(value) for name, value in self.margin_report().items()}
        return {"rate2": self.rate1 * ratio, "rate_ratio": ratio, **margin}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        expected = min(float(np.ravel(n * m)[0]) for n, m in zip(groups, self._means(), strict=True))
        if expected >= _FEW:
            return [normal_approximation()]
        return [normal_approximation(f"here: a group expects {expected:.3g} events, fewer than {_FEW}")]


@register
class TwoRates(WithLooks, WithRatioMargins, TwoGroups):
    """Two independent groups compared on how often something happens."""

    id = "two-rates"
    title = "Two independent rates"
    summary = "Does the rate of recurrent events, such as falls, differ between two independent groups?"
    holds = holding.RATES
    in_protocol = InProtocol(
        "The rate of {outcome} will be compared between {groups.1} and {groups.2}",
        {
            "unpooled": "Wald test of the log rate ratio (unpooled variance)",
            "pooled": "test of the log rate ratio (pooled variance)",
        },
        FROM_NORMAL,
        cites=(ZHU,),
    )
    evidence = evidence.TWO_RATES
    takes = {"measured": ("count",), "compared": ("two",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "poisson rates",
        "negative binomial",
        "events per year",
        "incidence rate ratio",
        "falls",
        "exacerbations",
        "overdispersed counts",
    )
    buys = "Every event counts, also the second and third of one person, and few events are no obstacle as for means."
    smallest = 1
    assumptions = (
        _RATE2,
        _RATE_RATIO,
        replace(
            _RATE2,
            name="rate1",
            label="Rate in group 1",
            help="Events per participant and unit of time in the first group, mostly from records.",
            words="Rate, {group1}",
            symbol="λ₁",
            required=True,
        ),
        EXPOSURE,
        Assumption(
            "dispersion",
            "Negative binomial dispersion",
            "number",
            "Effect",
            "How much more the counts of people vary than chance alone makes them: variance μ + κμ². Zero: all have "
            "the same chance (Poisson). From the counts of earlier people: (variance − mean) / mean².",
            symbol="κ",
            low=0,
            default=0.0,
        ),
        *RATIO_MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Unpooled: each group its own variance, as the usual regression of counts has it. Pooled: the variance "
            "of both groups together under the null hypothesis.",
            Choice("unpooled", "unpooled", "test of rates with unpooled variance"),
            Choice("pooled", "pooled", "test of rates with pooled variance"),
        ),
        POWER,
        TOTAL,
        *group_sizes(1),
        RATIO,
        BALANCE,
        DROPOUT,
        *LOOKS,
    )
    ways = ((Way("a rate for each group", ("rate2",)), Way("a rate ratio", ("rate_ratio",))), MARGIN_WAYS)
    margin_methods = ("unpooled",)
    ratio_words = ("λ₂/λ₁", "rate ratio", "rate_ratio")
    elementwise = elementwise("rate2", "rate_ratio")
    starting = {"rate1": 1.0, "rate2": 1.4}
    derived = (Derived("Effect", "rate_ratio", "rate ratio"),)
    blinded = RATE_OF_ALL
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "Follow-up is equal for all, and events occur at a constant rate for each participant.",
        "Counts are negative binomial with variance μ + κμ², the dispersion κ the same in both groups (Poisson if 0).",
    )
    approximation = (
        "The logarithm of the rate ratio is taken to be normal, which is poor under about 10 events a group."
    )

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        own = {name: values[name] for name in ("rate1", "exposure", "dispersion", "method")}
        return self.ratio_plan(TwoRatesPlan(**self.basis(values, find), **own), values, find)

    @override
    def zero_effect(self, values: Values) -> dict[str, Any]:
        return {"rate2": values.get("rate1", 1.0)}

    @override
    def stated_effect(self, values: Values) -> Number:
        if "rate2" not in values:
            return np.log(values["rate_ratio"])
        ratio = values["rate2"] / values["rate1"]
        return np.log(stated(values, "rate_ratio", ratio, "the two rates make it"))

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if "rate2" in known:
            known.setdefault("rate_ratio", rounded(known["rate2"] / known["rate1"]))
        elif "rate_ratio" in known:
            known["rate2"] = rounded(known["rate_ratio"] * known.get("rate1", 1.0))
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        return self.restate({"rate1": values.get("rate1", 1.0), "rate2": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "rate2"))
        if "rate_ratio" in values and "rate2" not in values and find != "effect":
            effect = "a rate ratio of {rate_ratio}, {groups.2} to {groups.1} with a rate of {rate1}"
        else:
            effect = f"a difference between a rate of {{rate1}} with {{groups.1}} and {{rate2}}{more} with {{groups.2}}"
        apart = "; negative binomial dispersion {dispersion}" if values.get("dispersion") else ""
        looking = looking_for(values, "more events with {groups.2}", "fewer events with {groups.2}")
        aside = ((), f"follow-up {{exposure}}{apart}")
        if self.hypothesis(values) != "difference":
            return self.ratio_saying(values, find, self.size_words(values, find), (aside,))
        return Saying(self.size_words(values, find), effect, "a {sides} {method}", looking, aside=(aside,))

    @override
    def claim(self, values: Values) -> Claim:
        where = "λ₁ is the rate with {groups.1}, λ₂ the rate with {groups.2}."
        return self.ratio_claim(values, where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        first, second = (row("(", Frac("1", f"μ{i}"), " + κ) ", Frac("1", f"n{i}")) for i in "₁₂")
        means = row("Δ = ln(", Frac("λ₂", "λ₁"), "),   μ₁ = λ₁ T,   μ₂ = λ₂ T")
        own = row("V₁ = ", first, " + ", second)
        if values["method"] == "unpooled":
            if self.hypothesis(values) == "equivalence":
                return means, own, *powers_of_equivalence(Root("V₁"), known=True)
            apart = self.apart(values, "Δ")
            power = power_of_two_variances(values["sides"], f"({apart})" if "−" in apart else apart)
            return means, own, "V₀ = V₁", *self.edge_named(values), power
        mean = row("μ̄ = ", Frac("n₁μ₁ + n₂μ₂", "N"))
        pooled = row("V₀ = (", Frac("1", "μ̄"), " + κ)(", Frac("1", "n₁"), " + ", Frac("1", "n₂"), ")")
        return means, own, mean, pooled, power_of_two_variances(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        pooled = "the pooled variance under the null hypothesis and " if values["method"] == "pooled" else ""
        return (
            f"for the test of a rate ratio on the logarithmic scale, with {pooled}the separate variances of the two "
            "groups under the alternative, as a normal approximation; counts are Poisson, or negative binomial where "
            f"counts are overdispersed.{self.both_words(values)}"
        )
