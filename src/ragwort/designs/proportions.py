"""Comparisons of proportions: one against a known one, and two independent ones; exact and approximate.

Sources: Fleiss, Levin and Paik, *Statistical Methods for Rates and Proportions* (3rd ed., 2003), chapters 2 to 4;
Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 6 (arcsine); Fisher,
*Statistical Methods for Research Workers* (14th ed., 1970), section 21.02.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice
from ragwort.designs.design import Derived, Plan, Values, Way, register
from ragwort.designs.refusals import RequestError, number_text
from ragwort.designs.sampling import BALANCE, RATIO, OneSample, TwoGroups, group_sizes, statistic_details
from ragwort.designs.saying import OF_SHARES, Naming, Saying, difference_of_shares, is_down, looking_for, or_more
from ragwort.designs.sizes import OneGroup, Sizes, Steps
from ragwort.stats import patience, sawtooth, search, studies
from ragwort.stats.binomial import BinomialTest, least_and_most
from ragwort.stats.effects import h_of, odds
from ragwort.stats.fisher import LARGEST_GROUP, bound_of_power, fisher_power
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest, Test

_LARGEST_EXACT = 500_000  # participants up to which the exact binomial test is searched
_LARGEST_FISHER = 6_000  # participants in all up to which Fisher's test is searched
_BATCH = 16  # sizes looked at between two reports of progress

_REFERENCES = (
    "Fleiss JL, Levin B, Paik MC. Statistical Methods for Rates and Proportions. 3rd ed. Hoboken: Wiley; 2003. "
    "Chapters 2 to 4.",
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 6.",
)
_N_RULE = Assumption(
    "n_rule",
    "Sample size taken",
    "choice",
    "Sample",
    "The power of an exact test goes up and down as participants are added, because counts are whole. Steady: from "
    "this size on every larger one has the power too, so a few more participants do no harm. First: the smallest size "
    "that has it; one or two more may have less.",
    default="steady",
    choices=(Choice("steady", "steady"), Choice("first", "first")),
)


def _proportion(name: str, label: str, help_text: str, symbol: str, **more: Any) -> Assumption:
    bounds: dict[str, Any] = {"low": 0, "high": 1, "open_low": True, "open_high": True}
    return Assumption(name, label, "share", "Effect", help_text, symbol=symbol, **bounds, **more)


_COUNTS_UP = "Power goes up and down with the sample size, because the test can only reject at whole counts."


class _SharePlan(Plan):
    """What plans on proportions share: one is known, another is planned, and a test may be exact."""

    exact_method: ClassVar[str]
    method: str
    n_rule: str

    @property
    def known(self) -> float:
        """The proportion that the effect starts from."""
        raise NotImplementedError

    @property
    def planned(self) -> Number:
        """The proportion that the effect leads to."""
        return np.clip(self.known + self.effect, 0.0, 1.0)

    @property
    def exact(self) -> bool:
        """See `Plan.exact`."""
        return self.method == self.exact_method

    @property
    def steady(self) -> bool:
        """See `Plan.steady`."""
        return self.n_rule == "steady"

    @property
    def effect_scale(self) -> float:
        """See `Plan.effect_scale`."""
        return 0.01

    def furthest(self, up: bool) -> float:
        """See `Plan.furthest`: the effect that leaves the planned proportion just inside 0 and 1."""
        return (1 - self.known) * (1 - 1e-15) if up else -self.known * (1 - 1e-15)

    @property
    def found_effect(self) -> float:
        """See `Plan.found_effect`."""
        return float(self.planned)


# --- one proportion ---


@dataclass(frozen=True)
class OneProportionPlan(_SharePlan):
    """One sample; `effect` is the planned proportion less the reference."""

    null: float
    method: str
    n_rule: str

    exact_method = "exact"

    @property
    def known(self) -> float:
        """See `_SharePlan.known`."""
        return self.null

    @property
    def last_step(self) -> int:
        """See `Plan.last_step`."""
        return _LARGEST_EXACT if self.exact else self.counting.highest

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; methods of section 4, one-proportion."""
        n, p, p0 = groups[0], self.planned, self.null
        if self.method == "exact":
            return BinomialTest(p, p0, n)
        if self.method == "arcsine":
            return NormalTest(h_of(p0, p) * np.sqrt(n))
        null_sd = math.sqrt(p0 * (1 - p0))
        return NormalTest(np.sqrt(n) * self.effect / null_sd, np.sqrt(p * (1 - p)) / null_sd)

    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.actual_alpha`."""
        if not self.exact:
            return super().actual_alpha(groups)
        return np.asarray(BinomialTest(self.planned, self.null, groups[0]).actual_alpha(self.alpha, self.sides))

    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        """See `Plan.rejection_limits`."""
        n = groups[0]
        lower, upper = BinomialTest(self.planned, self.null, n).counts(self.alpha, self.sides)
        limits = {
            "reject at or below": np.where(lower >= 0, lower, np.nan),
            "reject at or above": np.where(upper <= n, upper, np.nan),
        }
        away = {"greater": "reject at or below", "less": "reject at or above"}.get(self.sides)
        return {name: limit for name, limit in limits.items() if name != away}

    def first_and_steady(self) -> tuple[int, int] | None:
        """See `Plan.first_and_steady`; runs of sizes are ruled out by bounds."""

        def power(steps: Steps) -> NDArray[np.float64]:
            return self.power(steps.astype(float)[None, :])

        def bound(which: int) -> sawtooth.Bound:
            p, p0 = float(self.planned), self.null
            return lambda first, last: least_and_most(
                first.astype(float), last.astype(float), p, p0, self.alpha, self.sides
            )[which]

        first = sawtooth.first_reaching(power, bound(1), self.target, self.counting.lowest, self.last_step)
        if first is None:
            return None
        horizon = _horizon(power, self.target, max(2 * first, first + 200))
        return first, sawtooth.last_below(power, bound(0), self.target, first, horizon) + 1

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        p = float(self.planned)
        return studies.one_proportion(rng, count, sizes[0], p, self.null, self.method, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        p = float(self.planned)
        return {"proportion": p, "risk_difference": float(self.effect), "h": float(h_of(self.null, p))}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        if not self.exact:
            return statistic_details(self, groups)
        limits = {name.replace(" ", "_"): _count(limit) for name, limit in self.rejection_limits(groups).items()}
        return {**limits, "actual_alpha": float(self.actual_alpha(groups)[0])}

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if self.method != "exact":
            return [f"{_METHOD_NAMES[self.method]} is a normal approximation; the exact method is at hand."]
        if all(limit is None for name, limit in self.details(groups).items() if name != "actual_alpha"):
            return ["No count of this sample is rare enough to reject at this alpha, so power is 0."]
        return []


_METHOD_NAMES = {"score": "The score test", "arcsine": "The arcsine method"}


def _count(limit: NDArray[np.float64]) -> int | None:
    return None if np.isnan(limit[0]) else int(limit[0])


def _horizon(power: Callable[[Steps], NDArray[np.float64]], target: float, start: int) -> int:
    """How far a steady size is looked for: on, until power there reaches the target."""
    horizon = start
    while float(power(np.array([horizon]))[0]) < target:
        horizon *= 2
    return horizon


@register
class OneProportion(OneSample):
    """One proportion against a known one."""

    id = "one-proportion"
    title = "One proportion"
    summary = "Is the share of people with a yes different from a known value?"
    evidence = evidence.ONE_SHARE
    takes = {
        "measured": ("yes-no",),
        "compared": ("known",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "binomial test",
        "single proportion",
        "one sample proportion",
        "exact binomial",
        "score test",
        "percentage against a norm",
        "response rate",
    )
    buys = "One group is enough, because the share to compare with is known without error."
    assumptions = (
        _proportion(
            "proportion",
            "Proportion",
            "The share of people with a yes that you expect, or the nearest to the reference that would matter. "
            "Take it from records or a pilot; a pilot of 20 people can easily be 20 points off.",
            "p",
        ),
        _proportion(
            "null_proportion",
            "Reference proportion",
            "The share to compare with: a norm, a limit, an agreed standard. It must be known, not estimated: a share "
            "that was itself measured in a sample belongs to a second group.",
            "p₀",
            required=True,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        Assumption(
            "method",
            "Method",
            "choice",
            "Error rates",
            "Exact: the binomial test, whose actual alpha is never above the one stated. Score and arcsine: normal "
            "approximations, for comparison and for large samples.",
            default="exact",
            choices=(
                Choice("exact", "exact binomial", "exact binomial test"),
                Choice("score", "score", "score test"),
                Choice("arcsine", "arcsine", "test on the arcsine scale"),
            ),
        ),
        POWER,
        TOTAL,
        _N_RULE,
        DROPOUT,
    )
    ways = ((Way("a proportion", ("proportion",)),),)
    starting = {"proportion": 0.6, "null_proportion": 0.5}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "h", "h"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = (
        "Participants are independent of each other.",
        "Each has one yes or no, and all have the same chance of a yes.",
    )
    references = _REFERENCES
    approximation = (
        "The exact method sums binomial probabilities and approximates nothing. Score and arcsine are normal "
        "approximations (simulated with 194 participants: 0.808 where both say 0.800 to 0.801)."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: the first group's proportion as if it were known."""
        if "proportion1" in values and "proportion2" in values:
            return {"null_proportion": values["proportion1"], "proportion": values["proportion2"]}
        return {}

    def plan(self, values: Values, find: str) -> OneProportionPlan:
        """See `Design.plan`."""
        null = values["null_proportion"]
        if find == "n" and values["proportion"] == null:
            raise RequestError(
                "proportion",
                f"The proportion equals the reference ({number_text(null)}): there is no effect to detect.",
            )
        return OneProportionPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else values["proportion"] - null,
            counting=OneGroup(1),
            null=null,
            method=values["method"],
            n_rule=values["n_rule"],
        )

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("reference", "Reference", ("the reference",)),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        more = or_more(find, is_down(values, find, "-"))
        effect = f"a proportion of {{proportion}}{more} where {{reference.1}} is {{null_proportion}}"
        looking = looking_for(values, "a higher proportion", "a lower proportion")
        return Saying("{n}", effect, "a {sides} {method}", looking)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        methods = {
            "exact": "Power was computed for the exact binomial test by summing the probabilities of all counts that "
            "reject. " + _COUNTS_UP,
            "score": "Power was computed for the score test, with the standard error of the reference proportion "
            "under the null hypothesis and that of the planned one under the alternative, as a normal approximation.",
            "arcsine": "Power was computed on the arcsine scale, h = 2 arcsin √p − 2 arcsin √p₀, on which the "
            "proportion is taken to be normal with variance 1/n.",
        }
        return methods[values["method"]]


# --- two proportions ---


@dataclass(frozen=True)
class TwoProportionsPlan(_SharePlan):
    """Two independent groups; `effect` is proportion 2 less proportion 1."""

    proportion1: float
    method: str
    n_rule: str = "steady"

    exact_method = "fisher"

    @property
    def known(self) -> float:
        """See `_SharePlan.known`."""
        return self.proportion1

    @property
    def inflated(self) -> Number:
        """How much larger variances are than those of independent participants."""
        return 1.0

    @property
    def has_statistic(self) -> bool:
        """See `Plan.has_statistic`: Fisher's test looks at each margin by itself."""
        return not self.exact

    @property
    def last_step(self) -> int:
        """See `Plan.last_step`."""
        if not self.exact:
            return self.counting.highest
        return max(self.counting.lowest, self.counting.step_near(_LARGEST_FISHER))

    @property
    def step_words(self) -> str:
        """See `Plan.step_words`."""
        return " in group 1" if self.counting.ways_count == 1 else ""

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; methods of section 4, two-proportions. Fleiss, Levin and Paik (2003), section 4.2."""
        (n1, n2), p1, p2 = groups, self.proportion1, self.planned
        if self.method == "arcsine":
            return NormalTest(h_of(p1, p2) * np.sqrt(n1 * n2 / (n1 + n2)))
        own = np.sqrt(self.inflated * (p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2))
        if self.method == "unpooled":
            return NormalTest(self.effect / own)
        mean = (n1 * p1 + n2 * p2) / (n1 + n2)
        pooled = np.sqrt(self.inflated * mean * (1 - mean) * (1 / n1 + 1 / n2))
        return NormalTest(self.effect / pooled, own / pooled)

    def power(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.power`."""
        return super().power(groups) if not self.exact else self._fisher(groups, self.planned)

    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.actual_alpha`: where both groups have the proportion of group 1."""
        return self._fisher(groups, self.proportion1) if self.exact else super().actual_alpha(groups)

    def _fisher(self, groups: Sizes, proportion2: Number) -> NDArray[np.float64]:
        n1, n2, p2 = np.broadcast_arrays(groups[0], groups[1], proportion2)
        return np.array(
            [
                fisher_power(int(a), int(b), self.proportion1, float(p), float(self.alpha), self.sides)
                for a, b, p in zip(n1.ravel(), n2.ravel(), p2.ravel(), strict=True)
            ]
        ).reshape(n1.shape)

    def first_and_steady(self) -> tuple[int, int] | None:
        """See `Plan.first_and_steady`: size by size, from where a bound that never falls reaches the target."""
        counting, last = self.counting, self.last_step

        def power(steps: Steps) -> NDArray[np.float64]:
            return np.asarray(np.max([self.power(way) for way in counting.ways(steps)], axis=0))

        start = self._earliest(last)
        if start is None:
            return None
        for low in range(start, last + 1, _BATCH):
            patience.report((low - start) / (0.6 * start + 60))
            steps = np.arange(low, min(low + _BATCH, last + 1))
            reached = steps[power(steps) >= self.target]
            if reached.size:
                first = int(reached[0])
                horizon = _horizon(power, self.target, first + max(20, math.ceil(first / 10)))
                return first, self._last_below(power, first, horizon) + 1
        return None

    def _last_below(self, power: Callable[[Steps], NDArray[np.float64]], first: int, horizon: int) -> int:
        for high in range(horizon, first, -_BATCH):
            steps = np.arange(max(high - _BATCH + 1, first), high + 1)
            short = steps[power(steps) < self.target]
            if short.size:
                return int(short[-1])
            patience.report(0.6 + 0.4 * (horizon - high) / (horizon - first))
        return first - 1

    def _earliest(self, last: int) -> int | None:
        """A step before which none reaches the target.

        Groups of one size make the two-sided test two one-sided ones at half of alpha. What the one against the effect
        rejects never grows with the sample size: it is at most half of alpha, and from a step on what it is there.
        """
        counting, alpha = self.counting, float(self.alpha)
        if self.sides != "two" or not counting.equal_groups:
            return search.first_step(lambda steps: self._bound(steps, alpha), self.target, counting.lowest, last)
        against = alpha / 2
        start: int | None = counting.lowest
        for _ in range(2):
            target = self.target - against
            start = search.first_step(lambda steps: self._bound(steps, alpha / 2), target, start or 1, last)
            if start is None:
                return None
            against = float(self._bound(np.array([start]), alpha / 2, against=True)[0])
        return start

    def _bound(self, steps: Steps, alpha: float, against: bool = False) -> NDArray[np.float64]:
        p1, p2 = self.proportion1, float(self.planned)
        ways = [way.astype(int) for way in self.counting.ways(steps)]
        bounds = [[bound_of_power(a, b, p1, p2, alpha, against) for a, b in zip(*way, strict=True)] for way in ways]
        return np.asarray(np.max(np.array(bounds), axis=0))

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`."""
        n1, n2 = sizes
        shares = (self.proportion1, float(self.planned))
        return studies.two_proportions(rng, count, (n1, n2), shares, self.method, self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        p1, p2 = self.proportion1, float(self.planned)
        return {
            "proportion2": p2,
            "risk_difference": float(self.effect),
            "risk_ratio": p2 / p1,
            "odds_ratio": odds(p2) / odds(p1),
            "h": float(h_of(p1, p2)),
        }

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return {"actual_alpha": float(self.actual_alpha(groups)[0])} if self.exact else statistic_details(self, groups)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if self.exact:
            never = float(self.actual_alpha(groups)[0]) == 0.0
            return ["No table of this size is rare enough to reject at this alpha, so power is 0."] if never else []
        p1, p2 = self.proportion1, float(self.planned)
        n1, n2 = groups[0, 0], groups[1, 0]
        fewest = min(n1 * p1, n1 * (1 - p1), n2 * p2, n2 * (1 - p2))
        if fewest < 5:
            return [
                f"A normal approximation, and poor here: an expected count is {number_text(round(fewest, 2))}, under 5."
            ]
        return ["A normal approximation; Fisher's exact test is at hand."]


def two_proportions_effect() -> tuple[Assumption, Assumption]:
    """Proportion 2 (the primary effect) and proportion 1."""
    return (
        _proportion(
            "proportion2",
            "Proportion in group 2",
            "The share of people with a yes expected in the second group, or the nearest to the first group's that "
            "would change what people do.",
            "p₂",
            words="Proportion, {group2}",
        ),
        _proportion(
            "proportion1",
            "Proportion in group 1",
            "The share of people with a yes in the first group, mostly from records or earlier studies. The nearer "
            "it is to 50 %, the more people a given difference takes.",
            "p₁",
            words="Proportion, {group1}",
            required=True,
        ),
    )


POOLED = Choice("pooled", "pooled", "test with pooled variance")
UNPOOLED = Choice("unpooled", "unpooled", "test with unpooled variance")
METHOD_TEXTS = {
    "pooled": "Power was computed for the z test of two proportions with the pooled variance under the null "
    "hypothesis and the separate variances under the alternative, as a normal approximation.",
    "unpooled": "Power was computed for the z test of two proportions with separate variances throughout, as a normal "
    "approximation.",
    "arcsine": "Power was computed on the arcsine scale, h = 2 arcsin √p₂ − 2 arcsin √p₁, on which the proportions "
    "are taken to be normal.",
    "fisher": "Power was computed for Fisher's exact test by summing the probabilities of all pairs of counts whose "
    "p-value is at most alpha. " + _COUNTS_UP,
}


def no_difference(values: Values, find: str) -> None:
    """Refuse equal proportions where a sample size is asked for. Raises `RequestError`."""
    if find == "n" and values["proportion1"] == values["proportion2"]:
        raise RequestError(
            "proportion2",
            f"Both proportions are {number_text(values['proportion1'])}: there is no effect to detect.",
        )


@register
class TwoProportions(TwoGroups):
    """Two independent groups compared on a proportion."""

    id = "two-proportions"
    title = "Two independent proportions"
    summary = "Is the share of people with a yes different between two separate groups?"
    evidence = evidence.TWO_SHARES
    takes = {
        "measured": ("yes-no",),
        "compared": ("two",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "fisher exact",
        "chi-square two by two",
        "risk difference",
        "relative risk",
        "odds ratio",
        "percentages",
        "response rates",
        "event rates",
        "arcsine",
    )
    buys = "Yes or no is easy to record and to explain, and costs more people than a number would."
    smallest = 1
    assumptions = (
        *two_proportions_effect(),
        DIRECTION,
        ALPHA,
        SIDES,
        Assumption(
            "method",
            "Method",
            "choice",
            "Error rates",
            "Pooled: the usual z (or chi-square) test. Unpooled: each group its own variance. Arcsine: a scale with "
            "constant variance. Fisher: exact, never above the alpha stated, and so a little less powerful.",
            default="pooled",
            choices=(
                POOLED,
                UNPOOLED,
                Choice("arcsine", "arcsine", "test on the arcsine scale"),
                Choice("fisher", "Fisher's exact", "Fisher's exact test"),
            ),
        ),
        POWER,
        TOTAL,
        *group_sizes(1),
        RATIO,
        BALANCE,
        replace(_N_RULE, help="Of Fisher's exact test only. " + _N_RULE.help),
        DROPOUT,
    )
    ways = ((Way("a proportion for each group", ("proportion2",)),),)
    starting = {"proportion1": 0.3, "proportion2": 0.45}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "risk_ratio", "risk ratio"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        Derived("Effect", "h", "h"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = (
        "Participants are independent of each other, and each is in one group only.",
        "Each has one yes or no.",
    )
    references = (
        *_REFERENCES,
        "Fisher RA. Statistical Methods for Research Workers. 14th ed. Edinburgh: Oliver and Boyd; 1970. "
        "Section 21.02.",
    )
    approximation = (
        "Fisher's exact test is summed table by table. Pooled, unpooled and arcsine are normal approximations "
        "(simulated with 163 per group: 0.797 where the pooled formula says 0.802), poor where an expected "
        "count is under 5."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: a reference that is an estimate is the proportion of a first group."""
        if "proportion" in values and "null_proportion" in values:
            return {"proportion1": values["null_proportion"], "proportion2": values["proportion"]}
        return {}

    def plan(self, values: Values, find: str) -> TwoProportionsPlan:
        """See `Design.plan`."""
        no_difference(values, find)
        return TwoProportionsPlan(
            alpha=values["alpha"],
            target=values["power"],
            sides=values["sides"],
            effect=0.0 if find == "effect" else values["proportion2"] - values["proportion1"],
            counting=self.counting(values),
            proportion1=values["proportion1"],
            method=values["method"],
            n_rule=values["n_rule"],
        )

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """See `Design.given_sizes`; Fisher's test is not done for very large groups."""
        ways = super().given_sizes(values, plan)
        if plan.exact and max(float(way.max()) for way in ways) > LARGEST_GROUP:
            raise RequestError(
                "n1" if "n1" in values else "n",
                f"Fisher's exact test is computed for up to {number_text(LARGEST_GROUP)} per group: "
                "use the pooled method, which agrees with it there.",
            )
        return ways

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        test = "{method} ({sides})" if values["method"] == "fisher" else "a {sides} {method}"
        looking = looking_for(values, *OF_SHARES)
        return Saying(self.size_words(values, find), f"{difference_of_shares(values, find)} (h {{h}})", test, looking)

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return METHOD_TEXTS[values["method"]]
