"""The difference of two independent means with a wanted precision."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs import evidence
from ragwort.designs.assumption import DROPOUT, TOTAL
from ragwort.designs.catalogue.means.assumptions import SD, SD1, SD2
from ragwort.designs.catalogue.means.independent import VARIANCE, spreads, variance_by_default, variance_in
from ragwort.designs.catalogue.precision.common import (
    CHANCE,
    CONFIDENCE,
    GOAL,
    HALF_WIDTH,
    Estimated,
    Precise,
    chi_square_below,
    in_bounds,
    quantile_of_chi_square,
)
from ragwort.designs.design import Derived, Values, Way, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, Sub, row, variance_of_mean
from ragwort.designs.kinds.precision import PrecisionPlan
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import BETWEEN, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import COCHRAN, KUPPER_HAFNER, SATTERTHWAITE, WELCH
from ragwort.stats import simulated
from ragwort.stats.effects import pooled_sd
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means


@dataclass(frozen=True)
class MeansPrecisionPlan(PrecisionPlan):
    """Two groups with SDs `sd1`, `sd2`; the interval by t, by Welch's t, or by z."""

    sd1: float = 1.0
    sd2: float = 1.0
    variance: str = "equal"

    traits = frozenset({"measured", "arms"})
    reported = simulated.MOMENTS

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd1)

    def _parts(self, groups: Sizes) -> tuple[Array, Array]:
        n1, n2 = groups
        return np.asarray(self.sd1**2 / n1), np.asarray(self.sd2**2 / n2)

    def _error(self, groups: Sizes) -> Array:
        return np.asarray(np.sqrt(sum(self._parts(groups))))

    def _df(self, groups: Sizes) -> Array:
        """For unequal variances Satterthwaite, Biometrics Bulletin 2 (1946), pages 110-114."""
        n1, n2 = groups
        if self.variance == "equal":
            return np.asarray(n1 + n2 - 2)
        one, two = self._parts(groups)
        return np.asarray((one + two) ** 2 / (one**2 / (n1 - 1) + two**2 / (n2 - 1)))

    def _reach(self, groups: Sizes) -> Number:
        return self.confidence.z if self.variance == "known" else self.confidence.t(self._df(groups))

    @override
    def half_width(self, groups: Sizes) -> Array:
        return np.asarray(self._reach(groups) * self._error(groups))

    @override
    def chance(self, groups: Sizes) -> Array:
        """As of one mean, with the pooled variance; with unequal ones an approximation."""
        if self.variance == "known":
            return self._met(groups)
        df = self._df(groups)
        return np.asarray(chi_square_below(df * (self.effect / self.half_width(groups)) ** 2, df))

    @override
    def width_with_chance(self, groups: Sizes) -> Array:
        df = self._df(groups)
        return np.asarray(self.half_width(groups) * np.sqrt(quantile_of_chi_square(self.target, df) / df))

    @override
    def confidence_kept(self, groups: Sizes) -> float:
        df, error = self._df(groups), self._error(groups)
        if self.assured:
            error = error * np.sqrt(quantile_of_chi_square(self.target, df) / df)
        reach = self.effect / error
        found = 2 * (special.ndtr(reach) if self.variance == "known" else special.stdtr(df, reach)) - 1
        return in_bounds(float(np.ravel(found)[0]), float(self.effect))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.Groups:
        return means.draw_groups(population, count, sizes, (0.0, 0.0), (self.sd1, self.sd2), 0.0)

    @override
    def analyse(self, data: means.Groups, way: str = "") -> simulated.Found:
        return self.narrow(means.analyse_two_means(data, self.variance, (self.sd1, self.sd2), self.level))

    @property
    @override
    def truth(self) -> float:
        """Outcomes are drawn as distances from the mean of their group."""
        return 0.0

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {} if self.variance == "known" else {"df": self._df(groups)}


