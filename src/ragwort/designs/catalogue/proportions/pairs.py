"""Yes or no within pairs: McNemar's test."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from ragwort.designs import evidence
from ragwort.designs.agreement import agree
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, rounded
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, claim, power_of_two_variances
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE, horizon
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, number_text
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sampling import OneSample
from ragwort.designs.saying import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.sizes import Sizes
from ragwort.stats import patience, studies
from ragwort.stats.discordant import correlations_text, exact_power
from ragwort.stats.lazily import np
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest
from ragwort.stats.studies import paired

if TYPE_CHECKING:
    from numpy.typing import NDArray

_FEW = 10  # discordant pairs expected, under which the normal approximation is poor
_LARGEST = 20_000  # pairs up to which the exact test is searched
_AT_ONCE = 64  # sizes


def _share(name: str, label: str, help_text: str, symbol: str, **more: Any) -> Assumption:
    return Assumption(name, label, "share", "Effect", help_text, symbol=symbol, low=0, high=1, **more)


_PROPORTION01 = _share(
    "proportion01",
    "Yes in the second only",
    "The share of pairs with no under the first condition and yes under the second. Only pairs that disagree tell "
    "the conditions apart.",
    "p₀₁",
)


@dataclass(frozen=True)
class PairedShares(Plan):
    """`effect` is the difference of the proportions; `correlation` is None where discordant pairs are stated."""

    proportion10: float  # of the pairs that disagree the other way; stated
    proportion1: float
    correlation: float | None

    effect_scale = 0.01
    estimated = "difference of proportions"

    def cells(self) -> tuple[Number, Number]:
        """The shares of pairs with yes then no, and with no then yes."""
        if self.correlation is None:
            return self.proportion10 + 0 * np.asarray(self.effect), self.proportion10 + self.effect
        p1, p2 = self.proportion1, self.proportion1 + self.effect
        both = p1 * p2 + self.correlation * np.sqrt(np.maximum(p1 * (1 - p1) * p2 * (1 - p2), 0.0))
        return p1 - both, p2 - both

    def furthest(self, up: bool) -> float:
        """See `Plan.furthest`: where no cell of the table lies below 0."""
        if self.correlation is None:
            return max(1 - 2 * self.proportion10, 0.0) if up else -self.proportion10
        end, reached = (1 - self.proportion1 if up else -self.proportion1), 0.0
        for _ in range(60):  # halves the way between an effect that can be had and one that cannot
            middle = (reached + end) / 2
            reached, end = (middle, end) if self._possible(middle) else (reached, middle)
        return reached

    def _possible(self, effect: float) -> bool:
        there = self.replace(effect=effect)
        p10, p01 = there.cells()
        p11 = self.proportion1 - float(p10)
        return min(float(p10), float(p01), p11, 1 - p11 - float(p10) - float(p01)) >= 0

    def draw(self, sizes: tuple[int, ...], world: studies.World, count: int) -> paired.Table:
        """See `Plan.draw`."""
        p10, p01 = (float(cell) for cell in self.cells())
        rest = 1 - p10 - p01
        yes = rest / 2 if self.correlation is None else self.proportion1 - p10
        return paired.draw_table(world, count, sizes[0], (p10, p01, yes, max(rest - yes, 0.0)))

    @property
    def truth(self) -> float:
        """See `Plan.truth`: the difference of the proportions."""
        return float(self.effect)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        p10, p01 = self.cells()
        found: dict[str, Number] = {"proportion01": p01, "risk_difference": self.effect}
        if self.correlation is not None:
            found = {"proportion2": self.proportion1 + self.effect, **found}
        return found if np.any(np.asarray(p10) == 0) else {**found, "odds_ratio": p01 / p10}


@dataclass(frozen=True)
class PairedPlan(PairedShares, StatisticPlan):
    """McNemar's test as a normal approximation."""

    single = ("correlation",)

    def test(self, groups: Sizes) -> NormalTest:
        """See `StatisticPlan.test`; Fleiss, Levin and Paik (2003), section 13.1."""
        p10, p01 = self.cells()
        apart, both = p01 - p10, p01 + p10
        return NormalTest(np.sqrt(groups[0] / both) * apart, np.sqrt(np.maximum(both - apart**2, 0.0) / both))

    def analyse(self, data: paired.Table, way: str = "") -> studies.Found:
        """See `Plan.analyse`."""
        return paired.analyse_table(data, "asymptotic", self.level)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        expected = float(np.ravel(groups[0] * sum(self.cells()))[0])
        poor = f"here: {expected:.3g} pairs that disagree are expected" if expected < _FEW else ""
        return [normal_approximation(poor, "; that of the exact method is not")]


