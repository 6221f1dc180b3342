"""One sample, or differences within pairs, compared with a known value by ranks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, claim, power_of_two_variances, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import IN_SDS, SPREAD, Saying, is_down, looking_for, or_more
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import LEHMANN
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import means, ranks
from ragwort.stats.statistic import NormalTest

_FEW = 15  # under which the normal approximation is poor

D = Assumption(
    "d",
    "Effect size d",
    "number",
    "Effect",
    "How far the middle lies from the reference, in SDs of the values or of the differences within pairs.",
    symbol="d",
    usual="0.2 small, 0.5 medium, 0.8 large (Cohen, 1988, section 2.2.3), as a last resort",
)


@dataclass(frozen=True)
class SignedRankPlan(StatisticPlan):
    """`effect` is d for normal differences; `sd` is None where only d is stated."""

    sd: float | None

    effect_scale = 0.2
    traits = frozenset({"measured", "bounds"})

    @property
    @override
    def outcome_sd(self) -> float:
        return 1.0 if self.sd is None else float(self.sd)

    @override
    def furthest(self, up: bool) -> float:
        """Beyond it every difference has one sign."""
        return 8.0 if up else -8.0

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Lehmann (1998), section 4.2; methods of section 8, signed-rank."""
        n, d = groups[0], self.effect
        p1, p2 = special.ndtr(d), special.ndtr(np.sqrt(2) * d)
        p3 = p2 - 2 * special.owens_t(np.sqrt(2) * d, 1 / np.sqrt(3))  # two correlated by one half, both below
        apart = n * p1 + n * (n - 1) / 2 * p2 - n * (n + 1) / 4
        null = np.sqrt(n * (n + 1) * (2 * n + 1) / 24)
        pairs = n * (n - 1) / 2 * (2 * (p1 - p2) ** 2 + 3 * p2 * (1 - p2))
        own = n * p1 * (1 - p1) + pairs + n * (n - 1) * (n - 2) * (p3 - p2**2)
        return NormalTest(apart / null, np.sqrt(np.maximum(own, 0.0)) / null, mean=apart, null_variance=null**2)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.OneSample:
        centre = population.taken(float(self.effect), (count, sizes[0]))
        drawn = population.outcomes(centre, 1.0, (count, sizes[0]))
        return means.OneSample((self.sd or 1.0) * drawn, population.kept(drawn), 0.0)

    @override
    def analyse(self, data: means.OneSample, way: str = "") -> simulated.Found:
        return ranks.analyse_signed_ranks(data, self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        difference = {"difference": self.effect * (self.sd or 1.0)}
        return {"d": self.effect, **difference} if self.sd is None else {**difference, "d": self.effect}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        poor = f"with fewer than {_FEW}" if groups[0, 0] < _FEW else ""
        return [normal_approximation(poor, " (for normal differences)")]


@register
class SignedRank(OneSample):
    """One sample or pairs, by Wilcoxon's signed-rank test."""

    id = "signed-rank"
    title = "Wilcoxon signed-rank test"
    summary = (
        "Does an outcome, or a difference within pairs, with a symmetric distribution lie above, or below, a "
        "known value?"
    )
    in_protocol = InProtocol(
        "{subject} will be compared with the reference",
        "Wilcoxon signed-rank test",
        FROM_NORMAL,
        cites=(LEHMANN.at("chapter 4"),),
    )
    evidence = evidence.ONE_SHIFT
    takes = {
        "measured": ("number", "count"),
        "compared": ("known", "two"),
        "same": ("once", "twice"),
        "whole": ("no",),
    }
    known_as = (
        "wilcoxon signed rank",
        "nonparametric one sample test",
        "median against a value",
        "rank test of differences",
        "signed ranks of one sample",
    )
    buys = "A few extreme values do no harm, and where all is normal it needs hardly more people than the t test."
    assumptions = (
        replace(DIFFERENCE, help="How far the middle of the values, or of the differences within pairs, lies away."),
        replace(SD, help="The variability of the values, or of the differences within pairs, where they are normal."),
        D,
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        replace(TOTAL, low=5),
        DROPOUT,
    )
    smallest = 5
    ways = ((Way("a difference and an SD", ("difference", "sd")), Way("d", ("d",))),)
    stands_alone = frozenset({"sd"})
    elementwise = elementwise("difference", "d")
    starting = {"difference": 5.0, "sd": 10.0}
    derived = (Derived("Effect", "d", "d"),)
    data_assumptions = (
        "Participants, or pairs, are independent of each other.",
        "The distribution of the values, or of the differences within pairs, is symmetric.",
    )
    approximation = (
        "The calculation is a normal approximation with the variance under the alternative, for normal "
        "differences; poor with fewer than "
        "15."
    )

    @override
    def comparison(self, values: Values, find: str) -> SignedRankPlan:
        return SignedRankPlan(**self.basis(values, find), sd=values.get("sd"))

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """The SD is what a found difference stands on."""
        return super().unused_names(find) - {"sd"}

    @override
    def stated_effect(self, values: Values) -> Number:
        if "difference" not in values or "sd" not in values:
            return values.get("d", values.get("difference", 0.0))
        return stated(values, "d", values["difference"] / values["sd"], "the difference and the SD make it")

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """D as a difference on an SD of 10."""
        known = dict(values)
        if "difference" in known and "sd" in known:
            known.setdefault("d", rounded(known["difference"] / known["sd"]))
        elif "d" in known:
            known["sd"] = known.get("sd", 10.0)
            known["difference"] = rounded(known["d"] * known["sd"])
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        if "sd" not in values:
            return self.restate({"d": effect}, way)
        return self.restate({"sd": values["sd"], "difference": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "difference"))
        effect = f"a difference of {{difference}}{more} from the reference"
        if "sd" not in values:
            size = "{difference}" if find == "effect" else "{d}"
            effect = f"an effect size d of {size}{more}"
        looking = looking_for(values, "higher values", "lower values")
        return Saying(
            "{n}",
            effect,
            "a {sides} Wilcoxon signed-rank test",
            looking,
            aside=(SPREAD, IN_SDS) if "sd" in values else (),
        )

    @override
    def claim(self, values: Values) -> Claim:
        where = "θ is the middle of the values, or of the differences within pairs, less the reference."
        return claim("θ", "0", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        apart = row("Δ = n p₁ + ", Frac("n(n − 1)", "2"), " p₂ − ", Frac("n(n + 1)", "4"))
        shares = "p₁ = Φ(d),   p₂ = Φ(√2 d),   p₃ = Φ₂(√2 d, √2 d; 1/2)"
        null = row("V₀ = ", Frac("n(n + 1)(2n + 1)", "24"))
        pairs = row(Frac("n(n − 1)", "2"), "(2(p₁ − p₂)² + 3p₂(1 − p₂))")
        own = row("V₁ = n p₁(1 − p₁) + ", pairs, " + n(n − 1)(n − 2)(p₃ − p₂²)")
        return shares, apart, null, own, power_of_two_variances(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for Wilcoxon's signed-rank test as a normal approximation: the sum of the positive ranks has its variance "
            "under the null hypothesis and, for normal differences, that under the alternative."
        )
