"""One proportion against a known one."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

from typing_extensions import override

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Choice, method
from ragwort.designs.catalogue.proportions.against import (
    MARGINS,
    METHODS,
    AgainstPlan,
    ExactAgainstPlan,
    ExactBetweenPlan,
    formulas_against,
    need_edges_inside,
)
from ragwort.designs.catalogue.proportions.common import ARCSINE, proportion
from ragwort.designs.catalogue.proportions.plans import ArcsinePlan, BinomialPlan, ScorePlan
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_two_variances, power_of_z, row
from ragwort.designs.kinds import EdgedPlan, EquivalencePlan, TwoTestsPlan
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.margins import MARGIN_WAYS, WithMargins
from ragwort.designs.phrases import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_NORMAL, WITH_REFERENCE, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sampling import OneSample
from ragwort.designs.works import COHEN, FLEISS
from ragwort.stats.noncentral import Number

_FLEISS = (FLEISS.at("chapter 2"),)


@register
class OneProportion(WithLooks, WithMargins, OneSample):
    """One proportion against a known one."""

    id = "one-proportion"
    title = "One proportion: binomial test"
    summary = "Does the proportion with an event differ from a known value?"
    margin_words = "{margin.points}"
    in_protocol = InProtocol(
        WITH_REFERENCE,
        {"exact": "exact (central) binomial test", "score": "score test", "arcsine": "z test on the arcsine scale"},
        {"exact": "exact binomial probabilities", "score": FROM_NORMAL, "arcsine": FROM_NORMAL},
        cites={"exact": _FLEISS, "score": _FLEISS, "arcsine": (COHEN.at("chapter 6"),)},
    )
    evidence = evidence.ONE_SHARE
    takes = {
        "measured": ("yes-no",),
        "compared": ("known",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "binomial test",
        "single proportion",
        "one sample proportion",
        "exact binomial",
        "score test",
        "percentage against a norm",
        "response rate",
    )
    buys = "One group is enough, because the share to compare with is known without error."
    assumptions = (
        proportion(
            "proportion",
            "Proportion",
            "The proportion with the event that you expect, or the nearest to the reference that would matter. "
            "Take it from records or a pilot; a pilot of 20 people can easily be 20 points off.",
            "p",
        ),
        proportion(
            "null_proportion",
            "Reference proportion",
            "The share to compare with: a norm, a limit, an agreed standard. It must be known, not estimated: a share "
            "that was itself measured in a sample belongs to a second group.",
            "p₀",
            required=True,
        ),
        *MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Exact: the binomial test, whose actual alpha is never above the one stated. Score and arcsine: normal "
            "approximations, for comparison and for large samples.",
            Choice("exact", "exact binomial", "exact binomial test"),
            Choice("score", "score", "score test"),
            ARCSINE,
        ),
        POWER,
        TOTAL,
        N_RULE,
        DROPOUT,
        *LOOKS,
    )
    looked_by = {"method": ("score",)}
    ways = ((Way("a proportion", ("proportion",)),), MARGIN_WAYS)
    elementwise = elementwise("proportion", "null_proportion")
    equivalence = TwoTestsPlan
    by_counts = frozenset({"exact"})
    starting = {"proportion": 0.6, "null_proportion": 0.5}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "h", "h"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = (
        "Observations of different participants are independent.",
        "The outcome is binary, with the same probability of the event for all.",
    )
    accuracies = {
        "exact": "The binomial probabilities are exact; the two-sided test is central (equal-tailed).",
        "score": "The score test is a normal approximation.",
        "arcsine": "The arcsine scale is a normal approximation.",
    }
    approximation = " ".join(accuracies.values())

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """The first group's proportion as if it were known."""
        if "proportion1" in values and "proportion2" in values:
            return {"null_proportion": values["proportion1"], "proportion": values["proportion2"]}
        return {}

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        if self.hypothesis(values) != "difference":
            return self._against(values, find)
        null = values["null_proportion"]
        if find == "n" and values["proportion"] == null:
            raise RequestError(
                "proportion",
                f"The proportion equals the reference ({plain_number(null)}): there is no effect to detect.",
            )
        basis = self.basis(values, find)
        if values["method"] == "exact":
            return BinomialPlan(**basis, null=null, n_rule=values["n_rule"])
        kind = ScorePlan if values["method"] == "score" else ArcsinePlan
        return kind(**basis, null=null)

    def _against(self, values: Values, find: str) -> Plan:
        """The plan of a hypothesis with a margin. Raises `RequestError`."""
        base, exact = values["null_proportion"], values["method"] == "exact"
        if values["method"] not in METHODS:
            raise RequestError("method", "Against a margin the method is exact or score.")
        basis = self.basis(values, "power" if find == "margin" else find)
        edged = (
            ExactAgainstPlan(**basis, base=base, n_rule=values["n_rule"]) if exact else AgainstPlan(**basis, base=base)
        )
        plan = self.with_margin(edged, values, find)
        if isinstance(plan, EquivalencePlan) and find != "margin":
            two = "margin_low" in values
            need_edges_inside(base, plan.low, plan.high, ("margin_low", "margin_high") if two else ("margin", "margin"))
        elif isinstance(plan, EdgedPlan) and find != "margin":
            need_edges_inside(base, plan.edge, None, ("margin", "margin"))
        if isinstance(plan, EquivalencePlan) and exact:
            own = {each.name: getattr(plan, each.name) for each in fields(plan)}
            return ExactBetweenPlan(**own, n_rule=values["n_rule"])
        return plan

    @override
    def zero_effect(self, values: Values) -> dict[str, Any]:
        return {"proportion": values["null_proportion"]} if "null_proportion" in values else {}

    @override
    def true_effect(self, values: Values, find: str) -> str:
        return "the true proportion is {proportion}"

    @override
    def stated_effect(self, values: Values) -> Number:
        return values["proportion"] - values["null_proportion"]

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (Naming("reference", "Reference", ("the reference",)),)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        if self.hypothesis(values) != "difference":
            compared = "the proportion", "{reference.1} of {null_proportion}"
            said = self.margin_saying(values, find, "{n}", *compared)
            return replace(said, test=said.test.format(test="{method}"))
        more = or_more(find, is_down(values, find, "-"))
        effect = f"a proportion of {{proportion}}{more} against {{reference.1}} of {{null_proportion}}"
        looking = looking_for(values, "a higher proportion", "a lower proportion")
        return Saying("{n}", effect, "a {sides} {method}", looking)

    @override
    def claim(self, values: Values) -> Claim:
        reference, where = f"{values['null_proportion']:g}", "π is the proportion in the population."
        if self.hypothesis(values) != "difference":
            return self.margin_claim(values, f"π − {reference}", where)
        return claim("π", reference, values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        sides = values["sides"]
        if self.hypothesis(values) != "difference":
            return formulas_against(values["method"], sides, self.hypothesis(values))
        if values["method"] == "arcsine":
            return row("δ = (2 arcsin ", Root("π"), " − 2 arcsin ", Root("π₀"), ") ", Root("n")), power_of_z(sides)
        if values["method"] == "score":
            spread = row("Δ = π − π₀,   V₀ = ", Frac("π₀(1 − π₀)", "n"), ",   V₁ = ", Frac("π(1 − π)", "n"))
            return spread, power_of_two_variances(sides)
        low, high = "P(X ≤ c₁)", "P(X ≥ c₂)"
        power = {"two": f"{low} + {high}", "greater": high, "less": low}[sides]
        counts = "X is binomial (n, π); c₁ and c₂ are the rejection limits of the exact test under π₀"
        return f"1 − β = {power}", counts

    @override
    def method_text(self, values: Values) -> str:
        methods = {
            "exact": "for the exact binomial test by summing the probabilities of all counts that reject. " + COUNTS_UP,
            "score": "for the score test, with the standard error of the reference proportion "
            "under the null hypothesis and that of the planned one under the alternative, as a normal approximation.",
            "arcsine": "on the arcsine scale, h = 2 arcsin √p − 2 arcsin √p₀, on which the "
            "proportion is taken to be normal with variance 1/n.",
        }
        return methods[values["method"]] + self.both_words(values)
