"""One mean, or the mean difference within pairs, with a wanted precision."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs import evidence
from ragwort.designs.agreement import scatter_within_pairs, stated
from ragwort.designs.assumption import DROPOUT, TOTAL, Assumption, Choice, rounded
from ragwort.designs.catalogue.means.assumptions import SD, SD1, SD2
from ragwort.designs.catalogue.precision.common import (
    CHANCE,
    CONFIDENCE,
    DESIGN_EFFECT,
    GOAL,
    HALF_WIDTH,
    POPULATION,
    Estimated,
    PreciseSample,
    chi_square_below,
    in_bounds,
    quantile_of_chi_square,
)
from ragwort.designs.design import Derived, Values, Way, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, Sub, row
from ragwort.designs.kinds.precision import PrecisionPlan
from ragwort.designs.phrases import Naming
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import COCHRAN, KUPPER_HAFNER
from ragwort.stats import simulated
from ragwort.stats.effects import sd_of_differences
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated import means


@dataclass(frozen=True)
class MeanPrecisionPlan(PrecisionPlan):
    """An interval by t, or by z where the SD is known; of people without an end, or of a part of a population."""

    sd: float = 1.0
    known: bool = False
    population: float = np.inf
    design_effect: float = 1.0

    traits = frozenset({"measured", "bounds"})
    reported = simulated.MOMENTS

    @property
    @override
    def last_step(self) -> int:
        return int(min(self.counting.highest, self.population))

    @property
    @override
    def outcome_sd(self) -> float:
        return float(self.sd)

    def _variance(self, groups: Sizes) -> Array:
        """Of the mean, over that of one outcome: Cochran (1977), section 2.6."""
        return np.asarray(self.design_effect * (1 - groups[0] / self.population) / groups[0])

    @override
    def half_width(self, groups: Sizes) -> Array:
        reach = self.confidence.z if self.known else self.confidence.t(groups[0] - 1)
        return np.asarray(reach * self.sd * np.sqrt(self._variance(groups)))

    @override
    def chance(self, groups: Sizes) -> Array:
        """Kupper and Hafner, The American Statistician 43 (1989), pages 101-105."""
        if self.known:
            return self._met(groups)
        df, scale = groups[0] - 1, (self.confidence.t(groups[0] - 1) * self.sd) ** 2 * self._variance(groups)
        with np.errstate(divide="ignore"):
            return np.asarray(np.where(scale > 0, chi_square_below(df * self.effect**2 / scale, df), 1.0))

    @override
    def width_with_chance(self, groups: Sizes) -> Array:
        df = groups[0] - 1
        return np.asarray(self.half_width(groups) * np.sqrt(quantile_of_chi_square(self.target, df) / df))

    @override
    def confidence_kept(self, groups: Sizes) -> float:
        df, scale = groups[0] - 1, self.sd * np.sqrt(self._variance(groups))
        if self.assured:
            scale = scale * np.sqrt(quantile_of_chi_square(self.target, df) / df)
        with np.errstate(divide="ignore"):
            reach = self.effect / scale
        found = 2 * (special.ndtr(reach) if self.known else special.stdtr(df, reach)) - 1
        return in_bounds(float(np.ravel(found)[0]), float(self.effect))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.OneSample:
        drawn = population.outcomes(0.0, 1.0, (count, sizes[0]))
        return means.OneSample(self.sd * drawn, population.kept(drawn), 0.0)

    @override
    def analyse(self, data: means.OneSample, way: str = "") -> simulated.Found:
        return self.narrow(means.analyse_one_mean(data.values, data.kept, self.sd if self.known else None, self.level))

    @property
    @override
    def truth(self) -> float:
        """Outcomes are drawn as distances from the mean."""
        return 0.0

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {} if self.known else {"df": groups[0] - 1}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if self.design_effect == 1 and np.isinf(self.population):
            return []
        return ["With a design effect or a population the interval is an approximation."]


@register
class PrecisionMean(PreciseSample):
    """The interval of one mean, or of the mean difference within pairs."""

    id = "precision-mean"
    title = "Precision of a mean: confidence interval"
    summary = "How large is a mean, or a mean difference within pairs, to within so much?"
    has_goal = True
    smallest = 2
    in_protocol = InProtocol(
        "{subject} will be estimated as a mean",
        {False: "t interval", True: "z interval"},
        {False: "the t distribution", True: "the normal distribution"},
        by="sd_known",
        sided=False,
        cites=(COCHRAN.at("chapter 4"), KUPPER_HAFNER),
    )
    evidence = evidence.SPREAD_OF_ONE
    takes = {
        "measured": ("number", "count"),
        "compared": ("known", "two"),
        "same": ("once", "twice"),
        "whole": ("no",),
    }
    known_as = (
        "confidence interval of a mean",
        "margin of error",
        "estimate a mean",
        "survey",
        "bioassay",
        "pilot",
        "finite population correction",
    )
    buys = "The study says how large something is, to within a stated distance, in place of whether it differs."
    assumptions = (
        HALF_WIDTH,
        SD,
        replace(SD1, label="SD of the first", words="", help="Standard deviation of the first value of each pair."),
        replace(SD2, label="SD of the second", words="", help="Standard deviation of the second value of each pair."),
        Assumption(
            "correlation",
            "Correlation within pairs",
            "number",
            "Effect",
            "How alike the two values of a pair are: the higher, the less their difference varies.",
            symbol="ρ",
            low=-1,
            high=1,
        ),
        CONFIDENCE,
        Assumption(
            "sd_known",
            "Standard deviation is",
            "switch",
            "Error rates",
            "Estimated: the t interval, the usual case. Known: the z interval, only where the SD is truly known.",
            default=False,
            choices=(Choice("no", "estimated", "t interval"), Choice("yes", "known", "z interval")),
        ),
        GOAL,
        CHANCE,
        TOTAL,
        POPULATION,
        DESIGN_EFFECT,
        DROPOUT,
    )
    ways = ((Way("one SD", ("sd",)), Way("SDs of the pairs and a correlation", ("sd1", "sd2", "correlation"))),)
    starting = {"half_width": 3.0, "sd": 10.0}
    derived = (Derived("Sample", "df", "degrees of freedom"),)
    data_assumptions = (
        "Observations of different participants are independent, but for the design effect.",
        "The outcome is approximately normal, or the sample is large enough for the mean to be.",
    )
    approximation = (
        "The interval is exact where the outcome is normal; with a population or a design effect it is an "
        "approximation. In about half of studies the planned half width is exceeded."
    )

    @override
    def comparison(self, values: Values, find: str) -> Plan:
        assured, known = self.is_assured(values), bool(values["sd_known"])
        if assured and known:
            raise RequestError("goal", "Where the SD is known the half width does not vary: let it hold as planned.")
        if assured and values["design_effect"] != 1:
            raise RequestError(
                "design_effect",
                "With a chance the half width is worked out for simple random samples: design effect 1.",
            )
        worked_out = scatter_within_pairs(values) if "sd1" in values and "correlation" in values else None
        return MeanPrecisionPlan(
            **self.basis(values, find),
            assured=assured,
            sd=stated(values, "sd", worked_out),
            known=known,
            population=float(values.get("population", np.inf)),
            design_effect=float(values["design_effect"]),
        )

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """Of pairs with a usual correlation of a half the differences scatter as the values do."""
        known = super().in_other_words(values)
        if all(name in known for name in ("sd1", "sd2", "correlation")):
            known.setdefault("sd", rounded(float(sd_of_differences(known["sd1"], known["sd2"], known["correlation"]))))
        elif "sd" in known:
            known |= {"sd1": known["sd"], "sd2": known["sd"], "correlation": 0.5}
        return known

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return ()

    @override
    def estimated(self, values: Values) -> Estimated:
        if "sd" in values:
            return Estimated("the mean", ("the SD is {sd}",))
        return Estimated(
            "the mean difference within pairs", ("the SDs are {sd1} and {sd2}", "their correlation is {correlation}")
        )

    @override
    def claim(self, values: Values) -> Claim:
        return Claim("", "", ("μ is the mean in the population.",))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        known = bool(values.get("sd_known"))
        limit = Sub("z", "1−α/2") if known else Sub("t", "1−α/2, n − 1")
        shrunk = row("deff(1 − n/N)")
        error = Root(Frac(shrunk, "n")) if values.get("population") or values.get("design_effect", 1) != 1 else None
        width = row("w = ", limit, " σ", error) if error else row("w = ", limit, Frac("σ", Root("n")))
        if not self.is_assured(values):
            return (width,)
        chance = row("P(χ²(n − 1) ≤ ", Frac("(n − 1)n w²", row("t", "²", "σ²")), ")")
        return width, row("chance = ", chance)

    @override
    def method_text(self, values: Values) -> str:
        kind = "z" if values.get("sd_known") else "t"
        more = "; its chance from the chi-square distribution of the variance" if self.is_assured(values) else ""
        return f"as half of the {kind} interval of a mean{more}."
