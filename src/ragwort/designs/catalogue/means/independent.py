"""Two independent groups compared on a mean."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence, holding
from ragwort.designs.agreement import agree, stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, MEAN1, MEAN2, SD, SD1, SD2
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import (
    Claim,
    Expression,
    Frac,
    Root,
    Sup,
    claim,
    power_of_t,
    power_of_z,
    powers_of_equivalence,
    row,
    variance_of_mean,
)
from ragwort.designs.kinds import EdgedPlan, UnequalVariancesPlan
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.looks.reestimating import SD_OF_ALL
from ragwort.designs.margins import MARGIN_WAYS, MARGINS, WithMargins
from ragwort.designs.phrases import (
    IN_SDS,
    OF_VALUES,
    Aside,
    Saying,
    difference_of_means,
    looking_for,
)
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import BETWEEN, FROM_T, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.remarks import General
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.stated import in_sds, pooled_spread
from ragwort.designs.works import ARMITAGE_BERRY, COHEN, EQUIVALENCE, NONCENTRAL_T, SATTERTHWAITE, WELCH
from ragwort.stats import simulated
from ragwort.stats.effects import pooled_sd
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means
from ragwort.stats.statistic import NormalTest, Test, TTest

_FEW = 6  # in a group, under which Welch's degrees of freedom are rough
VARIANCE = Assumption(
    "variance",
    "Test",
    "choice",
    "Error rates",
    "Equal: the pooled t test, one variance for both groups. Unequal: Welch's t test, each group its own variance; "
    "an approximation, good from about 6 per group. Known: the z test, for an SD that is truly known.",
    choices=(
        Choice("equal", "t, equal variances", "t test"),
        Choice("unequal", "Welch, unequal variances", "Welch t test"),
        Choice("known", "z, known SD", "z test"),
    ),
)


_MEANS_COMPARED = "the mean with {groups.2}", "with {groups.1}"


@dataclass(frozen=True)
class TwoMeansPlan(EdgedPlan):
    """Two independent groups with SDs `sd1`, `sd2`; `effect` is mean 2 - mean 1 in the outcome's unit."""

    sd1: float
    sd2: float
    variance: str
    base: Number = 0.0  # the mean of the first group, where it is known

    traits = frozenset({"measured", "bounds", "arms"})

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd1)

    wrong_ways = {"unequal": "Welch's test all the same"}
    reported = simulated.MOMENTS

    @property
    @override
    def effect_scale(self) -> Number:
        return np.hypot(self.sd1, self.sd2)

    @override
    def test(self, groups: Sizes) -> Test:
        """Formulas in methods of section 4, two-means."""
        n1, n2 = groups
        part1, part2 = self.sd1**2 / n1, self.sd2**2 / n2
        noncentrality = self.effect / np.sqrt(part1 + part2)
        if self.variance == "known":
            return NormalTest(noncentrality)
        if self.variance == "equal":
            return TTest(noncentrality, n1 + n2 - 2)
        share1 = part1 / (part1 + part2)
        return TTest(noncentrality, 1 / (share1**2 / (n1 - 1) + (1 - share1) ** 2 / (n2 - 1)))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.Groups:
        effects, sds = (0.0, float(self.difference)), (self.sd1, self.sd2)
        return means.draw_groups(population, count, sizes, effects, sds, float(self.base))

    @override
    def seen(self, groups: Sequence[Array]) -> means.Groups:
        return means.Groups(tuple(each[None, :] for each in groups), (None,) * len(groups))

    @override
    def analyse(self, data: means.Groups, way: str = "") -> simulated.Found:
        shifted = means.Groups((data.values[0], data.values[1] - self.edge), data.kept)
        found = means.analyse_two_means(shifted, way or self.variance, (self.sd1, self.sd2), self.level)
        return self.from_nothing(found)

    @override
    def interval(self, groups: Sizes) -> Interval:
        return self.confidence.tested("difference", "measured", self.difference, self.replace(effect=1.0).test(groups))

    @override
    def effect_report(self) -> dict[str, Number]:
        d = self.difference / pooled_sd(self.sd1, self.sd2)
        return {"difference": self.difference, "d": d, **self.margin_report()}


@dataclass(frozen=True)
class WelchPlan(UnequalVariancesPlan, TwoMeansPlan):
    """The same with Welch's test."""

    wrong_ways = {"equal": "the pooled t test, as if both groups had one variance"}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        few = min(groups[:, 0]) < _FEW
        welch = "Welch's t test: the degrees of freedom are approximate (Satterthwaite)"
        off = f"{welch}, and with fewer than {_FEW} in a group the power may be off by several points."
        return [off if few else General(f"{welch}.")]


