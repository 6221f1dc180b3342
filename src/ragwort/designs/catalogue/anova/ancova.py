"""Several independent groups compared on a mean, covariates held."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.anova.common import (
    N_PER_GROUP,
    Cells,
    F,
    FOfMeansPlan,
    balance,
    means_drawn_to,
)
from ragwort.designs.catalogue.anova.one_way import GROUPS, MEANS, SD_WITHIN
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, alike, power_of_f, row
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, name_tokens, numbered, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_F, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.remarks import General
from ragwort.designs.sizes import AnyOver, EqualGroups, Sizes
from ragwort.designs.works import BORM, NONCENTRAL_F
from ragwort.stats import simulated
from ragwort.stats.effects import f_of_means
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import adjusted
from ragwort.stats.statistic import FTest

_EXPLAINED = Assumption(
    "r_squared",
    "R² of covariates",
    "number",
    "Structure",
    "The share of the outcome's variance within groups that the covariates explain: of one covariate the square of its "
    "correlation with the outcome. The measurement before treatment often explains a quarter to a half.",
    symbol="R²",
    low=0,
    high=1,
    open_high=True,
    required=True,
)
_COVARIATES = Assumption(
    "covariates",
    "Covariates",
    "count",
    "Structure",
    "How many covariates are held, each costing one degree of freedom: the measurement before treatment, age.",
    symbol="q",
    low=1,
    high=1000,
    default=1,
)

BALANCED = General("Power holds for covariates that are balanced over the groups; in small studies chance upsets that.")


@dataclass(frozen=True)
class AncovaPlan(FOfMeansPlan):
    """`effect` is f by the scatter before adjustment; covariates leave 1 - `explained` of the variance."""

    explained: float
    covariates: int

    traits = frozenset({"measured", "arms"})

    @override
    def test(self, groups: Sizes) -> FTest:
        """Cohen (1988), section 9.1 (what covariates leave)."""
        total, f = groups.sum(axis=0), self.effect_at(groups)
        return FTest(f**2 * total / (1 - self.explained), self.df1, total - self.parameters)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> adjusted.Adjusted:
        effects = tuple(mean - self.means[0] for mean in self.means) or self.pattern(len(sizes))
        return adjusted.draw_adjusted(population, count, sizes, effects, self.sd, self.explained, self.covariates)

    @override
    def analyse(self, data: adjusted.Adjusted, way: str = "") -> simulated.Found:
        return adjusted.analyse_adjusted(data, self.explained, self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"f": self.effect}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return [BALANCED]


@register
class Ancova(Cells):
    """Several independent groups compared on a mean, covariates held."""

    id = "ancova"
    title = "Analysis of covariance"
    summary = "Does the mean of a measured outcome differ between groups once covariates are allowed for?"
    in_protocol = InProtocol(
        "{subject} will be compared between the groups, adjusted for the covariates,",
        "analysis of covariance",
        FROM_F,
        sided=False,
        cites=(*NONCENTRAL_F, BORM),
    )
    evidence = evidence.SEVERAL_GROUPS[:1] + tuple(e for e in evidence.SEVERAL_GROUPS[1:] if e.name != "eta_squared")
    takes = {
        "measured": ("number", "count"),
        "compared": ("two", "several"),
        "same": ("once", "twice"),
        "whole": ("no",),
    }
    known_as = (
        "analysis of covariance",
        "adjusted means",
        "baseline adjustment",
        "covariate adjusted comparison",
        "randomised groups with a baseline measurement",
        "several means with covariates",
    )
    buys = "What a baseline or another covariate explains no longer hides the difference, so fewer people do."
    assumptions = (
        F,
        MEANS,
        SD_WITHIN,
        ALPHA,
        POWER,
        TOTAL,
        N_PER_GROUP,
        balance("groups", "groups"),
        DROPOUT,
        GROUPS,
        _EXPLAINED,
        _COVARIATES,
    )
    ways = ((Way("one f", ("f",)), Way("means and SD", ("means", "sd"))),)
    elementwise = elementwise("f", "r_squared")
    starting = {"f": 0.25, "groups": 2, "r_squared": 0.4}
    derived = (Derived("Sample", "df1", "numerator df"), Derived("Sample", "df2", "denominator df"))
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "Covariates are measured before allocation, and their slopes are the same in all groups.",
        "The residuals are approximately normal with equal variances in all groups.",
    )
    approximation = (
        "The calculation is exact for covariates that are balanced over the groups. With random ones it is too "
        "hopeful in small studies."
    )

    @override
    def comparison(self, values: Values, find: str) -> AncovaPlan:
        groups, means = self.cells(values), () if find == "effect" else tuple(values.get("means", ()))
        if means and len(means) != groups:
            raise RequestError("groups", f"groups is {groups}, but there are {len(means)} means: make them agree.")
        return AncovaPlan(
            **self.basis(values, find),
            df1=groups - 1,
            parameters=groups + values["covariates"],
            explained=values["r_squared"],
            covariates=values["covariates"],
            sd=values.get("sd", 1.0) if means else 1.0,
            means=means,
        )

    @override
    def stated_effect(self, values: Values) -> Number:
        """Of means f as for equal groups."""
        if "means" not in values or "sd" not in values:
            return values["f"]
        return stated(values, "f", f_of_means(values["means"], values["sd"]), "the means make it")

    @override
    def implied(self, values: Values) -> dict[str, Any]:
        """As many groups as there are means."""
        return {"groups": len(values["means"])} if "means" in values and "sd" in values else {}

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """F as evenly spaced means with an SD of 10."""
        f = float(self.stated_effect(values))
        groups = int(values.get("groups", 2))
        even = np.arange(groups) - (groups - 1) / 2
        means = [rounded(float(10 * f * step / np.std(even))) for step in even]
        return {"f": rounded(f), "means": means, "sd": 10.0}

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        return means_drawn_to(effect, values)

    @override
    def counting(self, values: Values) -> AnyOver | EqualGroups:
        """From where there is a degree of freedom on."""
        groups = self.cells(values)
        least = groups + values["covariates"] + 1
        if values["balance"] == "any":
            return AnyOver(groups, least)
        return EqualGroups(groups, max(2, math.ceil(least / groups)))

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        ways = super().given_sizes(values, plan)
        least, total = self.cells(values) + values["covariates"] + 1, int(ways[0].sum())
        if total < least:
            field = "n" if "n" in values else "n_per_group"
            words = f"With {values['covariates']} covariates the test needs {least} or more in all, not {total}."
            raise RequestError(field, words)
        return ways

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        groups = int(values.get("groups", 0))
        return (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = "{means}; SD {sd}, f = {f}" if "means" in values and find != "effect" else f"f = {{f}}{or_more(find)}"
        groups = int(values.get("groups", 2))
        between = "between" if groups == 2 else "among"
        held = "one covariate" if values.get("covariates", 1) == 1 else "{covariates} covariates"
        effect = (
            f"a difference in {{mean_outcome}} {between} {name_tokens('groups', groups)} ({shown}; {held}, R² "
            "{r_squared})"
        )
        return Saying(self.size_words(values, find), effect, "an analysis of covariance")

    @override
    def claim(self, values: Values) -> Claim:
        return alike("μ", "group, covariates held", int(values.get("groups", len(values.get("means", ())))))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        return row("λ = ", Frac("f² N", "1 − R²")), "ν₁ = k − 1,   ν₂ = N − k − q", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of the groups in an analysis of covariance: its statistic follows a noncentral F "
            "distribution with k − 1 and N − k − q degrees of freedom and noncentrality λ = f² · N / (1 − R²), given "
            "covariates that are balanced over the groups."
        )
