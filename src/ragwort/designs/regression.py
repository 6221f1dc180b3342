"""Multiple regression: the whole model, terms added to it, one coefficient.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 9; Cohen, Cohen, West
and Aiken, *Applied Multiple Regression/Correlation Analysis for the Behavioral Sciences* (3rd ed., 2003), sections
3.7 and 5.1.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ragwort.designs import evidence
from ragwort.designs.anova import f_details
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption
from ragwort.designs.design import Derived, Plan, Values, Way, register, rounded
from ragwort.designs.refusals import RequestError, number_text
from ragwort.designs.sampling import OneSample
from ragwort.designs.saying import Naming, Saying, looking_for, or_more
from ragwort.designs.sizes import OneGroup, Sizes
from ragwort.stats import studies
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import FTest, Test, TTest

_F_SQUARED = Assumption(
    "f_squared",
    "Effect size f²",
    "number",
    "Effect",
    "Explained variance over unexplained variance: R² / (1 − R²). State the explained share where you can.",
    symbol="f²",
    low=0,
    usual="0.02 small, 0.15 medium, 0.35 large (Cohen, 1988, section 9.2.1), as a last resort",
)
_R_SQUARED = Assumption(
    "r_squared",
    "Explained share R²",
    "number",
    "Effect",
    "The share of the outcome's variance that all predictors together explain.",
    symbol="R²",
    low=0,
    high=1,
    open_high=True,
)
_FULL = replace(
    _R_SQUARED, name="r_squared_full", label="R² with the tested terms", help="The explained share with all."
)
_REDUCED = replace(
    _R_SQUARED,
    name="r_squared_reduced",
    label="R² without them",
    help="The share that the model explains before the tested terms are added.",
)
_PREDICTORS = Assumption(
    "predictors",
    "Predictors",
    "count",
    "Structure",
    "How many terms the model has, not counting the constant. A factor with k levels counts k − 1; a moderator "
    "adds its product with the predictor that it moderates. Type the number, or the names, and they are counted: age, "
    "ward (4 levels), age × ward.",
    symbol="p",
    low=1,
    high=10_000,
    required=True,
    named=True,
)
_TESTED = Assumption(
    "tested",
    "Terms tested together",
    "count",
    "Structure",
    "How many of the predictors are tested at once, such as the product terms of a moderator. Type the number, or "
    "the names.",
    low=1,
    high=10_000,
    required=True,
    named=True,
)
_REFERENCES = (
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 9.",
    "Cohen J, Cohen P, West SG, Aiken LS. Applied Multiple Regression/Correlation Analysis for the Behavioral "
    "Sciences. "
    "3rd ed. Mahwah: Erlbaum; 2003. Sections 3.7 and 5.1.",
)
_DATA = (
    "Participants are independent of each other.",
    "The residuals are roughly normal with the same scatter everywhere; the relation is linear.",
)
_CONDITIONAL = (
    "Power is conditional on the predictors' values; with random predictors it is a little less in small samples."
)


@dataclass(frozen=True)
class ModelPlan(Plan):
    """An F test of `tested` of `predictors` terms; `effect` is f squared."""

    tested: int
    predictors: int

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Cohen (1988), section 9.2, with noncentrality f² · n."""
        return FTest(self.effect * groups[0], self.tested, groups[0] - self.predictors - 1)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        n, root = sizes[0], float(np.sqrt(self.effect))
        _, squares, rest = studies.regression(rng, count, n, self.predictors, self.tested, root)
        df2 = n - self.predictors - 1
        return self.level.f(squares / self.tested / (rest / df2), self.tested, df2)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"f_squared": self.effect, "r_squared": self.effect / (1 + self.effect)}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return f_details(self, groups)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        return [_CONDITIONAL]