@register
class TwoMeans(WithLooks, WithMargins, TwoGroups):
    """Two independent groups compared on a mean."""

    id = "two-means"
    title = "Two independent means: t test"
    summary = "Does the mean of a measured outcome differ between two independent groups?"
    holds = holding.MEANS
    in_protocol = InProtocol(
        BETWEEN,
        {"equal": "two-sample t test", "unequal": "Welch t test", "known": "two-sample z test"},
        {
            "equal": FROM_T,
            "unequal": f"{FROM_T} with Satterthwaite's degrees of freedom",
            "known": "the normal distribution",
        },
        by="variance",
        cites={
            "equal": NONCENTRAL_T,
            "unequal": (COHEN.at("chapter 2"), WELCH, SATTERTHWAITE),
            "known": (ARMITAGE_BERRY,),
        },
        equivalence=EQUIVALENCE,
    )
    evidence = evidence.TWO_GROUPS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "student's t test",
        "independent samples t test",
        "unpaired t test",
        "two sample t test",
        "welch",
        "satterthwaite",
        "z test",
        "parallel groups",
        "between subjects",
    )
    buys = "Nobody is measured twice, so nothing carries over from one condition to the other."
    assumptions = (
        DIFFERENCE,
        MEAN1,
        MEAN2,
        SD,
        SD1,
        SD2,
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        VARIANCE,
        POWER,
        TOTAL,
        *group_sizes(2),
        RATIO,
        BALANCE,
        DROPOUT,
        *LOOKS,
    )
    ways = (
        (Way("one difference", ("difference",)), Way("two means", ("mean1", "mean2"))),
        (Way("one SD", ("sd",)), Way("an SD for each group", ("sd1", "sd2"))),
        MARGIN_WAYS,
    )
    statements = (in_sds("sd", pooled_spread), *TwoGroups.statements)
    elementwise = elementwise("difference", "mean1", "mean2", "sd", "sd1", "sd2")
    starting = {"difference": 5.0, "sd": 10.0}
    derived = (Derived("Effect", "d", "d"), Derived("Sample", "df", "degrees of freedom"))
    blinded = SD_OF_ALL
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is approximately normal in each group, or the groups are large enough for the means to be.",
    )
    accuracy_by = "variance"
    accuracies = {
        "equal": "The pooled t test is exact where the outcome is normal with equal variances.",
        "known": "The z test is exact where the outcome is normal and its SDs are truly known.",
        "unequal": "Welch's degrees of freedom are an approximation, good from about 6 per group.",
    }
    approximation = " ".join(accuracies.values())

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """The difference of two means from a mean and its reference."""
        if "mean" in values and "mean1" not in values and "difference" not in values:
            return {"mean1": values.get("null_mean", 0.0), "mean2": values["mean"]}
        return {}

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        sd1, sd2 = spreads(values)
        variance = self.variance(values)
        kind = WelchPlan if variance == "unequal" else TwoMeansPlan
        base = values.get("mean1", 0.0)
        plan = kind(**self.basis(values, find), sd1=sd1, sd2=sd2, variance=variance, base=base)
        return self.with_margin(plan, values, find)

    @override
    def stated_effect(self, values: Values) -> Number:
        apart = values["mean2"] - values["mean1"] if "mean1" in values else None
        return stated(values, "difference", apart, "mean2 − mean1 is")

    @override
    def default_choice(self, name: str, values: Values) -> Any:
        """Without a word on variances, two SDs mean Welch."""
        if name == "variance":
            return variance_by_default(values)
        return super().default_choice(name, values)

    def variance(self, values: Values) -> str:
        """The test used. Raises `RequestError`."""
        return variance_in(values)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = super().in_other_words(values)
        if "mean1" in known and "mean2" in known:
            known.setdefault("difference", known["mean2"] - known["mean1"])
        elif "difference" in known:
            known["mean1"] = known.get("mean1", 0.0)
            known["mean2"] = known["mean1"] + known["difference"]
        if "sd1" in known and "sd2" in known:
            known.setdefault("sd", float(pooled_sd(known["sd1"], known["sd2"])))
        elif "sd" in known:
            known["sd1"] = known["sd2"] = known["sd"]
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """On top of the first mean, which is what is known."""
        return self.restate({"mean1": values.get("mean1", 0.0), "difference": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        effect = difference_of_means(values, find)
        if "mean1" in values and "difference" not in values and find != "effect":
            effect = "a mean of {mean1} with {groups.1} against {mean2} with {groups.2}"
        spread: Aside = (("sd",), "SD {sd}")
        if "sd1" in values and "sd" not in values:
            spread = (("sd1", "sd2"), "SDs {sd1} and {sd2}")
        if self.hypothesis(values) != "difference":
            said = self.margin_saying(values, find, self.size_words(values, find), *_MEANS_COMPARED, (spread,))
            return replace(said, test=said.test.format(test="{variance}"))
        looking = looking_for(values, *OF_VALUES)
        aside = spread, IN_SDS
        return Saying(self.size_words(values, find), effect, "a {sides} {variance}", looking, aside=aside)

    @override
    def claim(self, values: Values) -> Claim:
        where = "μ₁ is the mean with {groups.1}, μ₂ the mean with {groups.2}."
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, "μ₂ − μ₁", where)
        return claim("μ₂ − μ₁", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """For Welch's test Satterthwaite, Biometrics Bulletin 2 (1946), pages 110-114."""
        part1, part2 = variance_of_mean(1), variance_of_mean(2)
        known = self.scatter_is_known(values)
        pooled = row("σ", Root(row(Frac("1", "n₁"), " + ", Frac("1", "n₂"))))
        error = pooled if self.variance(values) == "equal" else Root(row(part1, " + ", part2))
        df = () if known else (_df(self.variance(values), part1, part2),)
        if self.hypothesis(values) == "equivalence":
            return "Δ = μ₂ − μ₁", *df, *powers_of_equivalence(error, known)
        noncentrality = row("δ = ", Frac(self.apart(values, "μ₂ − μ₁"), error))
        power = power_of_z(values["sides"]) if known else power_of_t(values["sides"])
        return noncentrality, *self.edge_named(values), *df, power

    @override
    def scatter_is_known(self, values: Values) -> bool:
        return self.variance(values) == "known"

    @override
    def method_text(self, values: Values) -> str:
        tests = {
            "equal": "the pooled two-sample t test: under the planned difference its statistic follows a noncentral "
            "t distribution with n1 + n2 − 2 degrees of freedom",
            "unequal": "Welch's two-sample t test: under the planned difference its statistic is taken to follow a "
            "noncentral t distribution with Satterthwaite's degrees of freedom at the assumed SDs, which is an "
            "approximation",
            "known": "the two-sample z test with known standard deviations: under the planned difference its "
            "statistic is normal",
        }
        return f"for {tests[self.variance(values)]}. {self.tested_words(values, '√(SD1²/n1 + SD2²/n2)')}"


def _df(variance: str, part1: Expression, part2: Expression) -> Expression:
    if variance == "equal":
        return "ν = n₁ + n₂ − 2"
    both = ((part1, "₁"), (part2, "₂"))
    first, second = (Frac(Sup(row("(", part, ")"), "2"), f"n{index} − 1") for part, index in both)
    return row("ν = ", Frac(Sup(row("(", part1, " + ", part2, ")"), "2"), row(first, " + ", second)))


def variance_by_default(values: Values) -> str:
    """Without a word on variances, two SDs mean Welch."""
    return "unequal" if "sd1" in values and "sd" not in values else "equal"


def variance_in(values: Values) -> str:
    """As given, or by whether one SD or two are stated. Raises `RequestError`."""
    separate = "sd1" in values and "sd" not in values
    variance = str(values.get("variance", variance_by_default(values)))
    if variance == "equal" and separate and not agree(values["sd1"], values["sd2"]):
        raise RequestError(
            "variance",
            "The t test for equal variances needs equal SDs, but sd1 and sd2 differ: "
            "use unequal (Welch), or give one SD.",
        )
    return variance


def spreads(values: Values) -> tuple[float, float]:
    """The SDs of both groups. Raises `RequestError` where statements of them disagree."""
    if "sd" not in values:
        return values["sd1"], values["sd2"]
    for name in ("sd1", "sd2"):
        if name in values and not agree(values[name], values["sd"]):
            raise RequestError(
                name,
                f"{name} is {plain_number(values[name])}, but sd is {plain_number(values['sd'])}: "
                "give one SD, or one for each group.",
            )
    return values["sd"], values["sd"]
