"""One rate of events against a known one."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, Choice, method
from ragwort.designs.catalogue.rates.common import EXPOSURE
from ragwort.designs.design import Derived, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, claim, power_of_two_variances
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.kinds.counts import COUNTS_UP, N_RULE, Bounds, by_bounds
from ragwort.designs.phrases import Naming, Saying, is_down, looking_for, or_more
from ragwort.designs.precision import Interval
from ragwort.designs.protocol import FROM_NORMAL, InProtocol
from ragwort.designs.refusals import plain_number
from ragwort.designs.remarks import General
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes, Steps
from ragwort.designs.works import ARMITAGE_BERRY, GARWOOD
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.poisson import PoissonTest, least_and_most
from ragwort.stats.simulated import rates
from ragwort.stats.statistic import NormalTest

if TYPE_CHECKING:
    from numpy.typing import NDArray

_LARGEST = 500_000  # participants up to which the exact test is searched
_FURTHEST = 1e9  # rate that is looked at, over the reference
_FEW = 10  # events expected without an effect, under which the score test is poor

_RATE = Assumption(
    "rate",
    "Rate",
    "number",
    "Effect",
    "Events per participant and unit of time that you expect, or the nearest to the reference that would matter.",
    symbol="λ",
    low=0,
    open_low=True,
    timed="per",
)


@dataclass(frozen=True)
class OneRatePlan(StatisticPlan):
    """The score test, a normal approximation. `effect` is the rate less the reference."""

    null: Number
    exposure: Number

    method = "score"
    something = "a rate other than the reference"

    @property
    @override
    def effect_scale(self) -> Number:
        return self.null / 10

    @override
    def furthest(self, up: bool) -> float:
        return float(self.null * _FURTHEST if up else -self.null * (1 - 1e-15))

    @property
    def rate(self) -> Number:
        """The planned rate."""
        return np.maximum(self.null + self.effect, 0.0)

    @override
    def interval(self, groups: Sizes) -> Interval:
        error = np.sqrt(self.rate / (groups[0] * self.exposure))
        return self.confidence.around("rate", "number", self.rate, self.confidence.z * error)

    @override
    def test(self, groups: Sizes) -> Any:
        """Methods of section 13, one-rate."""
        time = groups[0] * self.exposure
        away, spread = np.sqrt(time / self.null) * self.effect, np.sqrt(self.rate / self.null)
        return NormalTest(away, spread, mean=time * self.effect, null_variance=time * self.null)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> rates.OneGroupsEvents:
        return rates.draw_one_group(population, count, sizes[0], float(self.rate * self.exposure))

    @override
    def analyse(self, data: rates.OneGroupsEvents, way: str = "") -> simulated.Found:
        return rates.analyse_one_rate(data, float(self.null), float(self.exposure), self.method, self.level)

    @property
    @override
    def nothing(self) -> float:
        return float(self.null)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"rate": self.rate, "rate_ratio": self.rate / self.null}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        expected = float(groups[0, 0] * self.exposure * self.null)
        poor = f", and poor here: {expected:.3g} events are expected, fewer than {_FEW}" if expected < _FEW else ""
        said = f"The score test is a normal approximation{poor}."
        return [said if poor else General(said)]


@dataclass(frozen=True)
class ExactRatePlan(CountsPlan, OneRatePlan):
    """The exact Poisson test."""

    n_rule: str

    method = "exact"

    @property
    @override
    def last_step(self) -> int:
        return _LARGEST

    @override
    def test(self, groups: Sizes) -> PoissonTest:
        time = groups[0] * self.exposure
        return PoissonTest(time * self.rate, time * self.null)

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        return np.asarray(self.test(groups).actual_alpha(self.alpha, self.sides))

    @override
    def rejection_limits(self, groups: Sizes) -> dict[str, NDArray[np.float64]]:
        return self.test(groups).regions(self.alpha, self.sides)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        def bounds(first: Steps, last: Steps) -> Bounds:
            ends = [(time * self.rate, time * self.null) for time in (first * self.exposure, last * self.exposure)]
            return least_and_most(ends[0], ends[1], self.alpha, self.sides)

        return by_bounds(self, bounds)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        if all(np.isnan(limit[0]) for limit in self.rejection_limits(groups).values()):
            return ["No count of events is rare enough to reject at this alpha, so power is 0."]
        return []


@register
class OneRate(OneSample):
    """One rate of events against a known one."""

    id = "one-rate"
    title = "One rate: Poisson test"
    summary = "Does the rate of recurrent events, such as falls, differ from a known rate?"
    in_protocol = InProtocol(
        "The rate of {outcome} will be compared with {reference.1}",
        {"exact": "exact (central) Poisson test", "score": "score test of a Poisson rate"},
        {"exact": "exact Poisson probabilities", "score": FROM_NORMAL},
        cites={"exact": (GARWOOD,), "score": (ARMITAGE_BERRY.at("section 5.2"),)},
    )
    evidence = evidence.ONE_RATE
    takes = {"measured": ("count",), "compared": ("known",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "poisson rate",
        "standardised incidence ratio",
        "events against a norm",
        "incidence rate",
        "standardised mortality ratio",
    )
    buys = "One group is enough, because the rate to compare with is known without error."
    assumptions = (
        _RATE,
        replace(
            _RATE,
            name="null_rate",
            label="Reference rate",
            help="The rate to compare with: a norm, or that of so long a time that it counts as known.",
            symbol="λ₀",
            required=True,
        ),
        EXPOSURE,
        DIRECTION,
        ALPHA,
        SIDES,
        method(
            "Exact: the Poisson test, whose actual alpha is never above the one stated. Score: its normal "
            "approximation, for comparison and for many events.",
            Choice("exact", "exact Poisson", "exact Poisson test"),
            Choice("score", "score", "score test"),
        ),
        POWER,
        TOTAL,
        N_RULE,
        DROPOUT,
    )
    ways = ((Way("a rate", ("rate",)),),)
    elementwise = elementwise("rate", "null_rate")
    by_counts = frozenset({"exact"})
    starting = {"rate": 1.5, "null_rate": 1.0}
    derived = (
        Derived("Effect", "rate_ratio", "rate ratio"),
        Derived("Error rates", "actual_alpha", "actual alpha"),
    )
    data_assumptions = (
        "Observations of different participants are independent.",
        "Follow-up is equal for all, and events occur at a constant rate, the same for all.",
    )
    accuracies = {
        "exact": "The Poisson probabilities are exact; the two-sided test is central (equal-tailed).",
        "score": "The score test is a normal approximation, poor where few events are expected.",
    }
    approximation = " ".join(accuracies.values())

    @override
    def comparison(self, values: Values, find: str) -> OneRatePlan:
        own = {"null": values["null_rate"], "exposure": values["exposure"]}
        basis = self.basis(values, find)
        if values["method"] == "exact":
            return ExactRatePlan(**basis, **own, n_rule=values["n_rule"])
        return OneRatePlan(**basis, **own)

    @override
    def stated_effect(self, values: Values) -> Number:
        return values["rate"] - values["null_rate"]

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        return (Naming("reference", "Reference", ("the reference",)),)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "rate"))
        effect = f"a rate of {{rate}}{more} against {{reference.1}} of {{null_rate}}"
        looking, aside = looking_for(values, "more events", "fewer events"), ((), "follow-up {exposure}")
        return Saying("{n}", effect, "a {sides} {method}", looking, aside=(aside,))

    @override
    def claim(self, values: Values) -> Claim:
        where = "λ is the rate in the population."
        return claim("λ", plain_number(values["null_rate"]), values["sides"], where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        sides = values["sides"]
        if values["method"] == "score":
            return "Δ = n T (λ − λ₀),   V₀ = n T λ₀,   V₁ = n T λ", power_of_two_variances(sides)
        low, high = "P(X ≤ c₁)", "P(X ≥ c₂)"
        power = {"two": f"{low} + {high}", "greater": high, "less": low}[sides]
        limits = "c₁ and c₂ are the rejection limits of the exact test under λ₀"
        return f"1 − β = {power}", "X is Poisson (n T λ)", limits

    @override
    def method_text(self, values: Values) -> str:
        if values["method"] == "exact":
            return f"for the exact Poisson test by summing the probabilities of all counts that reject. {COUNTS_UP}"
        return (
            "for the score test of a rate, with the variance of the reference rate under the null hypothesis and that "
            "of the planned one under the alternative, as a normal approximation."
        )
