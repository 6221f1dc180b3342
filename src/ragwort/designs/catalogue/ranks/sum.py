"""Two independent groups compared by ranks."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs import evidence
from ragwort.designs.agreement import need_whole, stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.means.assumptions import DIFFERENCE, SD
from ragwort.designs.catalogue.ranks.pairs_seen import pairs_seen
from ragwort.designs.catalogue.ranks.signed import D
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, claim, power_of_two_variances, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.phrases import IN_SDS, OF_VALUES, SPREAD, Saying, is_down, looking_for, or_more
from ragwort.designs.protocol import BETWEEN, FROM_NORMAL, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import Sizes
from ragwort.designs.works import LEHMANN, NOETHER
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import means, ranks
from ragwort.stats.statistic import NormalTest

_FIFTHS = 5
_NEVER = 1e-15  # a chance that is lost in rounding beside a half
_FEW = 15  # in a group, under which the normal approximation is poor
Shares = tuple[tuple[float, ...], tuple[float, ...]]

_PROBABILITY = Assumption(
    "probability",
    "Probability of superiority",
    "share",
    "Effect",
    "The chance that somebody of group 2 has a higher outcome than somebody of group 1, ties counted half. One half is "
    "no effect; 64% are half an SD of normal outcomes.",
    symbol="p",
    low=0,
    high=1,
    open_low=True,
    open_high=True,
)
_PROPORTIONS = Assumption(
    "proportions1",
    "Categories, group 1",
    "list",
    "Effect",
    "The share of each ordered category in the first group, from the lowest on, together 1: 0.2, 0.5, 0.3.",
    words="Categories, {group1}",
    low=0,
    high=1,
    shortest=2,
    adds_to_one=True,
)


@dataclass(frozen=True)
class RankSumPlan(StatisticPlan):
    """`effect` is d of normal outcomes, or the probability of superiority less one half."""

    kind: str  # normal, chance or categories
    sd: float | None
    shares: Shares | None = None
    passed_over: bool = False  # whether a d was given that is to be found

    effect_scale = 0.1
    estimated = "probability of superiority"
    single = ("kind",)
    traits = frozenset({"arms"})

    @override
    def furthest(self, up: bool) -> float:
        end = 12.0 if self.kind == "normal" else 0.5 * (1 - 1e-15)
        return end if up else -end

    @property
    @override
    def something(self) -> str:  # type: ignore[override]  # in the words in which it is stated
        return "a chance other than 50%" if self.kind == "chance" else "an effect other than 0"

    @property
    def chance(self) -> Number:
        """That somebody of group 2 has the larger outcome."""
        return special.ndtr(self.effect / np.sqrt(2)) if self.kind == "normal" else 0.5 + self.effect

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Lehmann (1998), sections 2.1 and 2.3; methods of section 8, rank-sum."""
        n1, n2 = groups
        null = (n1 + n2 + 1) / (12 * n1 * n2) * self._ties(groups)
        if self.kind == "chance":
            return NormalTest(self.effect / np.sqrt(null))
        both, over_first, over_second = self._parts()
        own = (both + (n1 - 1) * over_second + (n2 - 1) * over_first) / (n1 * n2)
        apart = self.chance - 0.5
        return NormalTest(apart / np.sqrt(null), np.sqrt(np.maximum(own, 0.0) / null), mean=apart, null_variance=null)

    def _ties(self, groups: Sizes) -> Number:
        """What ties leave of the variance without an effect."""
        if self.shares is None:
            return 1.0
        n1, n2 = groups
        first, second = (np.array(each)[:, None] for each in self.shares)
        return 1 - (((n1 * first + n2 * second) / (n1 + n2)) ** 3).sum(axis=0)

    def _parts(self) -> tuple[Number, Number, Number]:
        """Variances of the comparison of two people; of its mean given the one of group 1; given that of group 2."""
        if self.shares is None:
            p = self.chance
            h = self.effect / np.sqrt(2)
            alike = special.ndtr(h) - 2 * special.owens_t(h, 1 / np.sqrt(3)) - p**2
            return p * (1 - p), alike, alike
        first, second = (np.array(each) for each in self.shares)
        psi = np.tril(np.ones((len(first), len(first))), -1).T + 0.5 * np.eye(len(first))  # rows: group 1
        given_first, given_second = psi @ second, first @ psi
        p = float(first @ given_first)
        return (
            float(first @ psi**2 @ second) - p**2,
            float(first @ given_first**2) - p**2,
            float(second @ given_second**2) - p**2,
        )

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> means.Groups:
        """Ordered categories, or normal outcomes."""
        if self.shares is not None:
            apart = self.effect != 0
            return ranks.draw_ordered(
                population, count, sizes, self.shares if apart else (self.shares[0], self.shares[0])
            )
        d = float(self.effect) if self.kind == "normal" else math.sqrt(2) * float(special.ndtri(self.chance))
        return means.draw_groups(population, count, sizes, (0.0, d), (1.0, 1.0), 0.0)

    @override
    def seen(self, groups: Sequence[Array]) -> means.Groups:
        return means.Groups(tuple(each[None, :] for each in groups), (None,) * len(groups))

    @override
    def analyse(self, data: means.Groups, way: str = "") -> simulated.Found:
        return ranks.analyse_rank_sum(data, self.level)

    @property
    @override
    def truth(self) -> float:
        """The probability of superiority."""
        return float(self.chance)

    @property
    @override
    def nothing(self) -> float:
        return 0.5

    @override
    def effect_report(self) -> dict[str, Number]:
        chance = self.chance
        d = self.effect if self.kind == "normal" else np.sqrt(2) * special.ndtri(chance)
        found = {"difference": d * (self.sd or 1.0), "d": d, "probability": chance}
        first = "probability" if self.kind != "normal" else "d" if self.sd is None else "difference"
        return {first: found[first], **found}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        few = float(np.min(groups[:, 0])) < _FEW
        said = [normal_approximation(f"with fewer than {_FEW} in a group" if few else "")]
        if self.kind == "chance":
            said.append("From the chance alone the variance is taken as without an effect (Noether).")
        if self.passed_over:
            said.append("d was given but is not used when effect is found.")
        return said


