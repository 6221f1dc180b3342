"""One planned comparison among several means."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import SAME, stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, rounded
from ragwort.designs.catalogue.anova.common import N_PER_GROUP, Cells, OfMeans, balance, need_total_of_weights
from ragwort.designs.catalogue.anova.named_contrasts import NAMED_CONTRASTS, trend_of
from ragwort.designs.catalogue.anova.one_way import MEANS, SD_WITHIN, WEIGHTS
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.drawn_out import from_the_first
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_t, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, is_down, looking_for, numbered, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_T, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sizes import EqualGroups, Sizes
from ragwort.designs.works import JOHNSON_2, SEARLE
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import contrasts
from ragwort.stats.simulated.means import Groups, draw_groups
from ragwort.stats.statistic import TTest

_CONTRAST = Assumption(
    "contrast",
    "Contrast",
    "measured",
    "Effect",
    "What the coefficients make of the means: for −1, 0, 1 the last mean less the first. Say the smallest that would "
    "matter.",
    symbol="ψ",
)
_COEFFICIENTS = Assumption(
    "coefficients",
    "Coefficients",
    "list",
    "Structure",
    "One for each group, together 0. The last against the first: −1, 0, 1. The first against the mean of the others: "
    "−1, 0.5, 0.5. A straight line: −1, 0, 1 for three, −3, −1, 1, 3 for four. A bend: 1, −2, 1.",
    symbol="c",
    row_names="groups",
    shortest=2,
    required=True,
    adds_to_zero=True,
    decided=True,
)
_COMPARISONS = Assumption(
    "comparisons",
    "Comparisons",
    "count",
    "Error rates",
    "How many planned comparisons share alpha, each tested at its part of it (Bonferroni).",
    symbol="m",
    low=1,
    high=10_000,
    default=1,
)


@dataclass(frozen=True)
class ContrastPlan(OfMeans, StatisticPlan):
    """`effect` is the value of the contrast, in the outcome's unit."""

    coefficients: tuple[float, ...]
    comparisons: int

    traits = frozenset({"measured", "bounds"})

    @property
    @override
    def effect_scale(self) -> Number:
        return self.sd * math.hypot(*self.coefficients)

    @property
    @override
    def tested_alpha(self) -> Number:
        """Bonferroni."""
        return self.alpha / self.comparisons

    @override
    def actual_alpha(self, groups: Sizes) -> Any:
        """That of this comparison."""
        return super().actual_alpha(groups) / self.comparisons

    @override
    def test(self, groups: Sizes) -> TTest:
        """Searle (1971), section 3.6."""
        squares = np.array(self.coefficients)[:, None] ** 2
        error = self.sd * np.sqrt((squares / groups).sum(axis=0))
        return TTest(self.effect / error, groups.sum(axis=0) - len(self.coefficients))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Groups:
        """With the means where they are given, else with those that lie along the coefficients."""
        c = np.array(self.coefficients)
        centres = np.array(self.means) if self.means else float(self.effect) * c / (c @ c)
        return draw_groups(population, count, sizes, tuple(centres - centres[0]), (self.sd,) * len(sizes), centres[0])

    @override
    def analyse(self, data: Groups, way: str = "") -> simulated.Found:
        return contrasts.analyse_contrast(data, self.coefficients, self.comparisons, self.level)

    @override
    def interval(self, groups: Sizes) -> Interval:
        test = self.replace(effect=1.0).test(groups)
        return self.confidence.tested("contrast", "measured", self.effect, test)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"contrast": self.effect, "d": self.effect / self.sd}