@register
class PrecisionTwoMeans(Precise, TwoGroups):
    """The interval of the difference of two independent means."""

    id = "precision-two-means"
    title = "Precision of a difference of means: confidence interval"
    summary = "How far apart are the means of two independent groups, to within so much?"
    has_goal = True
    in_protocol = InProtocol(
        BETWEEN,
        {"equal": "t interval", "unequal": "Welch t interval", "known": "z interval"},
        {
            "equal": "the t distribution",
            "unequal": "the t distribution with Satterthwaite's degrees of freedom",
            "known": "the normal distribution",
        },
        by="variance",
        sided=False,
        cites={
            "equal": (COCHRAN.at("chapter 2"), KUPPER_HAFNER),
            "unequal": (WELCH, SATTERTHWAITE),
            "known": (COCHRAN.at("chapter 2"),),
        },
    )
    evidence = evidence.SPREAD_OF_TWO
    takes = {"measured": ("number", "count"), "compared": ("two",), "same": ("once",), "whole": ("no",)}
    known_as = ("confidence interval of a difference", "margin of error", "estimate a difference", "pilot")
    buys = "The study says how far apart two groups are, to within a stated distance."
    assumptions = (
        HALF_WIDTH,
        SD,
        SD1,
        SD2,
        CONFIDENCE,
        VARIANCE,
        GOAL,
        CHANCE,
        TOTAL,
        *group_sizes(2),
        RATIO,
        BALANCE,
        DROPOUT,
    )
    ways = ((Way("one SD", ("sd",)), Way("an SD for each group", ("sd1", "sd2"))),)
    starting = {"half_width": 4.0, "sd": 10.0}
    derived = (Derived("Sample", "df", "degrees of freedom"),)
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is approximately normal in each group, or the groups are large enough for the means to be.",
    )
    approximation = (
        "The interval is exact where the outcome is normal with equal or known variances; Welch's is an approximation. "
        "In about half of studies the planned half width is exceeded."
    )

    @override
    def default_choice(self, name: str, values: Values) -> Any:
        return variance_by_default(values) if name == "variance" else super().default_choice(name, values)

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        (sd1, sd2), variance, assured = spreads(values), variance_in(values), self.is_assured(values)
        if assured and variance != "equal":
            raise RequestError("goal", "The half width can hold with a chance only where the variances are equal.")
        return MeansPrecisionPlan(**self.basis(values, find), assured=assured, sd1=sd1, sd2=sd2, variance=variance)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if "sd1" in known and "sd2" in known:
            known.setdefault("sd", float(pooled_sd(known["sd1"], known["sd2"])))
        elif "sd" in known:
            known["sd1"] = known["sd2"] = known["sd"]
        return known

    @override
    def estimated(self, values: Values) -> Estimated:
        supposing = ("the SDs are {sd1} and {sd2}",) if "sd" not in values else ("the SD is {sd}",)
        return Estimated("the difference between {groups.1} and {groups.2}", supposing)

    @override
    def size_words(self, values: Values, find: str) -> str:
        return TwoGroups.size_words(self, values, find)

    @override
    def claim(self, values: Values) -> Claim:
        return Claim("", "", ("μ₁ is the mean with {groups.1}, μ₂ the mean with {groups.2}.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        variance = variance_in(values)
        limit = Sub("z", "1−α/2") if variance == "known" else Sub("t", "1−α/2, ν")
        error = Root(row(variance_of_mean(1), " + ", variance_of_mean(2)))
        if variance == "equal":
            error = Root(row("σ²(", Frac("1", "n₁"), " + ", Frac("1", "n₂"), ")"))
        width = row("w = ", limit, " ", error)
        df: tuple[Expression, ...] = ("ν = n₁ + n₂ − 2",) if variance == "equal" else ()
        if not self.is_assured(values):
            return (*df, width)
        return *df, width, row("chance = P(χ²(ν) ≤ ν(", Frac("wanted half width", "w"), ")²)")

    @override
    def method_text(self, values: Values) -> str:
        return f"as half of the {self.in_protocol.test_in(values).partition(' ')[2]} of a difference of means."
