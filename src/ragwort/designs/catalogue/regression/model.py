"""The whole model, and terms added to it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.regression.common import F_SQUARED, PREDICTORS, ConditionalPlan, Model
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, power_of_f, row
from ragwort.designs.phrases import Saying, or_more
from ragwort.designs.protocol import FROM_F, InProtocol
from ragwort.designs.refusals import RequestError, plain_number, refuse_where
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import COHEN_COHEN, NONCENTRAL_F_OF_REGRESSION
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import relations
from ragwort.stats.statistic import FTest, Test

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


@dataclass(frozen=True)
class ModelPlan(ConditionalPlan):
    """An F test of `tested` of `predictors` terms; `effect` is f squared."""

    tested: int
    predictors: int

    signed = False

    @override
    def test(self, groups: Sizes) -> Test:
        """Cohen (1988), section 9.2, with noncentrality f² · n."""
        return FTest(self.effect * groups[0], self.tested, groups[0] - self.predictors - 1)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> relations.Regression:
        root = float(np.sqrt(self.effect))
        return relations.draw_regression(population, count, sizes[0], self.predictors, self.tested, root)

    @override
    def analyse(self, data: relations.Regression, way: str = "") -> simulated.Found:
        return relations.analyse_terms(data, self.tested, self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"f_squared": self.effect, "r_squared": self.effect / (1 + self.effect)}


@register
class RegressionOverall(Model):
    """All predictors of a regression at once."""

    id = "regression-overall"
    title = "Multiple regression: all predictors"
    summary = "Do several predictors together explain a measured outcome?"
    in_protocol = InProtocol(
        "The regression of {outcome} on {predictors.terms} will be tested",
        "the overall F test",
        FROM_F,
        sided=False,
        cites=NONCENTRAL_F_OF_REGRESSION,
    )
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
        "regression: all predictors together",
    )
    buys = "Asks whether the predictors together explain anything at all."
    assumptions = (F_SQUARED, _R_SQUARED, ALPHA, POWER, TOTAL, DROPOUT, PREDICTORS)
    ways = ((Way("f²", ("f_squared",)), Way("R²", ("r_squared",))),)
    elementwise = elementwise("f_squared", "r_squared")
    starting = {"f_squared": 0.15, "predictors": 3}
    derived = (
        Derived("Effect", "r_squared", "R²"),
        Derived("Sample", "df1", "numerator df"),
        Derived("Sample", "df2", "denominator df"),
    )

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """One predictor that explains what a correlation does."""
        r = values.get("rho", values.get("partial_r"))
        return {"r_squared": rounded(r**2), "predictors": 1} if r else {}

    @override
    def comparison(self, values: Values, find: str) -> ModelPlan:
        predictors = values["predictors"]
        return ModelPlan(**self.basis(values, find), tested=predictors, predictors=predictors)

    @override
    def stated_effect(self, values: Values) -> Number:
        share = values.get("r_squared")
        return stated(values, "f_squared", None if share is None else share / (1 - share))

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = dict(values)
        if "r_squared" in known:
            known.setdefault("f_squared", rounded(known["r_squared"] / (1 - known["r_squared"])))
        elif "f_squared" in known:
            known["r_squared"] = rounded(known["f_squared"] / (1 + known["f_squared"]))
        return known

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = f"f² = {{f_squared}}{or_more(find)}"
        if "r_squared" in values and find != "effect":
            shown = "R² = {r_squared}, f² = {f_squared}"
        together = "" if values.get("predictors") == 1 else " together"
        effect = f"an association of {{outcome}} with {{predictors.terms}}{together} ({shown})"
        return Saying("{n}", effect, "the overall F test of a multiple regression")

    @override
    def claim(self, values: Values) -> Claim:
        return Claim("R² = 0", "R² > 0", ("R² is the share of the variance that all predictors explain together.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 9."""
        f = row("f² = ", Frac("R²", "1 − R²"))
        return f, "λ = f² n,   ν₁ = p,   ν₂ = n − p − 1", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of the whole regression model: its statistic follows a noncentral F "
            "distribution with p and n − p − 1 degrees of freedom and noncentrality λ = f² · n, given the predictors."
        )