@register
class RankSum(WithLooks, TwoGroups):
    """Two independent groups, by the Wilcoxon-Mann-Whitney test."""

    id = "rank-sum"
    title = "Wilcoxon–Mann–Whitney test"
    summary = "Does an outcome, measured or in ordered categories, tend to be higher in one group than in another?"
    in_protocol = InProtocol(
        BETWEEN,
        "Wilcoxon–Mann–Whitney test",
        FROM_NORMAL,
        cites=(LEHMANN.at("chapter 2"), NOETHER),
    )
    evidence = evidence.TWO_RANKS
    takes = {
        "measured": ("number", "category", "count"),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "wilcoxon rank sum",
        "mann-whitney u",
        "ordinal outcome",
        "ordered categories",
        "likert",
        "nonparametric two groups",
        "win probability",
        "ranks of two independent groups",
    )
    buys = "It takes ordered categories and skewed outcomes, and loses little where all is normal."
    assumptions = (
        replace(DIFFERENCE, help=f"{DIFFERENCE.help} With the SD it says how much the groups overlap."),
        SD,
        D,
        _PROBABILITY,
        _PROPORTIONS,
        replace(
            _PROPORTIONS,
            name="proportions2",
            label="Categories, group 2",
            help="The share of each ordered category in the second group, in the same order.",
            words="Categories, {group2}",
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        *group_sizes(2),
        RATIO,
        BALANCE,
        DROPOUT,
        *LOOKS,
    )
    ways = (
        (
            Way("a chance", ("probability",)),
            Way("a difference and an SD", ("difference", "sd")),
            Way("d", ("d",)),
            Way("categories", ("proportions1", "proportions2")),
        ),
    )
    stands_alone = frozenset({"sd"})
    elementwise = elementwise("difference", "d", "probability")
    illustrations = dict.fromkeys(("difference", "d", "probability", "proportions1", "proportions2"), pairs_seen)
    starting = {"difference": 5.0, "sd": 10.0}
    derived = (Derived("Effect", "probability", "probability of superiority"), Derived("Effect", "d", "d"))
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is at least ordinal.",
    )
    approximation = (
        "The calculation is a normal approximation with the variance under the alternative; poor with fewer than "
        "15 in a group."
    )

    @override
    def comparison(self, values: Values, find: str) -> RankSumPlan:
        shares = _shares_of(values)
        if find == "effect" and shares is not None:
            raise RequestError("proportions1", "From categories no effect can be found: state a d, or an SD.")
        if shares is not None:
            kind = "categories"
        elif find == "effect":
            kind = "normal" if "sd" in values or "d" in values else "chance"
        else:
            kind = "chance" if "probability" in values and "d" not in values and "sd" not in values else "normal"
        over = find == "effect" and "d" in values
        return RankSumPlan(**self.basis(values, find), kind=kind, sd=values.get("sd"), shares=shares, passed_over=over)

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """An SD, and that d is what is stated, say what is found."""
        unused = super().unused_names(find)
        return unused - {"sd", "d", "proportions1", "proportions2"}

    @override
    def stated_effect(self, values: Values) -> Number:
        shares = _shares_of(values)
        if shares is not None:
            first, second = (np.array(each) for each in shares)
            below = np.concatenate([[0.0], np.cumsum(first)[:-1]])
            return float(second @ (below + first / 2)) - 0.5
        if "difference" in values and "sd" in values:
            return stated(values, "d", values["difference"] / values["sd"], "the difference and the SD make it")
        if "d" in values and "probability" in values:
            return stated(values, "d", np.sqrt(2) * special.ndtri(values["probability"]), "the chance makes it")
        if "d" in values:
            return values["d"]
        if "probability" not in values:
            return values.get("difference", 0.0)
        apart = values["probability"] - 0.5
        if np.any(np.abs(apart) > 0.5 - _NEVER):
            raise RequestError(
                "probability", "So near 0 or 1 hardly any two overlap: a chance is at least 1e-15 from either."
            )
        return apart

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """D as a difference on an SD of 10, and as the chance of normal outcomes."""
        known = dict(values)
        if "difference" in known and "sd" in known:
            known.setdefault("d", rounded(known["difference"] / known["sd"]))
        elif _shares_of(known) is not None and "d" not in known:
            known["probability"] = rounded(float(self.stated_effect(known)) + 0.5)
        if "probability" in known and "d" not in known:
            known["d"] = rounded(float(np.sqrt(2) * special.ndtri(known["probability"])))
        if "d" in known:
            known.setdefault("sd", 10.0)
            known.setdefault("difference", rounded(known["d"] * known["sd"]))
            known.setdefault("probability", rounded(float(special.ndtr(known["d"] / np.sqrt(2)))))
            known.setdefault("proportions1", [0.2] * _FIFTHS)
            known.setdefault("proportions2", _in_fifths(known["d"]))
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        if "sd" in values:
            return self.restate({"sd": values["sd"], "difference": effect}, way)
        return self.restate({"d" if "d" in values else "probability": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "difference"))
        between = "between {groups.1} and {groups.2}"
        if "proportions1" in values:
            effect = (
                "a shift over ordered categories, from {proportions1} with {groups.1} to {proportions2} with {groups.2}"
            )
        elif "sd" in values:
            effect = f"a difference of {{difference}}{more} {between}"
        elif "d" in values:
            effect = f"an effect size d of {'{difference}' if find == 'effect' else '{d}'}{more} {between}"
        else:
            size = "{difference}" if find == "effect" else "{probability}"
            effect = f"a probability of superiority of {size}{more} for {{groups.2}} over {{groups.1}}"
        looking = looking_for(values, *OF_VALUES)
        aside = (SPREAD, IN_SDS) if "sd" in values and "proportions1" not in values else ()
        test = "a {sides} Wilcoxon–Mann–Whitney test"
        return Saying(self.size_words(values, find), effect, test, looking, aside=aside)

    @override
    def claim(self, values: Values) -> Claim:
        where = "p = P(X < Y) + ½P(X = Y), where X is an outcome with {groups.1} and Y one with {groups.2}."
        return claim("p", "1/2", values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        null = row("Δ = p − ", Frac("1", "2"), ",   V₀ = ", Frac("N + 1", "12 n₁ n₂"), "(1 − Σ πⱼ³)")
        own = row("V₁ = ", Frac("ζ₁₁ + (n₁ − 1) ζ₀₁ + (n₂ − 1) ζ₁₀", "n₁ n₂"))
        if "probability" in values and "d" not in values and "sd" not in values:
            return null, "V₁ = V₀", power_of_two_variances(values["sides"])
        return null, own, power_of_two_variances(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the Wilcoxon-Mann-Whitney test as a normal approximation: the share of pairs in which group 2 is the "
            "higher has its variance under the null hypothesis, ties allowed for, and that under the alternative."
        )


def _in_fifths(d: float) -> list[float]:
    """The shares of group 2 in the fifths of group 1, of normal outcomes d apart."""
    below = [0.0, *(float(special.ndtr(special.ndtri(at / _FIFTHS) - d)) for at in range(1, _FIFTHS)), 1.0]
    shares = [round(high - low, 4) for low, high in itertools.pairwise(below)]
    return [*shares[:-1], round(1 - math.fsum(shares[:-1]), 4)]


def _shares_of(values: Values) -> Shares | None:
    """The categories of both groups. Raises `RequestError` where they do not go together."""
    if "proportions1" not in values or "proportions2" not in values:
        return None
    first, second = values["proportions1"], values["proportions2"]
    if len(first) != len(second):
        raise RequestError(
            "proportions2", f"There are {len(first)} categories in group 1 but {len(second)} in group 2."
        )
    for group, given in enumerate((first, second), start=1):
        need_whole(f"proportions{group}", math.fsum(given), f"The shares of group {group}")
    return _whole(first), _whole(second)


def _whole(shares: Sequence[float]) -> tuple[float, ...]:
    total = math.fsum(shares)
    return tuple(share / total for share in shares)
