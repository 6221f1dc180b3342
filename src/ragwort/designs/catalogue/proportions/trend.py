"""Proportions of several ordered groups: whether they rise or fall."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, rounded
from ragwort.designs.catalogue.anova.common import N_PER_GROUP, Cells, balance, need_total_of_weights
from ragwort.designs.catalogue.anova.one_way import WEIGHTS
from ragwort.designs.catalogue.proportions.common import proportion
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, claim, power_of_two_variances, row
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, is_down, looking_for, numbered, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sizes import EqualGroups, Sizes
from ragwort.designs.works import ARMITAGE, NAM
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated import counts
from ragwort.stats.statistic import NormalTest

_FEWEST = 3  # groups
_FEW = 5  # with and without a yes in all, for each group, under which the normal approximation is poor

_SLOPE = Assumption(
    "slope",
    "Rise for each step",
    "share",
    "Effect",
    "By how much the proportion rises for one unit of the score, in percentage points; below 0 it falls.",
    symbol="β",
)
_PROPORTIONS = Assumption(
    "proportions",
    "Proportions",
    "list",
    "Effect",
    "The proportion with the event expected in each group, in the groups' order: 0.1, 0.2, 0.3.",
    symbol="p",
    low=0,
    high=1,
    row_names="groups",
    shortest=_FEWEST,
)
_SCORES = Assumption(
    "scores",
    "Scores",
    "list",
    "Structure",
    "A number for each group that says how far apart they are, such as doses: 0, 10, 50. Without them: 0, 1, 2 and "
    "so on.",
    symbol="s",
    row_names="groups",
    shortest=_FEWEST,
    decided=True,
)


@dataclass(frozen=True)
class TrendPlan(StatisticPlan):
    """`effect` is the slope over the scores; proportions are `start`, each with its offset, plus effect times lean."""

    start: Number
    offsets: tuple[float, ...]
    lean: tuple[float, ...]
    scores: tuple[float, ...]

    effect_scale = 0.01
    something = "a rise other than 0"

    @override
    def furthest(self, up: bool) -> float:
        """Until a proportion is 0 or 1."""
        start = float(np.ravel(self.start)[0])
        both = zip(self.offsets, self.lean, strict=True)
        ends = [((1.0 if (lean > 0) == up else 0.0) - start - offset) / lean for offset, lean in both if lean]
        return min(ends, key=abs) * (1 - 1e-12)

    @property
    def shares(self) -> list[Array]:
        """The proportion of each group, of the shape of the effect."""
        both = zip(self.offsets, self.lean, strict=True)
        return [np.clip(self.start + offset + lean * np.asarray(self.effect), 0.0, 1.0) for offset, lean in both]

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Armitage, Biometrics 11 (1955), pages 375-386; methods of section 9."""
        total, shares = groups.sum(axis=0), self.shares
        centre = sum(n * s for n, s in zip(groups, self.scores, strict=True)) / total
        mean = sum(n * p for n, p in zip(groups, shares, strict=True)) / total
        parts = [(n * (s - centre), s - centre, p) for n, s, p in zip(groups, self.scores, shares, strict=True)]
        null = mean * (1 - mean) * sum(weight * apart for weight, apart, _ in parts)
        own = sum(weight * apart * p * (1 - p) for weight, apart, p in parts)
        slope = sum(weight * p for weight, _, p in parts)
        return NormalTest(slope / np.sqrt(null), np.sqrt(own / null), mean=slope, null_variance=null)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Shares:
        return counts.draw_shares(population, count, sizes, tuple(float(np.ravel(each)[0]) for each in self.shares))

    @override
    def analyse(self, data: counts.Shares, way: str = "") -> simulated.Found:
        return counts.analyse_trend(data, self.scores, self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"slope": self.effect}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        p, n = np.array([np.ravel(each)[0] for each in self.shares]), groups[:, 0]
        few = min(float(n @ p), float(n @ (1 - p))) / len(p)
        return [normal_approximation("here: few are expected with, or without, the event" if few < _FEW else "")]


