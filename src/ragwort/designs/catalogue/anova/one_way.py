"""Several independent groups compared on a mean."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.anova.common import (
    ETA_SQUARED,
    N_PER_GROUP,
    Cells,
    F,
    FOfMeansPlan,
    balance,
    effect_in_two_ways,
    means_drawn_to,
    stated_f,
)
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, alike, power_of_f, row
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, name_tokens, numbered, or_more
from ragwort.designs.protocol import AMONG, FROM_F, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import AnyOver, EqualGroups
from ragwort.designs.works import NONCENTRAL_F
from ragwort.stats import simulated
from ragwort.stats.effects import f_of_means
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import means

MEANS = Assumption(
    "means",
    "Means",
    "list",
    "Effect",
    "The mean expected in each group, in the outcome's unit: 412, 405, 398. Only how far they are apart counts.",
    symbol="μ",
    each_measured=True,
    row_names="groups",
    shortest=2,
)
SD_WITHIN = Assumption(
    "sd",
    "SD within groups",
    "measured",
    "Effect",
    "How far single participants vary around their group's mean.",
    symbol="σ",
    low=0,
    open_low=True,
)
GROUPS = Assumption(
    "groups",
    "Groups",
    "count",
    "Structure",
    "How many groups are compared.",
    symbol="k",
    low=2,
    high=1000,
    required=True,
)
WEIGHTS = Assumption(
    "weights",
    "Relative group sizes",
    "list",
    "Structure",
    "How large each group is compared with the smallest, which is 1: 1, 1.5, 2. Leave it out for equal groups.",
    row_names="groups",
    low=1,
    shortest=2,
    decided=True,
)


@dataclass(frozen=True)
class OneWayPlan(FOfMeansPlan):
    """The means may be given; then f follows from them and the group sizes."""

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Any:
        """With the means where they are given."""
        if not self.means:
            return super().draw(sizes, population, count)
        effects = tuple(mean - self.means[0] for mean in self.means)
        return means.draw_groups(population, count, sizes, effects, (self.sd,) * len(sizes), self.means[0])

    @override
    def effect_report(self) -> dict[str, Number]:
        """F as for the smallest design."""
        if not self.means:
            return super().effect_report()
        f = float(np.ravel(self.effect_at(self.counting.ways(np.array([self.counting.lowest]))[0]))[0])
        return {"f": f, "eta_squared": f**2 / (1 + f**2)}


@register
class OneWay(Cells):
    """Several independent groups compared on a mean."""

    id = "anova-one-way"
    title = "One-way analysis of variance"
    summary = "Does the mean of a measured outcome differ anywhere among three or more separate groups?"
    in_protocol = InProtocol(
        AMONG,
        "one-way analysis of variance",
        FROM_F,
        sided=False,
        cites=NONCENTRAL_F,
    )
    evidence = evidence.SEVERAL_GROUPS
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": ("several",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "one-way anova",
        "analysis of variance",
        "oneway",
        "three groups",
        "several groups",
        "f test",
        "multi-arm dose groups",
        "several independent means",
    )
    buys = "One test for all groups keeps the alpha that several pairwise tests would use up."
    assumptions = (
        F,
        ETA_SQUARED,
        MEANS,
        SD_WITHIN,
        ALPHA,
        POWER,
        TOTAL,
        N_PER_GROUP,
        balance("groups", "groups"),
        DROPOUT,
        GROUPS,
        WEIGHTS,
    )
    ways = ((Way("one f", ("f",)), Way("means and SD", ("means", "sd")), Way("η²", ("eta_squared",))),)
    elementwise = elementwise("f", "eta_squared", "sd")
    starting = {"f": 0.25, "groups": 3}
    derived = (
        Derived("Effect", "f", "f"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is approximately normal in each group, with equal variances.",
    )
    approximation = "The calculation is exact where the outcome is normal with equal variances."

    @override
    def comparison(self, values: Values, find: str) -> OneWayPlan:
        means = () if find == "effect" else tuple(values.get("means", ()))
        groups, sd = self.cells(values), values.get("sd", 1.0)
        if means and len(means) != groups:
            raise RequestError("groups", f"groups is {groups}, but there are {len(means)} means: make them agree.")
        return OneWayPlan(**self.basis(values, find), df1=groups - 1, parameters=groups, means=means, sd=sd)

    @override
    def stated_effect(self, values: Values) -> Number:
        """Of means f as for equal groups, which is what any total counts with."""
        if "means" not in values:
            return stated_f(values)
        f = f_of_means(values["means"], values["sd"])
        return f if values.get("weights") else stated(values, "f", f, "the means make it")

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        """As many groups as there are means."""
        return {"groups": len(values["means"])} if "means" in values and "sd" in values else {}

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """F as evenly spaced means with an SD of 10."""
        f = f_of_means(values["means"], values["sd"]) if {"means", "sd"} <= set(values) else stated_f(values)
        groups = int(values.get("groups", 3))
        even = np.arange(groups) - (groups - 1) / 2
        means = [rounded(float(10 * f * step / np.std(even))) for step in even]
        return {**effect_in_two_ways(f), "means": means, "sd": 10.0}

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        return means_drawn_to(effect, values)

    @override
    def counting(self, values: Values) -> AnyOver | EqualGroups:
        """In the relative sizes given."""
        weights, groups = tuple(values.get("weights", ())), self.cells(values)
        if not weights:
            return super().counting(values)
        if len(weights) != groups:
            raise RequestError("weights", f"There are {groups} groups but {len(weights)} weights: give one for each.")
        if min(weights) != 1:
            raise RequestError("weights", f"The smallest weight must be exactly 1, not {plain_number(min(weights))}.")
        if values["balance"] == "any":
            raise RequestError("balance", "Weights need balance “groups”: any total has no relative sizes.")
        return EqualGroups(groups, 2, weights)

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        groups = int(values.get("groups", 0))
        return (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = f"f = {{f}}{or_more(find)}"
        if "means" in values and find != "effect":
            shown = "{means}; SD {sd}, f = {f}"
        elif "eta_squared" in values and find != "effect":
            shown = "η² = {eta_squared}, f = {f}"
        groups = int(values.get("groups", 2))
        between = "between" if groups == 2 else "among"
        effect = f"a difference in {{mean_outcome}} {between} {name_tokens('groups', groups)} ({shown})"
        return Saying(self.size_words(values, find), effect, "a one-way analysis of variance")

    @override
    def claim(self, values: Values) -> Claim:
        return alike("μ", "group", int(values.get("groups", len(values.get("means", ())))))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 8."""
        f = row("f = ", Root(row("Σ ", Frac("nⱼ", "N"), " ", Frac("(μⱼ − μ̄)²", "σ²"))))
        return f, "λ = f² N,   ν₁ = k − 1,   ν₂ = N − k", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of a one-way analysis of variance: under the planned means its "
            "statistic follows a noncentral F distribution with k − 1 and N − k degrees of freedom and "
            "noncentrality λ = f² · N."
        )
