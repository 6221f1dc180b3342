"""The same people measured several times."""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, Choice
from ragwort.designs.catalogue.anova.common import (
    N_PER_GROUP,
    Cells,
    F,
    FPlan,
    balance,
)
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, alike, power_of_f, row
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, name_tokens, numbered, or_more
from ragwort.designs.protocol import FROM_F, InProtocol
from ragwort.designs.refusals import RequestError, plain_number, refuse_where
from ragwort.designs.sizes import Sizes
from ragwort.designs.ways_out import WayOut
from ragwort.designs.works import GEISSER, NONCENTRAL_F
from ragwort.stats import simulated
from ragwort.stats.simulated import cells
from ragwort.stats.statistic import FTest, Test

MORE = "Each of them gives more time, and more of them may leave; the correlation between measurements may fall."


@dataclass(frozen=True)
class RepeatedPlan(FPlan):
    """F tests of a design with repeated measurements; `effect` is f on the scale of the cells."""

    gain: float = 1.0  # noncentrality per participant and f squared
    errors: float = 1.0  # denominator degrees of freedom per participant beyond the groups
    approximate: bool = False
    visits: cells.Visits | None = None

    traits = frozenset({"measured", "arms"})

    @override
    def test(self, groups: Sizes) -> Test:
        """Methods of section 4, anova-repeated."""
        total = groups.sum(axis=0)
        return FTest(self.effect**2 * total * self.gain, self.df1, (total - self.parameters) * self.errors)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> cells.Courses:
        assert self.visits is not None
        return cells.draw_courses(population, count, sizes, float(self.effect), self.visits)

    @override
    def analyse(self, data: cells.Courses, way: str = "") -> simulated.Found:
        assert self.visits is not None
        return cells.analyse_courses(data, self.visits, self.level)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if not self.approximate:
            return []
        return [
            "With sphericity under 1 the power is approximate: the correlation is the average one, and power may "
            "be off "
            "by 4 to 6 points with the pattern of the effect over time."
        ]


