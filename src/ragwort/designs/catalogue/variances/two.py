"""Two independent variances."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.variances.common import FURTHEST, NORMAL, near_one, power_of_ratio
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, claim, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import Saying, is_down, looking_for, or_more
from ragwort.designs.protocol import InProtocol
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import ARMITAGE_BERRY, JOHNSON_2
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import means, scatter
from ragwort.stats.variance_tests import TwoVariancesTest

_SD2 = Assumption(
    "sd2",
    "SD of group 2",
    "measured",
    "Effect",
    "The variability that you expect in the second group, or the one nearest to the first group's that would matter.",
    words="SD, {group2}",
    symbol="σ₂",
    low=0,
    open_low=True,
)
_RATIO = Assumption(
    "variance_ratio",
    "Ratio of variances",
    "number",
    "Effect",
    "The second variance over the first; a ratio of 4 is twice the standard deviation.",
    symbol="ρ",
    low=0,
    open_low=True,
)


@dataclass(frozen=True)
class TwoVariancesPlan(StatisticPlan):
    """`effect` is the logarithm of SD 2 over SD 1; `sd1` is None where only the ratio of variances is stated."""

    sd1: float | None

    something = "a ratio other than 1"
    effect_scale = 0.1
    traits = frozenset({"measured"})

    @override
    def furthest(self, up: bool) -> float:
        return FURTHEST if up else -FURTHEST

    @override
    def test(self, groups: Sizes) -> TwoVariancesTest:
        """Armitage, Berry and Matthews (2002), section 5.1."""
        n1, n2 = groups
        return TwoVariancesTest(np.exp(2 * np.asarray(self.effect)), n2 - 1, n1 - 1)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.Groups:
        sd1 = 1.0 if self.sd1 is None else self.sd1
        return means.draw_groups(population, count, sizes, (0.0, 0.0), (sd1, sd1 * float(np.exp(self.effect))), 0.0)

    @override
    def analyse(self, data: means.Groups, way: str = "") -> simulated.Found:
        return scatter.analyse_two_variances(data, self.sd1 or 1.0, self.sd1 is None, self.level)

    @property
    @override
    def nothing(self) -> float:
        return 1.0 if self.sd1 is None else self.sd1

    @override
    def effect_report(self) -> dict[str, Number]:
        ratio = {"variance_ratio": np.exp(2 * np.asarray(self.effect))}
        sd2 = {"sd2": (self.sd1 or 1.0) * np.exp(self.effect)}
        return {**ratio, **sd2} if self.sd1 is None else {**sd2, **ratio}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return near_one(float(np.exp(2 * self.effect)), self.sides)


@register
class TwoVariances(TwoGroups):
    """Two independent groups compared on their scatter."""

    id = "two-variances"
    title = "Two variances: F test"
    summary = "Does the variance of a measured outcome differ between two independent groups?"
    in_protocol = InProtocol(
        "The variance of {outcome} will be compared between {groups.1} and {groups.2}",
        "F test of two variances",
        "the F distribution",
        cites=(ARMITAGE_BERRY.at("section 5.1"), JOHNSON_2.at("chapter 27")),
    )
    evidence = evidence.TWO_SCATTERS
    takes = {"measured": ("number",), "compared": ("two",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "f test of variances",
        "variance ratio",
        "two standard deviations",
        "equality of variances",
        "heteroscedasticity between groups",
        "two independent variances",
    )
    buys = "It asks which group is the steadier, which a comparison of means passes over."
    assumptions = (
        _SD2,
        replace(
            _SD2,
            name="sd1",
            label="SD of group 1",
            help="The variability in the first group, mostly from records or earlier studies.",
            words="SD, {group1}",
            symbol="σ₁",
        ),
        _RATIO,
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        *group_sizes(2),
        RATIO,
        BALANCE,
        DROPOUT,
    )
    ways = ((Way("two SDs", ("sd1", "sd2")), Way("a ratio of variances", ("variance_ratio",))),)
    stands_alone = frozenset({"sd1"})
    elementwise = elementwise("sd2", "variance_ratio")
    starting = {"sd1": 10.0, "sd2": 15.0}
    derived = (Derived("Effect", "variance_ratio", "ratio of variances"),)
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        NORMAL,
    )
    approximation = "The calculation is exact where the outcome is normal in both groups."

    @override
    def comparison(self, values: Values, find: str) -> TwoVariancesPlan:
        return TwoVariancesPlan(**self.basis(values, find), sd1=values.get("sd1"))

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """The first SD is what a found second one stands on."""
        return super().unused_names(find) - {"sd1"}

    @override
    def stated_effect(self, values: Values) -> Number:
        if "sd1" not in values or "sd2" not in values:
            return np.log(values.get("variance_ratio", values.get("sd2", 1.0) ** 2)) / 2
        ratio = (values["sd2"] / values["sd1"]) ** 2
        return np.log(stated(values, "variance_ratio", ratio, "the two SDs make it")) / 2

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """A ratio as SDs on top of one of 10."""
        known = dict(values)
        if "sd1" in known and "sd2" in known:
            known.setdefault("variance_ratio", rounded((known["sd2"] / known["sd1"]) ** 2))
        elif "variance_ratio" in known:
            first = known.setdefault("sd1", 10.0)
            known["sd2"] = rounded(first * known["variance_ratio"] ** 0.5)
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """On top of the first SD, if that is known; otherwise it is a ratio."""
        if "sd1" not in values:
            return self.restate({"variance_ratio": effect}, way)
        return self.restate({"sd1": values["sd1"], "sd2": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "sd2"))
        if "sd1" in values:
            effect = (
                f"a difference between an SD of {{sd1}} with {{groups.1}} and one of {{sd2}}{more} with {{groups.2}}"
            )
        else:
            ratio = "{sd2}" if find == "effect" else "{variance_ratio}"
            effect = f"a ratio of variances of {ratio}{more}, {{groups.2}} to {{groups.1}}"
        looking = looking_for(values, "a larger variance with {groups.2}", "a smaller variance with {groups.2}")
        return Saying(self.size_words(values, find), effect, "a {sides} F test of two variances", looking)

    @override
    def claim(self, values: Values) -> Claim:
        where = "σ₁ is the standard deviation with {groups.1}, σ₂ the one with {groups.2}."
        return claim("σ₂/σ₁", "1", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        first = row("ρ = ", Frac("σ₂²", "σ₁²"), ",   ν₁ = n₂ − 1,   ν₂ = n₁ − 1")
        return first, power_of_ratio("F", "ν₁, ν₂", values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of two variances: under the planned variances its statistic is ρ times an F with n2 "
            "− 1 and "
            "n1 − 1 degrees of freedom, where ρ is the ratio of the second variance to the first."
        )