@dataclass(frozen=True)
class ExactPairedPlan(CountsPlan, PairedShares):
    """The exact binomial test of the pairs that disagree, averaged over how many do."""

    n_rule: str

    @property
    def last_step(self) -> int:
        """See `Plan.last_step`."""
        return _LARGEST

    def power(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.power`."""
        p10, p01 = self.cells()
        return self._of(groups, p10 + p01, p01)

    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.actual_alpha`: with as many pairs that disagree, equally often either way."""
        p10, p01 = self.cells()
        return self._of(groups, p10 + p01, (p10 + p01) / 2)

    def _of(self, groups: Sizes, disagree: Number, p01: Number) -> NDArray[np.float64]:
        n, both, up = np.broadcast_arrays(groups[0], disagree, p01)
        rows = zip(n.ravel(), both.ravel(), up.ravel(), strict=True)
        found = [exact_power(int(size), float(a), float(b), float(self.alpha), self.sides) for size, a, b in rows]
        return np.array(found).reshape(n.shape)

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return {"actual_alpha": float(self.actual_alpha(groups)[0])}

    def analyse(self, data: paired.Table, way: str = "") -> studies.Found:
        """See `Plan.analyse`."""
        return paired.analyse_table(data, "exact", self.level)

    def first_and_steady(self) -> tuple[int, int] | None:
        """See `CountsPlan.first_and_steady`: size by size."""
        first = next((n for n, power in self._along(self.counting.lowest, _LARGEST) if power >= self.target), None)
        if first is None:
            return None
        end = horizon(self.power_along, self.target, max(2 * first, first + 200))
        missed = [n for n, power in self._along(first, end) if power < self.target]
        return first, (missed[-1] + 1 if missed else first)

    def _along(self, first: int, last: int) -> Any:
        for start in range(first, last + 1, _AT_ONCE):
            patience.check()
            steps = np.arange(start, min(start + _AT_ONCE, last + 1))
            yield from zip(steps.tolist(), self.power_along(steps).tolist(), strict=True)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        return []


@register
class PairedProportions(OneSample):
    """Yes or no within pairs: before and after, left and right, matched people."""

    id = "paired-proportions"
    title = "Paired proportions"
    summary = "Is a yes more frequent under one of two conditions, within the same people or matched pairs?"
    evidence = evidence.PAIRED_SHARES
    takes = {"measured": ("yes-no",), "compared": ("two",), "same": ("twice",), "whole": ("no",)}
    known_as = (
        "mcnemar",
        "matched pairs yes no",
        "before and after yes no",
        "discordant pairs",
        "marginal homogeneity",
    )
    buys = "Each person is their own comparison; only pairs that disagree count."
    people = ("pair", "pairs")
    rows = "pair"
    assumptions = (
        _PROPORTION01,
        _share(
            "proportion10",
            "Yes in the first only",
            "The share of pairs with yes under the first condition and no under the second.",
            "p₁₀",
        ),
        _share("proportion1", "Proportion, first", "The share with a yes under the first condition.", "p₁"),
        _share("proportion2", "Proportion, second", "The share with a yes under the second condition.", "p₂"),
        Assumption(
            "correlation",
            "Correlation within pairs",
            "number",
            "Effect",
            "How closely the two answers of a pair go together (φ). The higher it is, the fewer pairs disagree.",
            symbol="φ",
            low=-1,
            high=1,
        ),
        DIRECTION,
        ALPHA,
        SIDES,
        Assumption(
            "method",
            "Method",
            "choice",
            "Error rates",
            "Asymptotic: McNemar's test as a normal approximation. Exact: the binomial test of the pairs that "
            "disagree, never above the alpha stated.",
            default="asymptotic",
            choices=(
                Choice("asymptotic", "asymptotic", "McNemar test"),
                Choice("exact", "exact", "exact McNemar test"),
            ),
        ),
        POWER,
        replace(TOTAL, label="Pairs", words="{many}", help="The number of pairs analysed. Dropout is added on top."),
        replace(N_RULE, help="Of the exact test only. " + N_RULE.help),
        DROPOUT,
    )
    ways = (
        (
            Way("pairs that disagree", ("proportion10", "proportion01")),
            Way("both proportions", ("proportion1", "proportion2", "correlation")),
        ),
    )
    stands_alone = frozenset({"proportion10", "proportion1", "correlation"})
    elementwise = elementwise("proportion01", "proportion2")
    by_counts = frozenset({"exact"})
    starting = {"proportion10": 0.1, "proportion01": 0.25}
    derived = (
        Derived("Effect", "risk_difference", "difference"),
        Derived("Effect", "odds_ratio", "odds ratio"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = ("Pairs are independent of each other.", "Each pair has a yes or no under both conditions.")
    references = (
        "Fleiss JL, Levin B, Paik MC. Statistical Methods for Rates and Proportions. 3rd ed. Hoboken: Wiley; 2003. "
        "Section 13.1.",
        "McNemar Q. Note on the sampling error of the difference between correlated proportions or percentages. "
        "Psychometrika 1947; 12: 153-157.",
    )
    accuracies = {
        "asymptotic": "Asymptotic: a normal approximation, poor where fewer than 10 pairs are expected to disagree.",
        "exact": "Exact: binomial probabilities summed over how many pairs disagree.",
    }
    approximation = " ".join(accuracies.values())

    def plan(self, values: Values, find: str) -> Plan:
        """See `Design.plan`."""
        by_shares = "proportion1" in values
        if find == "effect" and not by_shares and "proportion10" not in values:
            raise RequestError("proportion10", "A found effect needs the share of pairs that disagree the other way.")
        if by_shares and "correlation" not in values:
            raise RequestError("correlation", "Both proportions need the correlation within pairs.")
        own = {"proportion10": values.get("proportion10", 0.0), "proportion1": values.get("proportion1", 0.0)}
        given = {**self.basis(values, find), **own, "correlation": values["correlation"] if by_shares else None}
        exact = values["method"] == "exact"
        plan: PairedShares
        plan = ExactPairedPlan(**given, n_rule=values["n_rule"]) if exact else PairedPlan(**given)
        if find != "effect":
            _need_table(plan, values)
        return plan

    def unused_names(self, find: str) -> frozenset[str]:
        """See `Design.unused_names`: what the other condition has is what a found effect stands on."""
        return super().unused_names(find) - self.stands_alone

    def stated_effect(self, values: Values) -> Number:
        """See `Design.stated_effect`."""
        if "proportion1" in values and "proportion2" in values:
            return values["proportion2"] - values["proportion1"]
        if "proportion1" in values and "correlation" in values and "proportion10" not in values:
            return (
                _second_of(values["proportion01"], values["proportion1"], values["correlation"]) - values["proportion1"]
            )
        return values["proportion01"] - values["proportion10"]

    def in_other_words(self, values: Values) -> dict[str, Any]:
        """See `Design.in_other_words`: pairs that agree as often yes as no."""
        known = dict(values)
        if {"proportion10", "proportion01"} <= set(known):
            p1 = (1 - known["proportion01"] + known["proportion10"]) / 2
            p2 = p1 + known["proportion01"] - known["proportion10"]
            scale = math.sqrt(p1 * (1 - p1) * p2 * (1 - p2))
            phi = (p1 - known["proportion10"] - p1 * p2) / scale if scale else 0.0
            known |= {"proportion1": rounded(p1), "proportion2": rounded(p2), "correlation": rounded(phi)}
        elif {"proportion1", "proportion2", "correlation"} <= set(known):
            p1, p2 = known["proportion1"], known["proportion2"]
            both = p1 * p2 + known["correlation"] * math.sqrt(p1 * (1 - p1) * p2 * (1 - p2))
            known |= {"proportion10": rounded(p1 - both), "proportion01": rounded(p2 - both)}
        return known

    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """See `Design.effect_as`."""
        if "proportion1" in values:
            kept = {name: values[name] for name in ("proportion1", "correlation") if name in values}
            return self.restate({**kept, "proportion2": effect}, way)
        return self.restate({"proportion10": values.get("proportion10", 0.1), "proportion01": effect}, way)

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("conditions", "Conditions", ("the first", "the second condition")),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        more = or_more(find, find == "effect" and is_down(values, find, "-"))
        if "proportion1" in values:
            second = "{proportion01}" if find == "effect" else "{proportion2}"
            effect = (
                f"a difference between {{proportion1}} with {{conditions.1}} and {second}{more} with {{conditions.2}} "
                "within pairs (correlation {correlation})"
            )
        else:
            effect = (
                f"a difference between {{proportion01}}{more} of pairs with a yes only with {{conditions.2}} and "
                "{proportion10} only with {conditions.1}"
            )
        looking = looking_for(values, "more of it with {conditions.2}", "less of it with {conditions.2}")
        return Saying("{n}", effect, "a {sides} {method}", looking)

    def claim(self, values: Values) -> Claim:
        """See `Design.claim`."""
        where = "π₀₁ is the share of pairs with a yes only with {conditions.2}, π₁₀ only with {conditions.1}."
        return claim("π₀₁ − π₁₀", "0", values["sides"], where)

    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """See `Design.formulas`."""
        if values["method"] == "exact":
            return "1 − β = Σ P(M = m) P(exact binomial test of 1/2 rejects at m)", "M is binomial (n, π₁₀ + π₀₁)"
        apart = "Δ = √n (π₀₁ − π₁₀),   V₀ = π₁₀ + π₀₁,   V₁ = V₀ − (π₀₁ − π₁₀)²"
        return apart, power_of_two_variances(values["sides"])

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        if values["method"] == "exact":
            return (
                "for the exact McNemar test by summing, over how many pairs disagree, the power of the binomial test "
                "of one half. " + COUNTS_UP
            )
        return (
            "for McNemar's test as a normal approximation, with the variance of the pairs that disagree under the null "
            "hypothesis and that under the alternative."
        )


def _second_of(p01: float, p1: float, phi: float) -> float:
    """The second proportion at which this share of pairs has a yes in the second only. Raises `RequestError`."""
    from scipy.optimize import brentq

    if p01 > 1 - p1:
        raise RequestError(
            "proportion01", f"No more than {number_text(1 - p1)} have no yes in the first: {number_text(p01)} is more."
        )

    def too_many(p2: float) -> float:
        return p2 - p1 * p2 - phi * math.sqrt(p1 * (1 - p1) * p2 * (1 - p2)) - p01

    return float(brentq(too_many, 0.0, 1.0, xtol=1e-15))  # below at 0, above at 1, and once through


def _need_table(plan: PairedShares, values: Values) -> None:
    """Refuse cells that no table of pairs has. Raises `RequestError`."""
    if not np.size(plan.effect):
        return
    p10, p01 = (float(np.min(cell)) for cell in plan.cells())
    if plan.correlation is None:
        if float(np.max(plan.cells()[0] + plan.cells()[1])) > 1 + 1e-12:
            raise RequestError(
                "proportion01", f"Pairs that disagree add up to {number_text(p10 + p01)}: at most 1 can be had."
            )
        return
    if not plan._possible(float(np.ravel(plan.effect)[0])):
        raise RequestError("correlation", correlations_text(plan.proportion1, float(np.ravel(plan.effect)[0])))
    for name, cell in (("proportion10", p10), ("proportion01", p01)):
        if name in values and not agree(values[name], cell):
            raise RequestError(name, f"{name} is given, but the proportions and their correlation make it {cell:.6g}.")