@register
class Contrast(Cells):
    """One planned comparison among several means."""

    id = "anova-contrast"
    title = "Planned contrast of means"
    summary = "Do the means of several groups differ in one way that was planned, such as a trend or against a control?"
    in_protocol = InProtocol(
        "A planned contrast of the group means of {outcome} will be tested",
        "t test of the contrast",
        FROM_T,
        cites=(SEARLE.at("section 3.6"), JOHNSON_2.at("chapter 31")),
    )
    evidence = evidence.CONTRAST
    takes = {"measured": ("number", "count"), "compared": ("several",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "planned comparison",
        "linear trend of means",
        "dose response trend",
        "comparison with a control",
        "custom contrast",
        "bonferroni corrected comparisons",
    )
    buys = "One question asked of all groups has more power than the question whether anything differs."
    assumptions = (
        _CONTRAST,
        MEANS,
        SD_WITHIN,
        DIRECTION,
        ALPHA,
        SIDES,
        _COMPARISONS,
        POWER,
        TOTAL,
        N_PER_GROUP,
        replace(balance("groups", "groups"), choices=(Choice("groups", "by groups"),), in_ledger=False),
        DROPOUT,
        _COEFFICIENTS,
        WEIGHTS,
    )
    ways = ((Way("its value", ("contrast",)), Way("means", ("means",))), (Way("one SD", ("sd",)),))
    elementwise = elementwise("contrast", "sd")
    offers = {"coefficients": NAMED_CONTRASTS}
    starting = {"contrast": 6.0, "sd": 10.0, "coefficients": [-1.0, 0.0, 1.0]}
    derived = (Derived("Effect", "d", "in SDs"), Derived("Sample", "df", "degrees of freedom"))
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is approximately normal in each group, with equal variances.",
        "The comparison was planned before the data were seen.",
    )
    approximation = (
        "The calculation is exact where the outcome is normal with equal variances; Bonferroni's adjustment is "
        "conservative."
    )

    @override
    def cells(self, values: Values) -> int:
        """As many as there are coefficients."""
        return len(values["coefficients"])

    @override
    def comparison(self, values: Values, find: str) -> ContrastPlan:
        given = tuple(values["coefficients"])
        _need_contrast(given)
        own = () if find == "effect" else tuple(values.get("means", ()))
        if own and len(own) != len(given):
            raise RequestError("means", f"There are {len(given)} coefficients but {len(own)} means: make them agree.")
        basis = self.basis(values, find)
        return ContrastPlan(**basis, coefficients=given, sd=values["sd"], comparisons=values["comparisons"], means=own)

    @override
    def stated_effect(self, values: Values) -> Number:
        if "means" not in values or len(values["means"]) != len(values["coefficients"]):
            return values.get("contrast", 0.0)
        worked_out = math.fsum(c * mean for c, mean in zip(values["coefficients"], values["means"], strict=True))
        return stated(values, "contrast", worked_out, "the means make it")

    @override
    def counting(self, values: Values) -> EqualGroups:
        """Groups grow together, in the relative sizes given."""
        cells, weights = self.cells(values), tuple(values.get("weights", ()))
        if weights and len(weights) != cells:
            raise RequestError("weights", f"There are {cells} coefficients but {len(weights)} weights.")
        if weights and min(weights) != 1:
            raise RequestError("weights", f"The smallest weight must be exactly 1, not {plain_number(min(weights))}.")
        return EqualGroups(cells, 2, weights)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """What does not divide makes the last groups one larger."""
        if values.get("n_per_group", 2) < 2:
            raise RequestError("n_per_group", f"n_per_group must be 2 or more, not {values['n_per_group']}.")
        ways = super().given_sizes(values, plan)
        if "n_per_group" not in values:
            need_total_of_weights(values, 2)
        return ways

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """A value as means along the coefficients."""
        known = dict(values)
        c = np.array(values.get("coefficients", [-1.0, 0.0, 1.0]))
        if "means" in known and len(known["means"]) == len(c):
            known.setdefault("contrast", rounded(float(c @ np.array(known["means"]))))
        elif "contrast" in known:
            known["means"] = [rounded(float(known["contrast"] * each / (c @ c))) for each in c]
        return known

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """The means, apart by as much as makes the contrast."""
        if not {"means", "coefficients"} <= values.keys() or len(values["means"]) != len(values["coefficients"]):
            return {}
        now = float(np.dot(values["coefficients"], values["means"]))
        return {"means": from_the_first(values["means"], effect / now)} if now else {}

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        groups = len(values.get("coefficients", ()))
        return (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down = is_down(values, find, "contrast")
        made = "means {means}; " if "means" in values and "contrast" not in values and find != "effect" else ""
        value = "" if made else f" of {{contrast}}{or_more(find, down)}"
        trend = trend_of(values.get("coefficients") or ())
        kind = f"{trend} contrast" if trend else "contrast"
        effect = f"a {kind}{value} with coefficients {{coefficients}} ({made}SD {{sd}}, {{d}} SDs)"
        shared = " (one of {comparisons} that share alpha)" if values.get("comparisons", 1) > 1 else ""
        looking = looking_for(values, "a contrast above 0", "a contrast below 0")
        return Saying(self.size_words(values, find), effect, f"a {{sides}} t test of the contrast{shared}", looking)

    @override
    def claim(self, values: Values) -> Claim:
        return claim("Σ cⱼ μⱼ", "0", values["sides"], "μⱼ is the mean of group j, cⱼ its coefficient.")

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        error = row("σ ", Root(row("Σ ", Frac("cⱼ²", "nⱼ"))))
        shared = ("α is the study's over the number of comparisons",) if values.get("comparisons", 1) > 1 else ()
        return row("δ = ", Frac("Σ cⱼ μⱼ", error)), "ν = N − k", *shared, power_of_t(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the t test of a planned contrast with the variance pooled over all groups: its statistic follows a "
            "noncentral t distribution with N − k degrees of freedom."
        )


def _need_contrast(coefficients: tuple[float, ...]) -> None:
    """Refuse coefficients that are no contrast. Raises `RequestError`."""
    if not any(coefficients):
        raise RequestError("coefficients", "The coefficients are all 0: they compare nothing.")
    total = math.fsum(coefficients)
    if abs(total) > SAME:
        middle = total / len(coefficients)
        centred = ", ".join(plain_number(rounded(each - middle)) for each in coefficients)
        raise RequestError(
            "coefficients", f"Coefficients must add up to 0; these add up to {plain_number(total)}. Centred: {centred}."
        )
