"""Two independent proportions."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence, holding
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, method
from ragwort.designs.catalogue.proportions.apart import (
    MARGINS_OF_SHARES,
    METHODS,
    SCORE,
    ApartPlan,
    formulas_apart,
)
from ragwort.designs.catalogue.proportions.apart import METHOD_TEXTS as APART_TEXTS
from ragwort.designs.catalogue.proportions.common import ARCSINE, TwoShares, proportion
from ragwort.designs.catalogue.proportions.fisher import FisherPlan
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_two_variances, power_of_z, row
from ragwort.designs.kinds import StatisticPlan, TwoTestsPlan
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.looks.reestimating import SHARE_OF_ALL
from ragwort.designs.margins import MARGIN_WAYS, WithMargins
from ragwort.designs.phrases import OF_SHARES, Saying, difference_of_shares, looking_for
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import BETWEEN, FROM_NORMAL, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.stated import RATIOS_OF_SHARES
from ragwort.designs.works import COHEN, FARRINGTON, FISHER, FLEISS
from ragwort.stats.effects import h_of
from ragwort.stats.fisher import LARGEST_GROUP
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest, Test

_FLEISS = (FLEISS.at("chapter 4"), COHEN.at("chapter 6"))
_FEW = 5  # expected in a cell, under which a normal approximation is poor


@dataclass(frozen=True)
class TwoProportionsPlan(TwoShares, StatisticPlan):
    """The z test with pooled or unpooled variance, and the test on the arcsine scale: normal approximations."""

    def inflated(self, groups: Sizes) -> tuple[Any, Any]:
        """The participants of each group, and how much larger their variance is than that of independent ones."""
        return groups, (1.0, 1.0)

    def variances(self, groups: Sizes) -> tuple[Any, Any]:
        """The variance of the difference under the null hypothesis, pooled or not, and under the planned effect."""
        (n, inflated), p1, p2 = self.inflated(groups), self.proportion1, self.planned
        each1, each2 = inflated[0] / n[0], inflated[1] / n[1]
        own = p1 * (1 - p1) * each1 + p2 * (1 - p2) * each2
        if self.method == "unpooled":
            return own, own
        mean = (n[0] * p1 + n[1] * p2) / (n[0] + n[1])
        return mean * (1 - mean) * (each1 + each2), own

    @override
    def test(self, groups: Sizes) -> Test:
        """Fleiss, Levin and Paik (2003), section 4.2."""
        (n1, n2), p1, p2 = groups, self.proportion1, self.planned
        if self.method == "arcsine":
            return NormalTest(h_of(p1, p2) * np.sqrt(n1 * n2 / (n1 + n2)))
        null, own = self.variances(groups)
        if self.method == "unpooled":
            return NormalTest(self.effect / np.sqrt(own))
        return NormalTest(self.effect / np.sqrt(null), np.sqrt(own / null), mean=self.effect, null_variance=null)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        p1, p2 = self.proportion1, float(self.planned)
        n1, n2 = groups[0, 0], groups[1, 0]
        fewest = min(n1 * p1, n1 * (1 - p1), n2 * p2, n2 * (1 - p2))
        if fewest < _FEW:
            count = plain_number(round(fewest, 2))
            return [normal_approximation(f"here: an expected count is {count}, under {_FEW}")]
        return [normal_approximation()]


def two_proportions_effect() -> tuple[Assumption, Assumption]:
    """Proportion 2 (the primary effect) and proportion 1."""
    return (
        proportion(
            "proportion2",
            "Proportion in group 2",
            "The proportion with the event expected in the second group, or the nearest to the first group's that "
            "would change what people do.",
            "p₂",
            words="Proportion, {group2}",
        ),
        proportion(
            "proportion1",
            "Proportion in group 1",
            "The proportion with the event in the first group, mostly from records or earlier studies. The nearer "
            "it is to 50%, the more people a given difference takes.",
            "p₁",
            words="Proportion, {group1}",
            required=True,
        ),
    )


POOLED = Choice("pooled", "pooled", "z test for two proportions (pooled variance)")
UNPOOLED = Choice("unpooled", "unpooled", "z test for two proportions (unpooled variance)")
METHOD_TEXTS = {
    "pooled": "for the z test of two proportions with the pooled variance under the null "
    "hypothesis and the separate variances under the alternative, as a normal approximation.",
    "unpooled": "for the z test of two proportions with separate variances throughout, as a normal approximation.",
    "arcsine": "on the arcsine scale, h = 2 arcsin √p₂ − 2 arcsin √p₁, on which the proportions "
    "are taken to be normal.",
    "fisher": "for Fisher's exact test by summing the probabilities of all pairs of counts whose "
    "p-value is at most alpha. " + COUNTS_UP,
}


WHERE_SHARES = "π₁ is the proportion with {groups.1}, π₂ the proportion with {groups.2}."


def formulas_of_shares(method: str, sides: str, inflated: str = "") -> tuple[Expression, ...]:
    """The formulas of a test of two proportions; variances are multiplied by what `inflated` names."""
    if method == "fisher":
        sums = "1 − β = Σ P(X₁ = x₁) P(X₂ = x₂), over all pairs of counts whose p-value is at most α"
        return sums, "X₁ is binomial (n₁, π₁), X₂ is binomial (n₂, π₂)"
    if method == "arcsine":
        root = Root(Frac("n₁ n₂", row(f"{inflated}(n₁ + n₂)" if inflated else "n₁ + n₂")))
        return row("δ = (2 arcsin ", Root("π₂"), " − 2 arcsin ", Root("π₁"), ") ", root), power_of_z(sides)
    own = row(inflated, "(", Frac("π₁(1 − π₁)", "n₁"), " + ", Frac("π₂(1 − π₂)", "n₂"), ")")
    if method == "unpooled":
        return row("δ = ", Frac("π₂ − π₁", Root(own))), power_of_z(sides)
    pooled = row(inflated, "π̄(1 − π̄)(", Frac("1", "n₁"), " + ", Frac("1", "n₂"), ")")
    mean = row("π̄ = ", Frac("n₁π₁ + n₂π₂", "n₁ + n₂"))
    variances = row("Δ = π₂ − π₁,   V₀ = ", pooled, ",   V₁ = ", own)
    return mean, variances, power_of_two_variances(sides)


def no_difference(values: Values, find: str) -> None:
    """Refuse equal proportions where a sample size is asked for. Raises `RequestError`."""
    if find == "n" and values["proportion1"] == values["proportion2"]:
        raise RequestError(
            "proportion2",
            f"Both proportions are {plain_number(values['proportion1'])}: there is no effect to detect.",
        )


def difference_of_proportions(values: Values) -> Number:
    """Proportion 2 less proportion 1."""
    return values["proportion2"] - values["proportion1"]


@register
class TwoProportions(WithLooks, WithMargins, TwoGroups):
    """Two independent groups compared on a proportion."""

    id = "two-proportions"
    title = "Two independent proportions"
    summary = "Does the proportion with an event differ between two independent groups?"
    margin_words = "{margin.points}"
    holds = holding.SHARES
    in_protocol = InProtocol(
        BETWEEN,
        {
            "pooled": "z test for two proportions (pooled variance, no continuity correction)",
            "unpooled": "z test for two proportions (unpooled variance, no continuity correction)",
            "arcsine": "z test for two proportions on the arcsine scale",
            "fisher": "Fisher exact test",
            "score": "score test (Farrington and Manning)",
        },
        {
            "pooled": FROM_NORMAL,
            "unpooled": FROM_NORMAL,
            "arcsine": FROM_NORMAL,
            "fisher": "exact binomial probabilities",
            "score": FROM_NORMAL,
        },
        cites={
            "pooled": _FLEISS,
            "unpooled": _FLEISS,
            "arcsine": (COHEN.at("chapter 6"),),
            "fisher": (FISHER.at("section 21.02"),),
            "score": (FARRINGTON,),
        },
    )
    evidence = evidence.TWO_SHARES
    takes = {
        "measured": ("yes-no",),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "fisher exact",
        "chi-square two by two",
        "risk difference",
        "relative risk",
        "odds ratio",
        "percentages",
        "response rates",
        "event rates",
        "arcsine",
    )
    buys = "A binary outcome is easy to record and to explain, and needs more people than a measured one."
    smallest = 1
    assumptions = (
        *two_proportions_effect(),
        *MARGINS_OF_SHARES,
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Pooled: the usual z (or chi-square) test. Unpooled: each group its own variance. Arcsine: a scale with "
            "constant variance. Fisher: exact, never above the alpha stated, and so a little less powerful. Against a "
            "margin: unpooled, or score, which takes the variance on the margin.",
            POOLED,
            UNPOOLED,
            ARCSINE,
            Choice("fisher", "Fisher's exact", "Fisher's exact test"),
            SCORE,
        ),
        POWER,
        TOTAL,
        *group_sizes(1),
        RATIO,
        BALANCE,
        replace(N_RULE, help="Of Fisher's exact test only. " + N_RULE.help),
        DROPOUT,
        *LOOKS,
    )
    looked_by = {"method": ("pooled", "unpooled", "arcsine")}
    ways = ((Way("a proportion for each group", ("proportion2",)),), MARGIN_WAYS)
    answered_as = ("risk_ratio", "odds_ratio")
    statements = (*RATIOS_OF_SHARES, *TwoGroups.statements)
    equivalence = TwoTestsPlan
    elementwise = elementwise("proportion1", "proportion2")
    by_counts = frozenset({"fisher"})
    starting = {"proportion1": 0.3, "proportion2": 0.45}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "risk_ratio", "risk ratio"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        Derived("Effect", "h", "h"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    blinded = SHARE_OF_ALL
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is binary.",
    )
    _normal = "Pooled, unpooled and arcsine are normal approximations, poor where an expected count is under 5."
    accuracies = {
        "fisher": "Power is exact, summed table by table; the two-sided test rejects by the probabilities of tables.",
        "pooled": "Pooled variance is a normal approximation, poor where an expected count is under 5.",
        "unpooled": "Unpooled variance is a normal approximation, poor where an expected count is under 5.",
        "arcsine": "The arcsine scale is a normal approximation, poor where an expected count is under 5.",
        "score": "The score test is a normal approximation, poor where an expected count is under 5.",
    }
    approximation = f"{accuracies['fisher']} {_normal}"

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """A reference that is an estimate is the proportion of a first group."""
        if "proportion" in values and "null_proportion" in values:
            return {"proportion1": values["null_proportion"], "proportion2": values["proportion"]}
        return {}

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        method = values["method"]
        if self.hypothesis(values) != "difference":
            if method not in METHODS:
                raise RequestError("method", "Against a margin the method is unpooled or score.")
            basis = self.basis(values, "power" if find == "margin" else find)
            plan = ApartPlan(**basis, proportion1=values["proportion1"], method=method)
            return self.with_margin(plan, values, find)
        if method == "score":
            raise RequestError("method", "The score method is for hypotheses with a margin: use pooled or unpooled.")
        no_difference(values, find)
        own = {**self.basis(values, find), "proportion1": values["proportion1"], "method": values["method"]}
        return FisherPlan(**own, n_rule=values["n_rule"]) if values["method"] == "fisher" else TwoProportionsPlan(**own)

    @override
    def stated_effect(self, values: Values) -> Number:
        return difference_of_proportions(values)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """Fisher's test is not done for very large groups."""
        ways = super().given_sizes(values, plan)
        if values["method"] == "fisher" and max(float(way.max()) for way in ways) > LARGEST_GROUP:
            raise RequestError(
                "n1" if "n1" in values else "n",
                f"Fisher's exact test is computed for up to {plain_number(LARGEST_GROUP)} per group: "
                "use the pooled method, which agrees with it there.",
            )
        return ways

    @override
    def zero_effect(self, values: Values) -> dict[str, Any]:
        return {"proportion2": values["proportion1"]} if "proportion1" in values else {}

    @override
    def default_choice(self, name: str, values: Values) -> Any:
        """Against a margin unpooled."""
        if name == "method" and self.hypothesis(values) != "difference":
            return "unpooled"
        return super().default_choice(name, values)

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        return {**super().implied(values), "method": self.default_choice("method", values)}

    @override
    def true_effect(self, values: Values, find: str) -> str:
        return "the true proportions are {proportion1} and {proportion2}"

    @override
    def saying(self, values: Values, find: str) -> Saying:
        if self.hypothesis(values) != "difference":
            compared = "the proportion with {groups.2}", "with {groups.1}"
            said = self.margin_saying(values, find, self.size_words(values, find), *compared)
            return replace(said, test=said.test.format(test="{method}"))
        test = "{method} ({sides})" if values["method"] == "fisher" else "a {sides} {method}"
        looking = looking_for(values, *OF_SHARES)
        return Saying(self.size_words(values, find), f"{difference_of_shares(values, find)} (h = {{h}})", test, looking)

    @override
    def claim(self, values: Values) -> Claim:
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, "π₂ − π₁", WHERE_SHARES)
        return claim("π₂ − π₁", "0", values["sides"], WHERE_SHARES)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        if self.hypothesis(values) != "difference":
            return formulas_apart(values["method"], values["sides"], self.hypothesis(values))
        return formulas_of_shares(values["method"], values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        if self.hypothesis(values) != "difference":
            return APART_TEXTS[values["method"]] + self.both_words(values)
        return METHOD_TEXTS[values["method"]]
