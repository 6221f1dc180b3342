"""One coefficient of a regression."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import agree, stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.regression.common import F_SQUARED, PREDICTORS, ConditionalPlan, Model
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Root, claim, power_of_t, row
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.phrases import Naming, Saying, looking_for, or_more
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_T, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import NONCENTRAL_F_OF_REGRESSION
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import relations
from ragwort.stats.statistic import Test, TTest


@dataclass(frozen=True)
class CoefficientPlan(ConditionalPlan):
    """The t test of one coefficient; `effect` is f squared with the sign of the coefficient."""

    predictors: int

    estimated = "partial correlation"

    @override
    def test(self, groups: Sizes) -> Test:
        """The signed root of the F test with one numerator degree of freedom."""
        n = groups[0]
        root = np.sign(self.effect) * np.sqrt(abs(np.asarray(self.effect)) * n)
        return TTest(root, n - self.predictors - 1)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> relations.Regression:
        root = math.copysign(math.sqrt(abs(float(self.effect))), float(self.effect))
        return relations.draw_regression(population, count, sizes[0], self.predictors, 1, root)

    @override
    def analyse(self, data: relations.Regression, way: str = "") -> simulated.Found:
        return relations.analyse_coefficient(data, self.level)

    @property
    @override
    def truth(self) -> float:
        """The partial correlation."""
        return float(self.effect_report()["partial_r"])

    @override
    def interval(self, groups: Sizes) -> Interval:
        partial = self.effect_report()["partial_r"]
        error = 1 / np.sqrt(np.maximum(groups[0] - self.predictors - 2, 1))
        return self.confidence.through("partial correlation", "number", np.tanh, np.arctanh(partial), error)

    @override
    def effect_report(self) -> dict[str, Number]:
        size = abs(self.effect)
        return {"f_squared": size, "partial_r": np.copysign(np.sqrt(size / (1 + size)), self.effect)}


@register
class RegressionCoefficient(WithLooks, Model):
    """One coefficient of a regression, such as that of a moderator's product."""

    id = "regression-coefficient"
    title = "Multiple regression: one coefficient"
    summary = "Does one predictor explain a measured outcome, with the others held constant?"
    in_protocol = InProtocol(
        "The coefficient of {predictor.1} in the regression of {outcome} will be tested",
        "t test",
        FROM_T,
        cites=NONCENTRAL_F_OF_REGRESSION,
    )
    evidence = evidence.COEFFICIENT
    takes = {
        "measured": ("number",),
        "compared": ("relation",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "regression coefficient",
        "slope",
        "partial correlation",
        "single predictor",
        "moderator",
        "moderation",
        "product term",
        "beta weight",
        "regression: one coefficient",
    )
    buys = "Asks about one predictor with the others held constant, and can look in one direction."
    assumptions = (
        F_SQUARED,
        Assumption(
            "partial_r",
            "Partial correlation",
            "number",
            "Effect",
            "The correlation of this predictor with the outcome, the other predictors held constant.",
            symbol="r",
            low=-1,
            high=1,
            open_low=True,
            open_high=True,
        ),
        Assumption(
            "slope",
            "Slope",
            "number",
            "Effect",
            "How much the outcome changes for one unit of this predictor, the others held constant.",
            symbol="β",
        ),
        Assumption(
            "sd_predictor",
            "SD of the predictor",
            "number",
            "Effect",
            "How far this predictor varies among participants (with n, not n − 1, in the denominator).",
            low=0,
            open_low=True,
        ),
        Assumption(
            "sd_residual",
            "SD of the residuals",
            "measured",
            "Effect",
            "How far outcomes vary around the regression.",
            low=0,
            open_low=True,
        ),
        Assumption(
            "r_squared_predictors",
            "R² with the other predictors",
            "number",
            "Effect",
            "The share of this predictor's variance that the other predictors explain. The more they overlap, the more "
            "participants the study needs.",
            low=0,
            high=1,
            open_high=True,
            default=0.0,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        DROPOUT,
        PREDICTORS,
        *LOOKS,
    )
    ways = (
        (
            Way("f²", ("f_squared",)),
            Way("partial correlation", ("partial_r",)),
            Way("slope", ("slope", "sd_predictor", "sd_residual", "r_squared_predictors")),
        ),
    )
    elementwise = elementwise("f_squared", "partial_r", "slope", "sd_predictor", "sd_residual", "r_squared_predictors")
    starting = {"partial_r": 0.3, "predictors": 3}
    derived = (Derived("Effect", "f_squared", "f²"), Derived("Sample", "df", "degrees of freedom"))

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """With one predictor the partial correlation is the correlation."""
        return {"partial_r": values["rho"], "predictors": values.get("predictors", 1)} if "rho" in values else {}

    @override
    def comparison(self, values: Values, find: str) -> CoefficientPlan:
        if values["predictors"] == 1 and np.any(values["r_squared_predictors"] > 0):
            raise RequestError("r_squared_predictors", "With one predictor there are no others: it must be 0.")
        return CoefficientPlan(**self.basis(values, find), predictors=values["predictors"])

    @override
    def stated_effect(self, values: Values) -> Number:
        return _signed_f_squared(values)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """A slope is that of standardised predictor and residuals."""
        signed = _signed_f_squared({"sides": "two", "r_squared_predictors": 0.0, **values})
        size = abs(signed)
        return {
            "f_squared": rounded(size),
            "partial_r": rounded(math.copysign(math.sqrt(size / (1 + size)), signed)),
            "slope": rounded(math.copysign(math.sqrt(size), signed)),
            "sd_predictor": 1.0,
            "sd_residual": 1.0,
            "r_squared_predictors": 0.0,
        }

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """The slope, on the scatter that was stated."""
        kept = {name: values[name] for name in ("sd_predictor", "sd_residual") if name in values}
        kept["r_squared_predictors"] = values.get("r_squared_predictors", 0.0)
        if "slope" not in values or len(kept) < 3:
            return {}
        now = abs(float(_signed_f_squared({**kept, "slope": values["slope"], "sides": "two"})))
        return {"slope": rounded(values["slope"] * math.sqrt(effect / now)), **kept} if now else {}

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (
            Naming(
                "predictor", "Predictor", ("the only predictor" if values.get("predictors") == 1 else "one predictor",)
            ),
        )

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = f"f² = {{f_squared}}{or_more(find)}"
        if "partial_r" in values and find != "effect":
            shown = "partial r = {partial_r}, f² = {f_squared}"
        elif "slope" in values and find != "effect":
            shown = (
                "slope {slope}, SD {sd_predictor} of the predictor and {sd_residual} of the residuals, f² = {f_squared}"
            )
        among = "" if values.get("predictors") == 1 else " in a model with {predictors.terms}"
        effect = f"the effect of {{predictor.1}}{among} ({shown})"
        looking = looking_for(values, "a positive coefficient", "a negative coefficient")
        return Saying("{n}", effect, "a {sides} t test of its coefficient", looking)

    @override
    def claim(self, values: Values) -> Claim:
        where = "β is the coefficient of the predictor, the others held."
        return claim("β", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        return row("δ = ±", Root("f² n")), "ν = n − p − 1", power_of_t(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the t test of one regression coefficient: its statistic follows a noncentral t "
            "distribution with n − p − 1 degrees of freedom and noncentrality δ = ±√(f² · n), given the predictors."
        )


def _signed_f_squared(values: Values) -> Number:
    """f squared with the sign of the coefficient; by itself it lies in the direction of the alternative."""
    signed = None
    if "partial_r" in values:
        r = values["partial_r"]
        signed = np.copysign(r**2 / (1 - r**2), r)
    if {"slope", "sd_predictor", "sd_residual"} <= set(values):
        free = 1 - values["r_squared_predictors"]
        size = (values["slope"] * values["sd_predictor"] / values["sd_residual"]) ** 2 * free
        from_slope = np.copysign(size, values["slope"])
        if signed is not None and not agree(signed, from_slope):
            raise RequestError("partial_r", "partial_r and the slope disagree: give one of them, or make them agree.")
        signed = from_slope
    if signed is None:
        return -values["f_squared"] if values["sides"] == "less" else values["f_squared"]
    size = stated(values, "f_squared", abs(signed))
    return np.copysign(size, signed)