@register
class TrendProportions(Cells):
    """Several ordered groups whose proportions rise or fall."""

    id = "trend-proportions"
    title = "Trend in proportions: Cochran–Armitage test"
    summary = "Does the proportion with an event rise, or fall, over three or more ordered groups, such as doses?"
    in_protocol = InProtocol(
        "A linear trend in the proportions over the ordered groups will be tested",
        "Cochran–Armitage test",
        FROM_NORMAL,
        cites=(ARMITAGE, NAM),
    )
    evidence = evidence.TREND
    takes = {"measured": ("yes-no",), "compared": ("several",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "cochran armitage",
        "test for trend",
        "dose response of proportions",
        "ordered groups yes or no",
        "linear trend of percentages",
        "trend of proportions",
    )
    buys = "One question, whether it rises, has more power than whether anything differs."
    assumptions = (
        _SLOPE,
        proportion(
            "proportion1",
            "First proportion",
            "The proportion with the event in the first group, from which the others rise in a straight line.",
            "p₁",
        ),
        _PROPORTIONS,
        DIRECTION,
        ALPHA,
        SIDES,
        POWER,
        TOTAL,
        N_PER_GROUP,
        replace(balance("groups", "groups"), choices=(Choice("groups", "by groups"),), in_ledger=False),
        DROPOUT,
        _SCORES,
        WEIGHTS,
    )
    ways = ((Way("proportions", ("proportions",)), Way("a straight line", ("proportion1", "slope"))),)
    stands_alone = frozenset({"proportion1"})
    elementwise = elementwise("slope")
    starting = {"proportion1": 0.1, "slope": 0.1, "scores": [0.0, 1.0, 2.0]}
    derived = (Derived("Effect", "slope", "rise for each step"),)
    data_assumptions = (
        "Observations of different participants are independent, and each participant is in one group.",
        "The outcome is binary.",
        "The groups are ordered, and the scores give their spacing.",
    )
    approximation = "The calculation is a normal approximation, poor where few events, or few non-events, are expected."

    @override
    def cells(self, values: Values) -> int:
        return len(values["proportions"] if "proportions" in values else values.get("scores", (0,) * _FEWEST))

    @override
    def effect_names(self) -> frozenset[str]:
        """Where the line starts stays known when its rise is found."""
        return frozenset({"slope", "proportions"})

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """Proportions that are given leave no rise to be found."""
        return frozenset({"slope"}) if find == "effect" else super().unused_names(find)

    @override
    def finds_with(self, values: Values) -> tuple[str, ...]:
        finds = super().finds_with(values)
        return tuple(find for find in finds if find != "effect") if "proportions" in values else finds

    def comparison(self, values: Values, find: str) -> TrendPlan:
        """See `Design.comparison`. Raises `RequestError`."""
        scores = _scores(values, self.cells(values))
        if find == "effect" and "proportion1" not in values:
            raise RequestError("find", "find must be n, power or alpha where the proportions are stated one by one.")
        basis = self.basis(values, find)
        if "proportions" not in values:
            lean = tuple(score - scores[0] for score in scores)
            flat = (0.0,) * len(scores)
            plan = TrendPlan(**basis, start=values["proportion1"], offsets=flat, lean=lean, scores=scores)
            _need_inside(plan)
            return plan
        shares = np.array(values["proportions"])
        if shares.max() == 0 or shares.min() == 1:
            raise RequestError("proportions", "With all proportions 0, or all 1, nothing varies: there is no test.")
        slope = _slope(values, scores)
        rest = shares - slope * np.array(scores)
        return TrendPlan(**basis, start=0.0, offsets=tuple(rest.tolist()), lean=scores, scores=scores)

    @override
    def stated_effect(self, values: Values) -> Number:
        if "proportions" not in values:
            return values.get("slope", 0.0)
        return _slope(values, _scores(values, self.cells(values)))

    @override
    def counting(self, values: Values) -> EqualGroups:
        """Groups grow together, in the relative sizes given."""
        cells, weights = self.cells(values), tuple(values.get("weights", ()))
        if weights and len(weights) != cells:
            raise RequestError("weights", f"There are {cells} groups but {len(weights)} weights.")
        if weights and min(weights) != 1:
            raise RequestError("weights", f"The smallest weight must be exactly 1, not {plain_number(min(weights))}.")
        return EqualGroups(cells, 1, weights)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """What does not divide makes the last groups one larger."""
        cells = self.cells(values)
        if "n_per_group" not in values:
            if values["n"] < cells:
                raise RequestError("n", f"n must be {cells} or more, one for each group, not {values['n']}.")
            need_total_of_weights(values, 1)
            return plan.counting.splits(values["n"])
        ways = plan.counting.ways(np.array([values["n_per_group"]]))
        total = int(ways[0].sum())
        if values.get("n", total) != total:
            raise RequestError("n", f"n is {values['n']}, but n_per_group makes it {total}.")
        return ways

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """Proportions as the line nearest to them, a line as proportions."""
        known = dict(values)
        scores = _scores(values, self.cells(values))
        if "proportions" in known:
            known["slope"] = rounded(float(_slope(known, scores)))
            known["proportion1"] = rounded(float(np.clip(known["proportions"][0], 0.001, 0.999)))
        elif {"proportion1", "slope"} <= set(known):
            line = [known["proportion1"] + known["slope"] * (score - scores[0]) for score in scores]
            known["proportions"] = [rounded(float(np.clip(each, 0.0, 1.0))) for each in line]
        return known

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        groups = self.cells(values)
        return (Naming("groups", "Groups", numbered("group", groups)),) if 1 < groups <= MOST_NAMED else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        down, more = is_down(values, find, "slope"), or_more(find)
        scored = " over the scores {scores}" if "scores" in values else ""
        if "proportions" in values:
            effect = f"a trend over groups with the proportions {{proportions}}{scored}"
        else:
            word = "fall" if down else "rise"
            effect = f"a {word} of {{slope.points}}{more} for each step from {{proportion1}}{scored}"
        looking = looking_for(values, "a rise", "a fall")
        return Saying(self.size_words(values, find), effect, "a {sides} Cochran–Armitage test for trend", looking)

    @override
    def claim(self, values: Values) -> Claim:
        return claim("β", "0", values["sides"], "β is the slope of the proportions over the scores.")

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        means = row("s̄ = ", Frac("Σ nⱼsⱼ", "N"), ",   p̄ = ", Frac("Σ nⱼpⱼ", "N"), ",   Δ = Σ nⱼ(sⱼ − s̄)pⱼ")
        return (
            means,
            "V₀ = p̄(1 − p̄) Σ nⱼ(sⱼ − s̄)²",
            "V₁ = Σ nⱼ(sⱼ − s̄)² pⱼ(1 − pⱼ)",
            power_of_two_variances(values["sides"]),
        )

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the test for trend (Cochran and Armitage) as a normal approximation, with the variance of one common "
            "proportion under the null hypothesis and that of the planned ones under the alternative."
        )


