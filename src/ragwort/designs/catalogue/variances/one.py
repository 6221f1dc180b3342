"""One variance against a known one."""

from __future__ import annotations

from dataclasses import dataclass, replace

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption
from ragwort.designs.catalogue.variances.common import FURTHEST, NORMAL, near_one, power_of_ratio
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, claim, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import Saying, is_down, looking_for, or_more
from ragwort.designs.protocol import InProtocol
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import ARMITAGE_BERRY, JOHNSON_1
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import means, scatter
from ragwort.stats.variance_tests import OneVarianceTest

_SD = Assumption(
    "sd",
    "Standard deviation",
    "measured",
    "Effect",
    "The variability that you expect, or the one nearest to the reference that would matter: of a new "
    "instrument, a new "
    "process, trained raters.",
    symbol="σ",
    low=0,
    open_low=True,
)


@dataclass(frozen=True)
class OneVariancePlan(StatisticPlan):
    """`effect` is the logarithm of the SD over the reference SD."""

    null_sd: float

    something = "an SD other than the reference"
    effect_scale = 0.1
    traits = frozenset({"measured"})

    @override
    def furthest(self, up: bool) -> float:
        return FURTHEST if up else -FURTHEST

    @override
    def test(self, groups: Sizes) -> OneVarianceTest:
        """Armitage, Berry and Matthews (2002), section 5.1."""
        return OneVarianceTest(np.exp(2 * np.asarray(self.effect)), groups[0] - 1)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.OneSample:
        drawn = population.outcomes(0.0, float(np.exp(self.effect)), (count, sizes[0]))
        return means.OneSample(self.null_sd * drawn, population.kept(drawn), 0.0)

    @override
    def analyse(self, data: means.OneSample, way: str = "") -> simulated.Found:
        return scatter.analyse_one_variance(data, self.null_sd, self.level)

    @property
    @override
    def nothing(self) -> float:
        return self.null_sd

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"sd": self.null_sd * np.exp(self.effect), "variance_ratio": np.exp(2 * np.asarray(self.effect))}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return near_one(float(np.exp(2 * self.effect)), self.sides)


@register
class OneVariance(OneSample):
    """One group's variance against a known one."""

    id = "one-variance"
    title = "One variance: chi-square test"
    summary = "Does the variance of a measured outcome differ from a known value?"
    in_protocol = InProtocol(
        "The variance of {outcome} will be compared with the reference",
        "chi-square test of one variance",
        "the chi-square distribution",
        cites=(ARMITAGE_BERRY.at("section 5.1"), JOHNSON_1.at("chapter 18")),
    )
    evidence = evidence.ONE_SCATTER
    takes = {"measured": ("number",), "compared": ("known",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "chi-square test of a variance",
        "one standard deviation",
        "precision of an instrument",
        "repeatability of a measurement",
        "variability against a standard",
    )
    buys = "It asks about variances, which a comparison of means passes over."
    assumptions = (
        _SD,
        replace(
            _SD,
            name="null_sd",
            label="Reference SD",
            help="The variability without an effect: what a standard, a maker or many earlier measurements say.",
            symbol="σ₀",
            required=True,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        DROPOUT,
    )
    smallest = 2
    ways = ((Way("an SD", ("sd",)),),)
    elementwise = elementwise("sd", "null_sd")
    starting = {"sd": 14.0, "null_sd": 10.0}
    derived = (Derived("Effect", "variance_ratio", "ratio of variances"), Derived("Sample", "df", "degrees of freedom"))
    data_assumptions = ("Observations of different participants are independent.", NORMAL)
    approximation = "The calculation is exact where the outcome is normal."

    @override
    def comparison(self, values: Values, find: str) -> OneVariancePlan:
        return OneVariancePlan(**self.basis(values, find), null_sd=values["null_sd"])

    @override
    def stated_effect(self, values: Values) -> Number:
        return np.log(values["sd"] / values["null_sd"])

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "sd"))
        effect = f"a standard deviation of {{sd}}{more} against one of {{null_sd}}"
        looking = looking_for(values, "a larger variance", "a smaller variance")
        return Saying("{n}", effect, "a {sides} chi-square test of one variance", looking)

    @override
    def claim(self, values: Values) -> Claim:
        where = "σ is the standard deviation in the population."
        return claim("σ", f"{values['null_sd']:g}", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        return row("ρ = ", Frac("σ²", "σ₀²"), ",   ν = n − 1"), power_of_ratio("χ²", "ν", values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the chi-square test of one variance: under the planned standard deviation its statistic is ρ times a "
            "chi-square with n − 1 degrees of freedom, where ρ is the ratio of the two variances."
        )
