"""Analysis of variance: several means at once.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 8; Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 30; Geisser and Greenhouse, "An
extension of Box's results on the use of the F distribution in multivariate analysis", Annals of Mathematical
Statistics 29 (1958), pages 885-891.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, Choice
from ragwort.designs.design import Derived, Design, Plan, Values, Way, register
from ragwort.designs.errors import RequestError, number_text
from ragwort.designs.sizes import AnyOver, EqualGroups, Sizes
from ragwort.stats.noncentral import FTest, Number, Test

F = Assumption(
    "f",
    "Effect size f",
    "number",
    "Effect",
    "How far the means are apart: the SD of the means divided by the SD within groups. Take it from means and an SD where "
    "you can; a size by convention says nothing about what matters in your study.",
    symbol="f",
    low=0,
    usual="0.1 small, 0.25 medium, 0.4 large (Cohen, 1988, section 8.2.3), as a last resort",
)
ETA_SQUARED = Assumption(
    "eta_squared",
    "Explained share η²",
    "number",
    "Effect",
    "The share of the variance that the groups explain: f² / (1 + f²). Of one term in a factorial design it is the partial "
    "one, among the variance that the other terms leave.",
    symbol="η²",
    low=0,
    high=1,
    open_high=True,
)
_REFERENCES = (
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 8.",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 2. 2nd ed. New York: Wiley; 1995. "
    "Chapter 30.",
)


@dataclass(frozen=True)
class FPlan(Plan):
    """An F test of `effect` = f with `df1` and N - `parameters` degrees of freedom."""

    df1: float
    parameters: int

    def effect_at(self, groups: Sizes) -> Number:
        """f at these group sizes."""
        return self.effect

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Cohen (1988), sections 8.2 and 8.3."""
        total = groups.sum(axis=0)
        return FTest(self.effect_at(groups) ** 2 * total, self.df1, total - self.parameters)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"f": self.effect, "eta_squared": self.effect**2 / (1 + self.effect**2)}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return f_details(self, groups)


def f_details(plan: Plan, groups: Sizes) -> dict[str, Any]:
    """What every F test reports."""
    test = plan.test(groups)
    assert isinstance(test, FTest)
    return {
        "df1": test.df1,
        "df2": test.df2,
        "noncentrality": test.noncentrality,
        "critical_value": test.critical_value(plan.alpha),
    }


def stated_f(values: Values) -> float:
    """f from itself or from eta squared. Raises `RequestError` where the two disagree."""
    if "eta_squared" not in values:
        return float(values["f"])
    worked_out = math.sqrt(values["eta_squared"] / (1 - values["eta_squared"]))
    if "f" in values and abs(values["f"] - worked_out) > 1e-9 * max(worked_out, 1e-300):
        raise RequestError(
            "f",
            f"f is given as {number_text(values['f'])}, but η² makes it {number_text(worked_out)}: give one of them.",
        )
    return worked_out
