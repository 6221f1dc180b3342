"""One proportion against a known one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice
from ragwort.designs.catalogue.proportions.common import ARCSINE, REFERENCES, SharePlan, proportion
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, claim, power_of_two_variances, power_of_z, row
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE, horizon
from ragwort.designs.plan import Plan
from ragwort.designs.refusals import RequestError, number_text
from ragwort.designs.sampling import OneSample
from ragwort.designs.saying import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.sizes import Sizes
from ragwort.stats import sawtooth, studies
from ragwort.stats.binomial import BinomialTest, least_and_most
from ragwort.stats.effects import h_of
from ragwort.stats.lazily import np
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import NormalTest, Test
from ragwort.stats.studies import counts

if TYPE_CHECKING:
    from numpy.typing import NDArray

_LARGEST = 500_000  # participants up to which the exact test is searched
_METHOD_NAMES = {"score": "The score test", "arcsine": "The arcsine method"}


@dataclass(frozen=True)
class _OneShare(SharePlan):
    """One sample; `effect` is the planned proportion less the reference."""

    null: float

    method: ClassVar[str]  # by which the sample is tested

    @property
    def known(self) -> float:
        """See `SharePlan.known`."""
        return self.null

    def draw(self, sizes: tuple[int, ...], world: studies.World, count: int) -> counts.Shares:
        """See `Plan.draw`."""
        return counts.draw_shares(world, count, sizes, (float(self.planned),))

    def analyse(self, data: counts.Shares, way: str = "") -> studies.Found:
        """See `Plan.analyse`."""
        return counts.analyse_one_share(data, self.null, self.method, self.level)

    @property
    def nothing(self) -> float:
        """See `Plan.nothing`."""
        return self.null

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        p = self.planned
        return {"proportion": p, "risk_difference": self.effect, "h": h_of(self.null, p)}


@dataclass(frozen=True)
class ScorePlan(_OneShare, StatisticPlan):
    """The score test, a normal approximation."""

    method = "score"

    def test(self, groups: Sizes) -> Test:
        """See `StatisticPlan.test`; methods of section 4, one-proportion."""
        n, p, p0 = groups[0], self.planned, self.null
        null_sd = np.sqrt(p0 * (1 - p0))
        return NormalTest(np.sqrt(n) * self.effect / null_sd, np.sqrt(p * (1 - p)) / null_sd)

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        return [f"{_METHOD_NAMES[self.method]} is a normal approximation; the exact method is at hand."]


@dataclass(frozen=True)
class ArcsinePlan(ScorePlan):
    """The test on the arcsine scale, a normal approximation."""

    method = "arcsine"

    def test(self, groups: Sizes) -> Test:
        """See `StatisticPlan.test`; Cohen (1988), chapter 6."""
        return NormalTest(h_of(self.null, self.planned) * np.sqrt(groups[0]))


@dataclass(frozen=True)
class BinomialPlan(_OneShare, CountsPlan, StatisticPlan):
    """The exact binomial test."""

    n_rule: str

    method = "exact"

    @property
    def last_step(self) -> int:
        """See `Plan.last_step`."""
        return _LARGEST

    def test(self, groups: Sizes) -> BinomialTest:
        """See `StatisticPlan.test`."""
        return BinomialTest(self.planned, self.null, groups[0])

    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """See `Plan.actual_alpha`."""
        return np.asarray(self.test(groups).actual_alpha(self.alpha, self.sides))

    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        """See `CountsPlan.rejection_limits`."""
        return self.test(groups).regions(self.alpha, self.sides)

    def first_and_steady(self) -> tuple[int, int] | None:
        """See `CountsPlan.first_and_steady`; runs of sizes are ruled out by bounds."""

        def bound(which: int) -> sawtooth.Bound:
            p, p0 = float(self.planned), self.null
            return lambda first, last: least_and_most(
                first.astype(float), last.astype(float), p, p0, self.alpha, self.sides
            )[which]

        power, lowest = self.power_along, self.counting.lowest
        first = sawtooth.first_reaching(power, bound(1), self.target, lowest, self.last_step)
        if first is None:
            return None
        end = horizon(power, self.target, max(2 * first, first + 200))
        return first, sawtooth.last_below(power, bound(0), self.target, first, end) + 1

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        if all(np.isnan(limit[0]) for limit in self.rejection_limits(groups).values()):
            return ["No count of this sample is rare enough to reject at this alpha, so power is 0."]
        return []


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
        proportion(
            "proportion",
            "Proportion",
            "The share of people with a yes that you expect, or the nearest to the reference that would matter. "
            "Take it from records or a pilot; a pilot of 20 people can easily be 20 points off.",
            "p",
        ),
        proportion(
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
                ARCSINE,
            ),
        ),
        POWER,
        TOTAL,
        N_RULE,
        DROPOUT,
    )
    ways = ((Way("a proportion", ("proportion",)),),)
    elementwise = elementwise("proportion", "null_proportion")
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
    references = REFERENCES
    approximation = (
        "The exact method sums binomial probabilities and approximates nothing. Score and arcsine are normal "
        "approximations (simulated with 194 participants: 0.808 where both say 0.800 to 0.801)."
    )

    def borrowed(self, values: Values) -> dict[str, Any]:
        """See `Design.borrowed`: the first group's proportion as if it were known."""
        if "proportion1" in values and "proportion2" in values:
            return {"null_proportion": values["proportion1"], "proportion": values["proportion2"]}
        return {}

    def plan(self, values: Values, find: str) -> Plan:
        """See `Design.plan`."""
        null = values["null_proportion"]
        if find == "n" and values["proportion"] == null:
            raise RequestError(
                "proportion",
                f"The proportion equals the reference ({number_text(null)}): there is no effect to detect.",
            )
        basis = self.basis(values, find)
        if values["method"] == "exact":
            return BinomialPlan(**basis, null=null, n_rule=values["n_rule"])
        kind = ScorePlan if values["method"] == "score" else ArcsinePlan
        return kind(**basis, null=null)

    def stated_effect(self, values: Values) -> Number:
        """See `Design.stated_effect`."""
        return values["proportion"] - values["null_proportion"]

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        return (Naming("reference", "Reference", ("the reference",)),)

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        more = or_more(find, is_down(values, find, "-"))
        effect = f"a proportion of {{proportion}}{more} where {{reference.1}} is {{null_proportion}}"
        looking = looking_for(values, "a higher proportion", "a lower proportion")
        return Saying("{n}", effect, "a {sides} {method}", looking)

    def claim(self, values: Values) -> Claim:
        """See `Design.claim`."""
        return claim("π", f"{values['null_proportion']:g}", values["sides"], "π is the proportion in the population.")

    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """See `Design.formulas`."""
        sides = values["sides"]
        if values["method"] == "arcsine":
            return row("δ = (2 arcsin ", Root("π"), " − 2 arcsin ", Root("π₀"), ") ", Root("n")), power_of_z(sides)
        if values["method"] == "score":
            spread = row("Δ = π − π₀,   V₀ = ", Frac("π₀(1 − π₀)", "n"), ",   V₁ = ", Frac("π(1 − π)", "n"))
            return spread, power_of_two_variances(sides)
        low, high = "P(X ≤ c₁)", "P(X ≥ c₂)"
        power = {"two": f"{low} + {high}", "greater": high, "less": low}[sides]
        counts = "X is binomial (n, π); c₁ and c₂ are the rejection limits of the exact test under π₀"
        return f"1 − β = {power}", counts

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        methods = {
            "exact": "for the exact binomial test by summing the probabilities of all counts that reject. " + COUNTS_UP,
            "score": "for the score test, with the standard error of the reference proportion "
            "under the null hypothesis and that of the planned one under the alternative, as a normal approximation.",
            "arcsine": "on the arcsine scale, h = 2 arcsin √p − 2 arcsin √p₀, on which the "
            "proportion is taken to be normal with variance 1/n.",
        }
        return methods[values["method"]]