def _scores(values: Values, cells: int) -> tuple[float, ...]:
    """The scores of the groups. Raises `RequestError`."""
    scores = tuple(float(each) for each in values.get("scores", range(cells)))
    if len(scores) != cells:
        raise RequestError("scores", f"There are {cells} proportions but {len(scores)} scores: make them agree.")
    if max(scores) == min(scores):
        raise RequestError("scores", "The scores are all the same: there is no order to rise over.")
    return scores


def _slope(values: Values, scores: tuple[float, ...]) -> float:
    """The slope of the line nearest to the proportions, with the groups' relative sizes; 0 where it is nothing."""
    weights = np.array(values.get("weights", (1.0,) * len(scores)))
    if len(weights) != len(scores):
        return 0.0
    s, p = np.array(scores), np.array(values["proportions"])
    apart = s - (weights * s).sum() / weights.sum()
    above = (weights * apart * p).sum()
    return 0.0 if abs(above) < 1e-15 * (weights * abs(apart)).sum() else float(above / (weights * apart**2).sum())


def _need_inside(plan: TrendPlan) -> None:
    """Refuse a line that leaves 0 to 1. Raises `RequestError`."""
    ends = plan.start + np.array(plan.lean)[:, None] * np.ravel(np.asarray(plan.effect))
    if ends.min(initial=0.0) < -1e-12 or ends.max(initial=1.0) > 1 + 1e-12:
        worst = plain_number(rounded(float(ends.min() if ends.min() < 0 else ends.max())))
        raise RequestError("slope", f"This rise leads to a proportion of {worst}: it must be 0 to 1.")
