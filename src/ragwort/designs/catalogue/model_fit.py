"""The fit of a structural equation model."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import agree
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, TOTAL, Assumption
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Sub, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import Saying, degrees
from ragwort.designs.plan import Basis
from ragwort.designs.protocol import FROM_CHI, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import MACCALLUM
from ragwort.stats import simulated
from ragwort.stats.fit import FitTest
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import fit

_FEW = 200  # people under which the chi-square distribution is poor
_FURTHEST = 10.0  # RMSEA that is looked at

_RMSEA = Assumption(
    "rmsea",
    "RMSEA",
    "number",
    "Effect",
    "The misfit per degree of freedom that the model has in truth. Above the reference: how poor a fit must not go "
    "unnoticed. Below it: how close the fit is that is to be shown closer than the reference.",
    symbol="ε",
    low=0,
    high=_FURTHEST,
    usual="below 0.05 close, 0.08 fair, 0.10 poor (MacCallum, Browne and Sugawara, 1996, page 134)",
)
_DF = Assumption(
    "df",
    "Degrees of freedom",
    "count",
    "Structure",
    "Of the model: how many variances and covariances of the observed variables it leaves free to disagree.",
    symbol="ν",
    low=1,
    high=1_000_000,
)


@dataclass(frozen=True)
class ModelFitPlan(StatisticPlan):
    """`effect` is the RMSEA less the reference; `sides` say where the test looks: `less` for a closer fit."""

    null: Number
    df: int

    something = "an RMSEA other than the reference"
    in_truth = "the fit of the reference"
    effect_scale = 0.01
    single = ("sides",)
    traits = frozenset({"measured"})

    @override
    def furthest(self, up: bool) -> float:
        return float(_FURTHEST - self.null if up else -self.null)

    @property
    def rmsea(self) -> Number:
        """The planned RMSEA."""
        return np.maximum(self.null + self.effect, 0.0)

    @override
    def test(self, groups: Sizes) -> FitTest:
        """MacCallum, Browne and Sugawara (1996), page 138."""
        each = (groups[0] - 1) * self.df
        poorer = np.where(np.asarray(self.effect) == 0, self.sides == "greater", np.asarray(self.effect) > 0)
        return FitTest(each * self.rmsea**2, each * self.null**2, self.df, poorer.astype(float))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> fit.Variables:
        misfit = self.df * float(self.null + population.taken(float(self.effect), ())) ** 2
        return fit.draw_variables(population, count, sizes[0], self.df, misfit)

    @override
    def analyse(self, data: fit.Variables, way: str = "") -> simulated.Found:
        return fit.analyse_fit(data, self.df, self.null, self.level)

    @property
    @override
    def nothing(self) -> float:
        return float(self.null)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"rmsea": self.rmsea}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if groups[0, 0] >= _FEW:
            return []
        return [f"With fewer than {_FEW} the statistic is only roughly chi-square: real power is mostly higher."]


@register
class ModelFit(OneSample):
    """A structural equation model's fit against a reference."""

    id = "model-fit"
    title = "Structural equation model: close fit"
    summary = "Does a structural equation model fit worse, or more closely, than a reference value of the RMSEA?"
    in_protocol = InProtocol(
        "The fit of the model will be tested",
        {True: "test of not-close fit", False: "test of close fit"},
        FROM_CHI,
        by=lambda values: _is_closer(values, "" if "rmsea" in values else "effect"),
        sided=False,
        cites=(MACCALLUM,),
    )
    evidence = evidence.MODEL_FIT
    takes = {"measured": ("number",), "compared": ("relation",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "rmsea",
        "structural equation modelling",
        "sem",
        "confirmatory factor analysis",
        "test of close fit",
        "path model",
        "latent variables",
        "fit of a structural equation model",
    )
    buys = "It tests a whole model of many measures at once, not one relation after the other."
    assumptions = (
        _RMSEA,
        replace(
            _RMSEA,
            name="null_rmsea",
            label="Reference RMSEA",
            help="The fit that the test compares with: 0.05 for close fit, 0 for exact fit.",
            symbol="ε₀",
            default=0.05,
            usual="0.05 close fit, 0 exact fit (MacCallum, Browne and Sugawara, 1996, page 135)",
        ),
        DIRECTION,
        ALPHA,
        POWER,
        replace(TOTAL, low=2),
        DROPOUT,
        _DF,
        Assumption(
            "observed",
            "Observed variables",
            "count",
            "Structure",
            "How many measured variables the model explains: items or scores, not latent variables.",
            symbol="p",
            low=1,
            high=1000,
        ),
        Assumption(
            "parameters",
            "Free parameters",
            "count",
            "Structure",
            "How many numbers the model estimates: loadings, paths, variances and covariances that are not fixed.",
            symbol="q",
            low=0,
            high=1_000_000,
        ),
    )
    smallest = 2
    ways = (
        (Way("an RMSEA", ("rmsea",)),),
        (Way("variables and parameters", ("observed", "parameters")), Way("degrees of freedom", ("df",))),
    )
    stands_alone = frozenset({"df"})
    elementwise = elementwise("rmsea")
    starting = {"rmsea": 0.08, "observed": 12, "parameters": 28}
    derived = (Derived("Structure", "df", "degrees of freedom"),)
    data_assumptions = (
        "Observations of different participants are independent.",
        "The observed variables follow a multivariate normal distribution, without missing values.",
        "The model is fitted by maximum likelihood.",
    )
    approximation = "The statistic is noncentral chi-square in large samples only."

    @override
    def basis(self, values: Values, find: str) -> Basis:
        """The test looks to the side of the reference on which the effect lies."""
        basis = super().basis(values, find)
        down = values.get("direction") == "down" if find == "effect" else bool(np.all(np.asarray(basis["effect"]) < 0))
        return Basis(**{**basis, "sides": "less" if down else "greater"})

    @override
    def comparison(self, values: Values, find: str) -> ModelFitPlan:
        return ModelFitPlan(**self.basis(values, find), null=values["null_rmsea"], df=_df(values))

    @override
    def stated_effect(self, values: Values) -> Number:
        return values["rmsea"] - values.get("null_rmsea", 0.05)

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = dict(values)
        if {"observed", "parameters"} <= set(known):
            known.setdefault("df", _left_over(known))
        elif "df" in known:
            known["observed"] = math.isqrt(2 * known["df"] + 1) + 1  # the fewest, or one more, that leave parameters
            known["parameters"] = _moments(known["observed"]) - known["df"]
        return known

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down = _is_closer(values, find)
        stated = "df" in values or not {"observed", "parameters"} <= set(values)
        freedom = degrees(values.get("df")) if stated else _degrees_left(values)
        side = "" if find != "effect" else " or less" if down else " or more"
        effect = f"an RMSEA of {{rmsea}}{side} against one of {{null_rmsea}} ({freedom})"
        return Saying("{n}", effect, f"a test of {'not-close' if down else 'close'} fit")

    @override
    def claim(self, values: Values) -> Claim:
        null, other = ("≥", "<") if values.get("rmsea", 1.0) < values["null_rmsea"] else ("≤", ">")
        reference = plain_number(values["null_rmsea"])
        return Claim(f"ε {null} {reference}", f"ε {other} {reference}", ("ε is the model's RMSEA in the population.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        closer = values.get("rmsea", 1.0) < values["null_rmsea"]
        tail, relation = ("α", "<") if closer else ("1−α", ">")
        power = row(f"1 − β = P(χ²′(ν, λ) {relation} ", Sub("χ²′", f"{tail}, ν, λ₀"), ")")
        df = () if "df" in values else ("ν = p(p + 1)/2 − q",)
        return *df, "λ = (n − 1) ν ε²,   λ₀ = (n − 1) ν ε₀²", power

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the likelihood ratio test of a model's fit: its statistic is taken to follow a noncentral chi-square "
            "distribution with noncentrality (n − 1) · df · RMSEA², both at the reference and at the planned fit."
        )


def _is_closer(values: Values, find: str) -> bool:
    if find == "effect":
        return bool(values.get("direction") == "down")
    return bool(values.get("rmsea", 1.0) < values.get("null_rmsea", 0.05))


def _moments(observed: int) -> int:
    """How many variances and covariances so many variables have."""
    return observed * (observed + 1) // 2


def _left_over(values: Values) -> int:
    """What the parameters leave; below 1 where there are too many."""
    return int(_moments(values["observed"]) - values["parameters"])


def _degrees_left(values: Values) -> str:
    """In words; a dash where the parameters are too many."""
    left = _left_over(values)
    return degrees(left).replace("{df}", f"{left}" if left >= 1 else "\u2014")


def _df(values: Values) -> int:
    """The degrees of freedom. Raises `RequestError`."""
    if "observed" not in values or "parameters" not in values:
        return int(values["df"])
    moments, df = _moments(values["observed"]), _left_over(values)
    if df < 1:
        raise RequestError(
            "parameters",
            f"{values['observed']} variables have {moments} variances and covariances, so the model may have at most "
            f"{moments - 1} free parameters, not {values['parameters']}.",
        )
    if "df" in values and not agree(float(values["df"]), float(df)):
        raise RequestError("df", f"df is {values['df']}, but the variables and parameters make it {df}.")
    return int(df)
