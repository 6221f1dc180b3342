"""A yes or no explained by one predictor, others allowed for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache, partial
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, rounded
from ragwort.designs.catalogue.proportions.common import proportion
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_z, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.phrases import Saying, is_down, looking_for, or_more
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import DEMIDENKO, HSIEH
from ragwort.stats import simulated
from ragwort.stats.logistic import furthest, variance_binary, variance_normal
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import logistic
from ragwort.stats.statistic import NormalTest

_FEW = 10  # events, or people without one, expected for each predictor, under which the test is poor

_ODDS_RATIO = Assumption(
    "odds_ratio",
    "Odds ratio",
    "number",
    "Effect",
    "By what the odds of the event are multiplied: for one SD more of a measured predictor, or for a binary "
    "one. Odds of 1 to 4 times 1.5 are 1.5 to 4.",
    symbol="OR",
    low=0,
    open_low=True,
)
_PREDICTOR = Assumption(
    "predictor",
    "Predictor",
    "choice",
    "Structure",
    "Measured: roughly normal, counted in its SDs. Binary: such as exposed and not exposed.",
    default="normal",
    choices=(Choice("normal", "measured, in its SDs"), Choice("binary", "binary")),
)
_SHARED = Assumption(
    "r_squared_predictors",
    "R² with others",
    "number",
    "Structure",
    "How much of the predictor's variance the other predictors of the model explain; 0 without others.",
    symbol="R²",
    low=0,
    high=1,
    open_high=True,
    default=0.0,
)


@dataclass(frozen=True)
class LogisticPlan(StatisticPlan):
    """`effect` is the log odds ratio; `share` is of a yes-or-no predictor."""

    base: Number  # probability of a yes at the predictor's mean, or without it
    binary: bool
    share: Number
    shared: Number
    by_probability: bool = False  # whether what is found is reported as a second probability

    effect_scale = 0.1
    estimated = "log odds ratio"
    something = "an odds ratio other than 1"
    single = ("binary",)

    def variance(self, effect: Number) -> Array:
        """n times the variance of the coefficient, without other predictors."""
        if self.binary:
            return variance_binary(effect, self.base, self.share)
        return variance_normal(effect, self.base)

    @override
    def furthest(self, up: bool) -> float:
        """Where Wald's test has most power."""
        return _most(float(self.base), float(self.share) if self.binary else None, up)

    @property
    def planned(self) -> Number:
        """The probability of a yes one SD above the mean, or with the predictor."""
        return special.expit(special.logit(self.base) + self.effect)

    @override
    def interval(self, groups: Sizes) -> Interval:
        error = np.sqrt(self.variance(self.effect) / (1 - self.shared) / groups[0])
        return self.confidence.through("odds ratio", "ratio", np.exp, self.effect, error)

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Demidenko (2007), equation 4."""
        each = self.variance(self.effect) / (1 - self.shared)
        return NormalTest(self.effect * np.sqrt(groups[0] / each))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> logistic.Explained:
        base, slope = float(special.logit(self.base)), float(self.effect)
        share = float(self.share) if self.binary else None
        return logistic.draw_explained(population, count, sizes[0], base, slope, share, float(self.shared))

    @override
    def analyse(self, data: logistic.Explained, way: str = "") -> simulated.Found:
        return logistic.analyse_explained(data, self.level)

    @property
    @override
    def truth(self) -> float:
        """The log odds ratio."""
        return float(self.effect)

    @override
    def effect_report(self) -> dict[str, Number]:
        ratio, probability = {"odds_ratio": np.exp(np.asarray(self.effect))}, {"probability2": self.planned}
        if not self.binary:
            return ratio
        return {**probability, **ratio} if self.by_probability else {**ratio, **probability}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        rate = self._rate()
        few = min(rate, 1 - rate) * float(groups[0, 0])
        shared = (
            ", for all model terms together" if few >= _FEW else f", fewer than {_FEW}: real power may be points off"
        )
        said = [normal_approximation(), f"About {few:.0f} of the rarer outcome are expected{shared}."]
        passed_over = ["probability2 was given but is not used when effect is found."] if self.by_probability else []
        return [*said, *passed_over]

    def _rate(self) -> float:
        """How many of all are expected to have a yes."""
        if self.binary:
            return float(np.ravel((1 - self.share) * self.base + self.share * self.planned)[0])
        x = np.linspace(-8, 8, 321)
        chance = special.expit(special.logit(self.base) + float(np.ravel(self.effect)[0]) * x)
        weight = np.exp(-(x**2) / 2)
        return float(chance @ weight / weight.sum())


@lru_cache(maxsize=256)
def _most(base: float, share: float | None, up: bool) -> float:
    if share is None:
        return furthest(partial(variance_normal, probability=base), up)
    return furthest(partial(variance_binary, probability1=base, share=share), up)


@register
class Logistic(WithLooks, OneSample):
    """One coefficient of a logistic regression."""

    id = "logistic"
    title = "Logistic regression: one predictor"
    summary = "Is a predictor, measured or binary, associated with a binary outcome, with the others held constant?"
    in_protocol = InProtocol(
        "The association between the predictor and {outcome} will be tested",
        "Wald test in a logistic regression",
        FROM_NORMAL,
        cites=(DEMIDENKO, HSIEH),
    )
    evidence = evidence.ODDS
    takes = {"measured": ("yes-no",), "compared": ("relation", "two"), "same": ("once",), "whole": ("no",)}
    known_as = (
        "odds ratio",
        "binary logistic regression",
        "risk factor",
        "predictor of a yes",
        "adjusted odds ratio",
        "case control odds",
    )
    buys = "A measured predictor keeps all its values, and other predictors are allowed for."
    smallest = 10
    assumptions = (
        _ODDS_RATIO,
        replace(
            proportion(
                "probability",
                "Probability at the mean",
                "The probability of the event for somebody with a mean value of the predictor.",
                "p",
            ),
            required=True,
        ),
        replace(
            proportion(
                "probability1",
                "Yes without it",
                "The probability of the event among those without the predictor, such as the not exposed.",
                "p₁",
            ),
            required=True,
        ),
        proportion(
            "probability2",
            "Yes with it",
            "The probability of the event among those with the predictor, such as the exposed.",
            "p₂",
        ),
        replace(
            proportion(
                "share", "Share with it", "How many of all have the predictor: half where it is allocated.", "B"
            ),
            default=0.5,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        replace(TOTAL, low=10),
        DROPOUT,
        _PREDICTOR,
        _SHARED,
        *LOOKS,
    )
    ways = ((Way("an odds ratio", ("odds_ratio",)), Way("two probabilities", ("probability2",))),)
    elementwise = elementwise("odds_ratio")
    starting = {"probability": 0.2, "odds_ratio": 1.5}
    derived = (Derived("Effect", "odds_ratio", "odds ratio"), Derived("Effect", "probability2", "yes with it"))
    data_assumptions = (
        "Observations of different participants are independent.",
        "The outcome is binary, and the log odds are linear in the predictor.",
        "The predictor is approximately normal, or binary.",
    )
    approximation = (
        "Wald's test is a normal approximation, poor where fewer than 10 events, or non-events, are expected for each "
        "predictor."
    )

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        binary = values.get("predictor", "normal") == "binary"
        own = {"probability"} if binary else {"probability1", "probability2", "share"}
        return super().idle_names(values) | own

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """A second probability says how a found effect is reported."""
        return super().unused_names(find) - {"probability2"}

    @override
    def comparison(self, values: Values, find: str) -> LogisticPlan:
        own = {"base": _base(values), "binary": _is_binary(values), "share": values["share"]}
        found = find == "effect" and _is_binary(values) and "probability2" in values
        shared = values["r_squared_predictors"]
        return LogisticPlan(**self.basis(values, find), **own, shared=shared, by_probability=found)

    @override
    def stated_effect(self, values: Values) -> Number:
        if not _is_binary(values) or "probability2" not in values:
            return np.log(values.get("odds_ratio", 1.0))
        ratio = np.exp(special.logit(values["probability2"]) - special.logit(_base(values)))
        return np.log(stated(values, "odds_ratio", ratio, "the two probabilities make it"))

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        known = dict(values)
        if not _is_binary(known) or "probability1" not in known:
            return known
        odds = special.logit(known["probability1"])
        if "probability2" in known:
            known.setdefault("odds_ratio", rounded(float(np.exp(special.logit(known["probability2"]) - odds))))
        elif "odds_ratio" in known:
            known["probability2"] = rounded(float(special.expit(odds + np.log(known["odds_ratio"]))))
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        by_probability = _is_binary(values) and "probability2" in values
        kept = {name: values[name] for name in ("predictor", "probability1") if name in values}
        return self.restate({**kept, "probability2" if by_probability else "odds_ratio": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "odds_ratio"))
        shared = "R² with the others {r_squared_predictors}" if values.get("r_squared_predictors") else ""
        after = f"; {shared}" if shared else ""
        if not _is_binary(values):
            odds = f"an odds ratio of {{odds_ratio}}{more}"
            effect = f"{odds} per SD of the predictor (event probability {{probability}} at its mean{after})"
        elif "probability2" in values and find != "effect":
            effect = "an event in {probability2} of those with the predictor and {probability1} of those without it"
            effect += f" ({shared})" if shared else ""
        else:
            having = (
                f"for a binary predictor (prevalence {{share}}; event probability {{probability1}} without it{after})"
            )
            effect = f"an odds ratio of {{odds_ratio}}{more} {having}"
        looking = looking_for(values, "more events", "fewer events")
        return Saying("{n}", effect, "a {sides} Wald test of logistic regression", looking)

    @override
    def claim(self, values: Values) -> Claim:
        return claim("β", "0", values["sides"], "β is the log odds ratio of the predictor in the population.")

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        noncentrality = row("δ = β ", Root(Frac("n (1 − R²)", "V")))
        if _is_binary(values):
            without, own = Frac("1", "(1 − B) p₁(1 − p₁)"), Frac("1", "B p₂(1 − p₂)")
            return noncentrality, row("V = ", without, " + ", own), power_of_z(values["sides"])
        moments = "Iⱼ is the mean of Xʲ P(1 − P) over a standard normal X, logit P = logit p + β X"
        return noncentrality, row("V = ", Frac("I₀", "I₀ I₂ − I₁²")), moments, power_of_z(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for Wald's test of one coefficient of a logistic regression as a normal approximation, with the "
            "information that the planned effect leaves about it (Demidenko)."
        )


def _is_binary(values: Values) -> bool:
    return bool(values.get("predictor", "normal") == "binary")


def _base(values: Values) -> Any:
    """The probability that the effect starts from. Raises `RequestError`."""
    name = "probability1" if _is_binary(values) else "probability"
    if name not in values:
        raise RequestError(name, f"This predictor needs {name}, the probability that its effect starts from.")
    return values[name]