class _Model(OneSample):
    """What the regression designs share: one group that leaves a degree of freedom."""

    data_assumptions = _DATA
    references = _REFERENCES

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`."""
        least = values["predictors"] + 2
        if values["n"] < least:
            raise RequestError(
                "n", f"With {values['predictors']} predictors n must be {least} or more, not {values['n']}."
            )
        return plan.counting.splits(values["n"])

    @staticmethod
    def counting(values: Values) -> OneGroup:
        """At least one degree of freedom for the residuals."""
        return OneGroup(int(values["predictors"]) + 2)


def _agreed(values: Values, name: str, worked_out: float | None) -> float:
    """The effect stated directly or worked out from something else. Raises `RequestError` where the two disagree."""
    if worked_out is None:
        return float(values[name])
    if name in values and abs(values[name] - worked_out) > 1e-9 * max(worked_out, 1e-300):
        raise RequestError(
            name,
            f"{name} is given as {number_text(values[name])}, but the rest makes it {number_text(worked_out)}: "
            "give one of them, or make them agree.",
        )
    return worked_out


@register
class RegressionOverall(_Model):
    """All predictors of a regression at once."""

    id = "regression-overall"
    title = "Regression: all predictors together"
    summary = "Do several predictors together explain a measured outcome?"
    evidence = evidence.MODEL
    takes = {
        "measured": ("number",),
        "compared": ("relation",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "multiple regression",
        "linear model",
        "r squared",
        "r-squared",
        "predictors together",
        "prediction model",
        "ancova",
    )
    buys = "Asks whether the predictors together explain anything at all."
    assumptions = (_F_SQUARED, _R_SQUARED, ALPHA, POWER, TOTAL, DROPOUT, _PREDICTORS)
    ways = ((Way("f²", ("f_squared",)), Way("R²", ("r_squared",))),)
    starting = {"f_squared": 0.15, "predictors": 3}
    derived = (
        Derived("Effect", "r_squared", "R²"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )
    approximation = (
        "Exact for normal residuals, given the predictors' values; with random normal predictors power is a "
        "little less in small samples (simulated: 0.743 where the formula says 0.763)."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: one predictor that explains what a correlation does."""
        r = values.get("rho", values.get("partial_r"))
        return {"r_squared": rounded(r**2), "predictors": 1} if r else {}

    def plan(self, values: Values, find: str) -> ModelPlan:
        """See `Design.plan`."""
        share = values.get("r_squared")
        predictors = values["predictors"]
        effect = 0.0
        if find != "effect":
            effect = _agreed(values, "f_squared", None if share is None else share / (1 - share))
        return ModelPlan(
            values["alpha"], values["power"], "greater", effect, self.counting(values), predictors, predictors
        )

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`."""
        known = dict(values)
        if "r_squared" in known:
            known.setdefault("f_squared", rounded(known["r_squared"] / (1 - known["r_squared"])))
        elif "f_squared" in known:
            known["r_squared"] = rounded(known["f_squared"] / (1 + known["f_squared"]))
        return {name: known[name] for name in way.names if name in known}

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        shown = f"f² {{f_squared}}{or_more(find)}"
        if "r_squared" in values and find != "effect":
            shown = "R² {r_squared}, f² {f_squared}"
        explain = "explains" if values.get("predictors") == 1 else "together explain"
        effect = f"that {{predictors.terms}} {explain} {{outcome}} ({shown})"
        return Saying("{n}", effect, "the F test of a regression")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the F test of the whole regression model: its statistic follows a noncentral F "
            "distribution with p and n − p − 1 degrees of freedom and noncentrality λ = f² · n, given the predictors."
        )


@register
class RegressionAdded(_Model):
    """Terms added to a regression."""

    id = "regression-added"
    title = "Regression: terms added to a model"
    summary = "Do further predictors, such as a moderator's products, explain more of a measured outcome?"
    evidence = evidence.ADDED
    takes = {
        "measured": ("number",),
        "compared": ("relation",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "hierarchical regression",
        "added predictors",
        "r squared change",
        "moderator",
        "moderation",
        "covariate adjusted",
        "interaction terms",
        "incremental",
    )
    buys = "Asks what some terms add to a model that has the others already."
    assumptions = (_F_SQUARED, _FULL, _REDUCED, ALPHA, POWER, TOTAL, DROPOUT, _TESTED, _PREDICTORS)
    ways = ((Way("f²", ("f_squared",)), Way("R² with and without", ("r_squared_full", "r_squared_reduced"))),)
    starting = {"f_squared": 0.15, "tested": 2, "predictors": 5}
    derived = (Derived("Sample", "df1", "numerator df"), Derived("Sample", "df2", "denominator df"))
    approximation = (
        "Exact for normal residuals, given the predictors' values; with random normal predictors power is a "
        "little less in small samples (simulated: 0.743 where the formula says 0.763)."
    )

    def plan(self, values: Values, find: str) -> ModelPlan:
        """See `Design.plan`."""
        tested, predictors = values["tested"], values["predictors"]
        if tested > predictors:
            raise RequestError("tested", f"{tested} terms are tested, but the model has only {predictors} predictors.")
        effect = 0.0
        if find != "effect":
            effect = _agreed(values, "f_squared", _added_f_squared(values))
        return ModelPlan(values["alpha"], values["power"], "greater", effect, self.counting(values), tested, predictors)

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`: f² as what is added to a model that explains nothing."""
        if "f_squared" in way.names:
            added = _added_f_squared(values)
            return {"f_squared": values["f_squared"] if added is None else rounded(added)}
        added = values.get("f_squared", 0.0)
        return {"r_squared_full": rounded(added / (1 + added)), "r_squared_reduced": 0.0}

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        shown = f"f² {{f_squared}}{or_more(find)}"
        if "r_squared_full" in values and find != "effect":
            shown = "R² {r_squared_full} with, {r_squared_reduced} without, f² {f_squared}"
        one = values.get("tested") == 1
        alone = values.get("predictors", 0) == values.get("tested", 1)
        add = ("explains" if one else "explain") if alone else ("adds" if one else "add")
        effect = f"what {{tested.terms}} {add}{'' if alone else ' to {others}'} ({shown})"
        return Saying("{n}", effect, f"the F test of the added {'term' if one else 'terms'}")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the F test of the terms added to a regression model: its statistic follows a "
            "noncentral F distribution with as many numerator degrees of freedom as terms tested, n − p − 1 "
            "denominator "
            "degrees of freedom and noncentrality λ = f² · n, given the predictors."
        )