@register
class RegressionAdded(Model):
    """Terms added to a regression."""

    id = "regression-added"
    title = "Multiple regression: added terms"
    summary = "Do further predictors, such as a moderator's products, explain more of a measured outcome?"
    in_protocol = InProtocol(
        "The contribution of {tested.terms} to the regression of {outcome}, adjusted for {others}, will be tested",
        "the F test of the added terms",
        FROM_F,
        sided=False,
        cites=(*NONCENTRAL_F_OF_REGRESSION, COHEN_COHEN),
    )
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
        "regression: terms added to a model",
    )
    buys = "Asks what some terms add to a model that has the others already."
    assumptions = (F_SQUARED, _FULL, _REDUCED, ALPHA, POWER, TOTAL, DROPOUT, _TESTED, PREDICTORS)
    ways = ((Way("f²", ("f_squared",)), Way("R² with and without", ("r_squared_full", "r_squared_reduced"))),)
    elementwise = elementwise("f_squared", "r_squared_full", "r_squared_reduced")
    starting = {"f_squared": 0.15, "tested": 2, "predictors": 5}
    derived = (Derived("Sample", "df1", "numerator df"), Derived("Sample", "df2", "denominator df"))

    @override
    def comparison(self, values: Values, find: str) -> ModelPlan:
        tested, predictors = values["tested"], values["predictors"]
        if tested > predictors:
            raise RequestError("tested", f"{tested} terms are tested, but the model has only {predictors} predictors.")
        return ModelPlan(**self.basis(values, find), tested=tested, predictors=predictors)

    @override
    def stated_effect(self, values: Values) -> Number:
        return stated(values, "f_squared", _added_f_squared(values))

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """On top of what the model explains without the tested terms."""
        reduced = values.get("r_squared_reduced")
        full = 0.0 if reduced is None else rounded((effect + reduced) / (1 + effect))
        return {} if reduced is None else {"r_squared_full": full, "r_squared_reduced": reduced}

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """F² as what is added to a model that explains nothing."""
        added = _added_f_squared(values)
        if added is not None:
            return {**values, "f_squared": rounded(added)}
        f_squared = values.get("f_squared", 0.0)
        return {**values, "r_squared_full": rounded(f_squared / (1 + f_squared)), "r_squared_reduced": 0.0}

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = f"f² = {{f_squared}}{or_more(find)}"
        if "r_squared_full" in values and find != "effect":
            shown = "R² = {r_squared_full} with, {r_squared_reduced} without, f² = {f_squared}"
        one = values.get("tested") == 1
        alone = values.get("predictors", 0) == values.get("tested", 1)
        effect = f"the effect of {{tested.terms}} ({shown}){'' if alone else ', adjusted for {others}'}"
        return Saying("{n}", effect, f"the F test of the added {'term' if one else 'terms'}")

    @override
    def claim(self, values: Values) -> Claim:
        where = "ΔR² is the share of the variance that the added terms explain beyond the others."
        return Claim("ΔR² = 0", "ΔR² > 0", (where,))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 9."""
        f = row("f² = ", Frac("ΔR²", "1 − R²"))
        return f, "λ = f² n,   ν₁ = terms tested,   ν₂ = n − p − 1", power_of_f()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the F test of the terms added to a regression model: its statistic follows a "
            "noncentral F distribution with as many numerator degrees of freedom as terms tested, n − p − 1 "
            "denominator "
            "degrees of freedom and noncentrality λ = f² · n, given the predictors."
        )


def _added_f_squared(values: Values) -> Number | None:
    if "r_squared_full" not in values:
        return None
    full, reduced = values["r_squared_full"], values["r_squared_reduced"]
    refuse_where(
        reduced > full,
        "r_squared_reduced",
        lambda: (
            f"The model explains less with the tested terms ({plain_number(full)}) than without "
            f"({plain_number(reduced)}): terms cannot take explained variance away."
        ),
    )
    return (full - reduced) / (1 - full)