@register
class Repeated(Cells):
    """The same people measured several times, in one or more groups."""

    id = "anova-repeated"
    title = "Repeated-measures analysis of variance"
    summary = "Does a measured outcome change over repeated measurements, or change differently between groups?"
    in_protocol = InProtocol(
        "{subject} will be analysed over the {measurements} measurements",
        "repeated-measures analysis of variance",
        FROM_F,
        sided=False,
        cites=(*NONCENTRAL_F, GEISSER),
    )
    evidence = evidence.REPEATED
    rows = "visit"
    takes = {
        "measured": (
            "number",
            "count",
        ),
        "compared": (
            "known",
            "two",
            "several",
        ),
        "same": (
            "twice",
            "often",
        ),
        "whole": ("no",),
    }
    known_as = (
        "repeated measures anova",
        "mixed anova",
        "split-plot",
        "interaction of group and time",
        "longitudinal",
        "before after two groups",
        "pre post control",
        "growth time course",
        "sphericity",
        "repeated measurements",
    )
    buys = "Change over time, and whether groups change differently, from the same people."
    assumptions = (
        F,
        ALPHA,
        POWER,
        TOTAL,
        N_PER_GROUP,
        balance("groups", "groups"),
        DROPOUT,
        Assumption(
            "term",
            "Question",
            "choice",
            "Structure",
            "Between: do the groups differ on average over time? Within: does the outcome change over time? "
            "Interaction: "
            "does it change differently between the groups? Two arms measured before and after ask for the "
            "interaction.",
            choices=(
                Choice("between", "between the groups", "difference in"),
                Choice("within", "over time", "change in"),
                Choice("interaction", "different change", "difference in the change of"),
            ),
            required=True,
        ),
        Assumption(
            "groups",
            "Groups",
            "count",
            "Structure",
            "How many groups there are; 1 for a single one.",
            symbol="k",
            low=1,
            high=1000,
            required=True,
        ),
        Assumption(
            "measurements",
            "Measurements",
            "count",
            "Structure",
            "How often each participant is measured.",
            symbol="m",
            low=2,
            high=1000,
            required=True,
        ),
        Assumption(
            "correlation",
            "Correlation over time",
            "number",
            "Structure",
            "How closely two measurements of one person go together, on average over all pairs of measurements. "
            "A higher "
            "one helps to see change and hides differences between groups.",
            symbol="ρ",
            low=-1,
            high=1,
            open_low=True,
            open_high=True,
            required=True,
        ),
        Assumption(
            "sphericity",
            "Sphericity ε",
            "number",
            "Structure",
            "1 where all pairs of measurements are equally correlated; lower where neighbours in time resemble "
            "each other "
            "more. At least 1 / (measurements − 1).",
            symbol="ε",
            low=0,
            high=1,
            open_low=True,
            default=1.0,
        ),
    )
    ways = ((Way("one f", ("f",)),),)
    elementwise = elementwise("f", "correlation", "sphericity")
    starting = {"f": 0.25, "groups": 2, "measurements": 4, "correlation": 0.5, "term": "interaction"}
    derived = (Derived("Sample", "df1", "numerator df"), Derived("Sample", "df2", "denominator df"))
    data_assumptions = (
        "Participants are independent; measurements of one participant are correlated as stated.",
        "The outcome is approximately normal at each measurement, with equal variances in all groups.",
    )
    approximation = (
        "The calculation is exact with a sphericity of 1. Under 1 it is an approximation: power may be off by "
        "0.04 to 0.06 with "
        "the effect's pattern over time."
    )

    @override
    def comparison(self, values: Values, find: str) -> RepeatedPlan:
        k, m, rho, epsilon = (values[name] for name in ("groups", "measurements", "correlation", "sphericity"))
        term = values["term"]
        if term != "within" and k < 2:
            raise RequestError("groups", f"The question {term} needs 2 groups or more, not {k}.")
        refuse_where(
            rho <= -1 / (m - 1),
            "correlation",
            lambda: (
                f"{m} measurements cannot all be correlated at {plain_number(rho)}: it must be above "
                f"{plain_number(-1 / (m - 1))}."
            ),
        )
        refuse_where(
            epsilon < 1 / (m - 1) - 1e-12,
            "sphericity",
            lambda: (
                f"With {m} measurements sphericity is at least {plain_number(1 / (m - 1))}, "
                f"not {plain_number(epsilon)}."
            ),
        )
        if term == "between":
            df1, gain, errors = float(k - 1), m / (1 + (m - 1) * rho), 1.0
        else:
            across = 1 if term == "within" else k - 1
            df1, gain, errors = across * (m - 1) * epsilon, m * epsilon / (1 - rho), (m - 1) * epsilon
        return RepeatedPlan(
            **self.basis(values, find),
            df1=df1,
            parameters=k,
            gain=gain,
            errors=errors,
            approximate=bool(np.any(epsilon < 1)) and term != "between",
            visits=cells.Visits(m, rho, epsilon, term),
        )

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        groups, times = int(values.get("groups", 2)), int(values.get("measurements", 2))
        named = (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()
        return (*named, Naming("times", "Measurements", numbered("measurement", min(times, MOST_NAMED))))

    @override
    def ways_out(self, values: Values, effect: float) -> list[WayOut]:
        """More measurements of each."""
        more = values["measurements"] + 2
        words = f"Measure each of them {more} times"
        return [*super().ways_out(values, effect), WayOut("more-measurements", words, MORE, {"measurements": more})]

    @override
    def saying(self, values: Values, find: str) -> Saying:
        size = self.size_words(values, find)
        groups = int(values.get("groups", 2))
        if groups == 1:
            size = size.removesuffix(" per group").removesuffix(" ({group_sizes})")
        between = "between" if groups == 2 else "among"
        whom = f" {between} {name_tokens('groups', groups)}" if groups > 1 else ""
        among = f" in {name_tokens('groups', groups)}" if groups > 1 else ""
        f = f"f = {{f}}{or_more(find)}, correlation over time {{correlation}}"
        over = "{measurements} measurements{times.named}"
        effect = f"a {{term}} {{mean_outcome}}{whom} over {over} ({f})"
        if values.get("term") == "within":
            effect = f"a {{term}} {{mean_outcome}} over {over}{among} ({f})"
        return Saying(size, effect, "a repeated-measures analysis of variance")

    @override
    def claim(self, values: Values) -> Claim:
        if values["term"] == "between":
            return alike("μ", "group, on average over the measurements", int(values["groups"]))
        if values["term"] == "within":
            return alike("μ", "measurement, on average over the groups", int(values["measurements"]))
        return Claim(
            "μᵢⱼ − μᵢ. is the same in every group i, for every measurement j",
            "it is not the same in every group for some j",
            ("μᵢⱼ is the mean of group i at measurement j, μᵢ. the mean of the group over all measurements.",),
        )

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        if values["term"] == "between":
            inflated = row("λ = ", Frac("f² N m", "1 + (m − 1) ρ"))
            return inflated, "ν₁ = k − 1,   ν₂ = N − k", power_of_f()
        first = "ν₁ = (m − 1) ε" if values["term"] == "within" else "ν₁ = (k − 1)(m − 1) ε"
        inflated = row("λ = ", Frac("f² N m ε", "1 − ρ"))
        return inflated, f"{first},   ν₂ = (N − k)(m − 1) ε", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of a repeated-measures analysis of variance with equal "
            "correlation among "
            "measurements. The noncentrality is λ = f² · N · m / (1 + (m − 1)ρ) between groups, and f² · N · m · ε / "
            "(1 − ρ) over time and for the interaction, with degrees of freedom multiplied by the sphericity ε."
        )