def _added_f_squared(values: Values) -> float | None:
    if "r_squared_full" not in values:
        return None
    full, reduced = values["r_squared_full"], values["r_squared_reduced"]
    if reduced > full:
        raise RequestError(
            "r_squared_reduced",
            f"The model explains less with the tested terms ({number_text(full)}) than without "
            f"({number_text(reduced)}): "
            "terms cannot take explained variance away.",
        )
    return float((full - reduced) / (1 - full))


# --- one coefficient ------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class CoefficientPlan(Plan):
    """The t test of one coefficient; `effect` is f squared with the sign of the coefficient."""

    predictors: int

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; the signed root of the F test with one numerator degree of freedom."""
        n = groups[0]
        root = np.sign(self.effect) * np.sqrt(abs(np.asarray(self.effect)) * n)
        return TTest(root, n - self.predictors - 1)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        n, root = sizes[0], math.copysign(math.sqrt(abs(float(self.effect))), float(self.effect))
        found, _, rest = studies.regression(rng, count, n, self.predictors, 1, root)
        df = n - self.predictors - 1
        return self.level.t(found[:, 0] / np.sqrt(rest / df), df)

    @property
    def found_effect(self) -> float:
        """See `Plan.found_effect`: f squared has no sign."""
        return abs(float(self.effect))

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        size = abs(self.effect)
        return {"f_squared": size, "partial_r": math.copysign(math.sqrt(size / (1 + size)), self.effect)}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        test = self.test(groups)
        assert isinstance(test, TTest)
        return {
            "df": test.df,
            "noncentrality": test.noncentrality,
            "critical_value": test.critical_value(self.alpha, self.sides),
            "actual_alpha": self.alpha,
        }

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        return [_CONDITIONAL]


@register
class RegressionCoefficient(_Model):
    """One coefficient of a regression, such as that of a moderator's product."""

    id = "regression-coefficient"
    title = "Regression: one coefficient"
    summary = "Does one predictor explain a measured outcome, with the others held constant?"
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
    )
    buys = "Asks about one predictor with the others held constant, and can look in one direction."
    assumptions = (
        _F_SQUARED,
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
            "How far this predictor scatters among participants (with n, not n − 1, in the denominator).",
            low=0,
            open_low=True,
        ),
        Assumption(
            "sd_residual",
            "SD of the residuals",
            "measured",
            "Effect",
            "How far outcomes scatter around the regression.",
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
        _PREDICTORS,
    )
    ways = (
        (
            Way("f²", ("f_squared",)),
            Way("partial correlation", ("partial_r",)),
            Way("slope", ("slope", "sd_predictor", "sd_residual", "r_squared_predictors")),
        ),
    )
    starting = {"partial_r": 0.3, "predictors": 3}
    derived = (Derived("Effect", "f_squared", "f²"), Derived("Sample", "df", "degrees of freedom"))
    approximation = (
        "Exact for normal residuals, given the predictors' values; with random normal predictors power is a "
        "little less in small samples (simulated: 0.743 where the formula says 0.763)."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: with one predictor the partial correlation is the correlation."""
        return {"partial_r": values["rho"], "predictors": values.get("predictors", 1)} if "rho" in values else {}

    def plan(self, values: Values, find: str) -> CoefficientPlan:
        """See `Design.plan`."""
        if values["predictors"] == 1 and values["r_squared_predictors"] > 0:
            raise RequestError("r_squared_predictors", "With one predictor there are no others: it must be 0.")
        return CoefficientPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else _signed_f_squared(values),
            counting=self.counting(values),
            predictors=values["predictors"],
        )

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`; a slope is that of standardised predictor and residuals."""
        signed = _signed_f_squared({"sides": "two", "r_squared_predictors": 0.0, **values})
        size = abs(signed)
        known = {
            "f_squared": rounded(size),
            "partial_r": rounded(math.copysign(math.sqrt(size / (1 + size)), signed)),
            "slope": rounded(math.copysign(math.sqrt(size), signed)),
            "sd_predictor": 1.0,
            "sd_residual": 1.0,
            "r_squared_predictors": 0.0,
        }
        return {name: known[name] for name in way.names if name in known}

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("predictor", "Predictor", ("the only predictor" if values.get("predictors") == 1 else "one",)),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        shown = f"f² {{f_squared}}{or_more(find)}"
        if "partial_r" in values and find != "effect":
            shown = "partial correlation {partial_r}, f² {f_squared}"
        elif "slope" in values and find != "effect":
            shown = (
                "slope {slope}, SD {sd_predictor} of the predictor and {sd_residual} of the residuals, f² {f_squared}"
            )
        among = "" if values.get("predictors") == 1 else " among {predictors.terms}"
        effect = f"the effect of {{predictor.1}}{among} ({shown})"
        looking = looking_for(values, "a positive coefficient", "a negative coefficient")
        return Saying("{n}", effect, "a {sides} t test of its coefficient", looking)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the t test of one regression coefficient: its statistic follows a noncentral t "
            "distribution with n − p − 1 degrees of freedom and noncentrality δ = ±√(f² · n), given the predictors."
        )


def _signed_f_squared(values: Values) -> float:
    """f squared with the sign of the coefficient; by itself it lies in the direction of the alternative."""
    signed = None
    if "partial_r" in values:
        r = values["partial_r"]
        signed = math.copysign(r**2 / (1 - r**2), r)
    if {"slope", "sd_predictor", "sd_residual"} <= set(values):
        free = 1 - values["r_squared_predictors"]
        size = (values["slope"] * values["sd_predictor"] / values["sd_residual"]) ** 2 * free
        from_slope = math.copysign(size, values["slope"])
        if signed is not None and abs(signed - from_slope) > 1e-9 * max(abs(signed), 1e-300):
            raise RequestError("partial_r", "partial_r and the slope disagree: give one of them, or make them agree.")
        signed = from_slope
    if signed is None:
        return -float(values["f_squared"]) if values["sides"] == "less" else float(values["f_squared"])
    size = _agreed(values, "f_squared", abs(signed))
    return math.copysign(size, signed)
