"""One correlation against a known value.

Sources: Hotelling, Journal of the Royal Statistical Society B 15 (1953), pages 193-232; Fisher, *Statistical Methods
for Research Workers* (14th ed., 1970), section 35 (the z transformation).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, method
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Root, claim, power_of_z, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import FISHER, HOTELLING
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.pearson import CorrelationTest
from ragwort.stats.simulated import relations
from ragwort.stats.statistic import NormalTest, Test

_FURTHEST = 18.0  # on Fisher's scale
_FEW = 50  # under this the transformation is visibly approximate

_RHO = Assumption(
    "rho",
    "Correlation",
    "number",
    "Effect",
    "The correlation that you expect, or the smallest that would matter. A correlation seen in a small study is "
    "usually larger than the true one.",
    symbol="ρ",
    low=-1,
    high=1,
    open_low=True,
    open_high=True,
    usual="0.1 small, 0.3 medium, 0.5 large (Cohen, 1988, section 3.2), as a last resort",
)


@dataclass(frozen=True)
class CorrelationPlan(StatisticPlan):
    """`effect` is the distance from the null hypothesis on Fisher's scale: atanh rho - atanh null_rho."""

    null_rho: float
    method: str

    effect_scale = 0.2
    estimated = "correlation"
    single = ("null_rho",)
    traits = frozenset({"measured"})

    @override
    def furthest(self, up: bool) -> float:
        """Beyond it rho cannot be told from 1."""
        return _FURTHEST if up else -_FURTHEST

    @property
    def rho(self) -> Number:
        """The planned correlation."""
        return np.tanh(np.arctanh(self.null_rho) + self.effect)

    @override
    def test(self, groups: Sizes) -> Test:
        n = groups[0]
        if self.method == "fisher-z":
            return NormalTest(self.effect * np.sqrt(n - 3))
        return CorrelationTest(self.rho, self.null_rho, n)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> relations.Relation:
        return relations.draw_relation(population, count, sizes[0], float(self.rho))

    @override
    def analyse(self, data: relations.Relation, way: str = "") -> simulated.Found:
        return relations.analyse_relation(data, self.null_rho, self.method, self.level)

    @property
    @override
    def nothing(self) -> float:
        return self.null_rho

    @override
    def interval(self, groups: Sizes) -> Interval:
        error = 1 / np.sqrt(np.maximum(groups[0] - 3, 1))
        return self.confidence.through("correlation", "number", np.tanh, np.arctanh(self.rho), error)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"rho": self.rho, "r_squared": self.rho**2}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if self.method != "fisher-z" or groups[0, 0] >= _FEW:
            return []
        return ["Fisher's transformation is approximate with fewer than 50."]


@register
class Correlation(OneSample):
    """One correlation against a known value, usually 0."""

    id = "correlation"
    title = "Correlation: Pearson's r"
    summary = "Are two measured variables correlated, or more closely than a known value says?"
    in_protocol = InProtocol(
        "The correlation between {variables.1} and {variables.2} will be tested",
        {
            "exact": "exact test of Pearson's correlation",
            "fisher-z": "test of Pearson's correlation by Fisher's z transformation",
        },
        {"exact": "the exact distribution of r in a bivariate normal population", "fisher-z": FROM_NORMAL},
        cites={"exact": (HOTELLING,), "fisher-z": (FISHER.at("section 35"),)},
    )
    evidence = evidence.RELATION
    takes = {
        "measured": ("number",),
        "compared": ("relation",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "pearson correlation",
        "bivariate association",
        "r",
        "relationship between two measures",
    )
    buys = "Two measures are treated alike: neither explains the other."
    assumptions = (
        _RHO,
        replace(
            _RHO,
            name="null_rho",
            label="Reference correlation",
            help="The correlation without an effect; nearly always 0.",
            symbol="ρ₀",
            default=0.0,
            usual="",
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Exact: the sampling distribution of r itself. Fisher z: its normal approximation, for comparison with "
            "calculations by hand.",
            Choice("exact", "exact", "exact test"),
            Choice("fisher-z", "Fisher z", "test by Fisher's z"),
        ),
        POWER,
        TOTAL,
        DROPOUT,
    )
    smallest = 4
    ways = ((Way("a correlation", ("rho",)),),)
    elementwise = elementwise("rho", "null_rho")
    starting = {"rho": 0.3}
    derived = (Derived("Effect", "r_squared", "shared variance r²"),)
    data_assumptions = (
        "Observations of different participants are independent.",
        "The two variables follow a bivariate normal distribution.",
    )
    accuracies = {
        "exact": "The exact method integrates the distribution of r in a bivariate normal population.",
        "fisher-z": "Fisher's z is an approximation.",
    }
    approximation = " ".join(accuracies.values())

    @override
    def borrowed(self, values: Values) -> dict[str, Any]:
        """A partial correlation as if nothing were held constant."""
        return {"rho": values["partial_r"]} if "partial_r" in values else {}

    @override
    def comparison(self, values: Values, find: str) -> CorrelationPlan:
        return CorrelationPlan(**self.basis(values, find), null_rho=values["null_rho"], method=values["method"])

    @override
    def stated_effect(self, values: Values) -> Number:
        return np.arctanh(values["rho"]) - np.arctanh(values["null_rho"])

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (Naming("variables", "Variables", ("the first", "the second variable")),)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down = is_down(values, find, "rho")
        against = ", against one of {null_rho}" if values.get("null_rho") else ""
        effect = f"a correlation of {{rho}}{or_more(find, down)} between {{variables.1}} and {{variables.2}}{against}"
        looking = looking_for(values, "a higher correlation", "a lower correlation")
        return Saying("{n}", effect, "a {sides} {method} of Pearson's correlation", looking)

    @override
    def claim(self, values: Values) -> Claim:
        return claim("ρ", f"{values['null_rho']:g}", values["sides"], "ρ is the correlation in the population.")

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Fisher, Metron 1 (1921), pages 3-32."""
        sides = values["sides"]
        if values["method"] == "fisher-z":
            return row("δ = (atanh ρ − atanh ρ₀) ", Root("n − 3")), power_of_z(sides)
        low, high = "P(r ≤ c₁; ρ)", "P(r ≥ c₂; ρ)"
        power = {"two": f"{low} + {high}", "greater": high, "less": low}[sides]
        return f"1 − β = {power}", "c₁ and c₂ are the limits of r that the test at ρ₀ allows"

    @override
    def method_text(self, values: Values) -> str:
        if values["method"] == "fisher-z":
            return (
                "with Fisher's z transformation, a normal approximation: atanh r is taken to "
                "vary around atanh ρ with variance 1/(n − 3)."
            )
        return (
            "from the exact sampling distribution of Pearson's correlation in a bivariate normal "
            "population; the critical values are those of the distribution at the reference correlation."
        )
