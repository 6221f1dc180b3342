"""Two independent correlations.

Source: Fisher, *Statistical Methods for Research Workers* (14th ed., 1970), section 35; Cohen (1988), chapter 4.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_z, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.remarks import General
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import COHEN, FISHER
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import relations
from ragwort.stats.statistic import NormalTest

_FURTHEST = 18.0  # on Fisher's scale
_FEW = 25  # in a group, under which the transformation is visibly approximate

_RHO2 = Assumption(
    "rho2",
    "Correlation in group 2",
    "number",
    "Effect",
    "The correlation that you expect in the second group, or the nearest to the first group's that would matter.",
    words="Correlation, {group2}",
    symbol="ρ₂",
    low=-1,
    high=1,
    open_low=True,
    open_high=True,
)


@dataclass(frozen=True)
class TwoCorrelationsPlan(StatisticPlan):
    """`effect` is q = atanh rho2 - atanh rho1, the distance on Fisher's scale."""

    rho1: float

    effect_scale = 0.2
    estimated = "q"
    traits = frozenset({"measured"})

    @override
    def furthest(self, up: bool) -> float:
        """Beyond it rho2 cannot be told from 1."""
        start = float(np.arctanh(self.rho1))
        return _FURTHEST - start if up else -_FURTHEST - start

    @property
    def rho2(self) -> Number:
        """The planned correlation in the second group."""
        return np.tanh(np.arctanh(self.rho1) + self.effect)

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Cohen (1988), section 4.2."""
        n1, n2 = groups
        return NormalTest(self.effect / np.sqrt(1 / (n1 - 3) + 1 / (n2 - 3)))

    @override
    def interval(self, groups: Sizes) -> Interval:
        n1, n2 = groups
        error = np.sqrt(1 / (n1 - 3) + 1 / (n2 - 3))
        return self.confidence.around(
            "difference of correlations (Fisher's z)", "number", self.effect, self.confidence.z * error
        )

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> relations.TwoRelations:
        rhos = (self.rho1, float(self.rho2))
        drawn = [relations.draw_relation(population, count, n, rho) for n, rho in zip(sizes, rhos, strict=True)]
        return relations.TwoRelations(*drawn)

    @override
    def analyse(self, data: relations.TwoRelations, way: str = "") -> simulated.Found:
        return relations.analyse_two_relations(data, self.level)

    @property
    @override
    def truth(self) -> float:
        """The distance on Fisher's scale."""
        return float(self.effect)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"rho2": self.rho2, "q": self.effect}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        few = float(np.min(groups[:, 0])) < _FEW
        more = f": with fewer than {_FEW} in a group power may be off by a few points" if few else ""
        said = f"Fisher's transformation is an approximation{more}."
        return [said if few else General(said)]


@register
class TwoCorrelations(TwoGroups):
    """Two independent groups compared on a correlation."""

    id = "two-correlations"
    title = "Two independent correlations"
    summary = "Are two measured variables more closely correlated in one group than in another?"
    in_protocol = InProtocol(
        "The correlation between {variables.1} and {variables.2} will be compared between {groups.1} and {groups.2}",
        "z test of two correlations by Fisher's transformation",
        FROM_NORMAL,
        cites=(COHEN.at("chapter 4"), FISHER.at("section 35")),
    )
    evidence = evidence.TWO_RELATIONS
    takes = {"measured": ("number",), "compared": ("relation",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "comparison of correlations",
        "difference between two correlations",
        "fisher's z test",
        "cohen's q",
    )
    buys = "It asks whether a relation differs between groups, which one correlation cannot show."
    assumptions = (
        _RHO2,
        replace(
            _RHO2,
            name="rho1",
            label="Correlation in group 1",
            help="The correlation in the first group, mostly from earlier studies.",
            words="Correlation, {group1}",
            symbol="ρ₁",
            required=True,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        *group_sizes(4),
        RATIO,
        BALANCE,
        DROPOUT,
    )
    smallest = 4
    ways = ((Way("a correlation", ("rho2",)),),)
    elementwise = elementwise("rho2")
    starting = {"rho1": 0.2, "rho2": 0.5}
    derived = (Derived("Effect", "q", "q"),)
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The two variables follow a bivariate normal distribution in both groups.",
    )
    approximation = (
        "The calculation uses Fisher's z transformation, an approximation that is good from about 25 per group."
    )

    @override
    def comparison(self, values: Values, find: str) -> TwoCorrelationsPlan:
        return TwoCorrelationsPlan(**self.basis(values, find), rho1=values["rho1"])

    @override
    def stated_effect(self, values: Values) -> Number:
        return np.arctanh(values["rho2"]) - np.arctanh(values["rho1"])

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (*super().names(values), Naming("variables", "Variables", ("the first", "the second variable")))

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "rho2"))
        apart = f"a correlation of {{rho1}} with {{groups.1}} and one of {{rho2}}{more} with {{groups.2}}"
        effect = f"a difference between {apart} (of {{variables.1}} and {{variables.2}})"
        looking = looking_for(values, "a higher correlation with {groups.2}", "a lower correlation with {groups.2}")
        return Saying(self.size_words(values, find), effect, "a {sides} z test of two correlations", looking)

    @override
    def claim(self, values: Values) -> Claim:
        where = "ρ₁ is the correlation with {groups.1}, ρ₂ the one with {groups.2}."
        return claim("ρ₂ − ρ₁", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        spread = Root(row(Frac("1", "n₁ − 3"), " + ", Frac("1", "n₂ − 3")))
        return row("δ = ", Frac("atanh ρ₂ − atanh ρ₁", spread)), power_of_z(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "with Fisher's z transformation, a normal approximation: atanh r is taken to vary around atanh ρ with "
            "variance 1/(n − 3) in each group."
        )
