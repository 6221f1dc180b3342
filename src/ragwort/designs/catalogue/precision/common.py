"""What designs share whose end is an interval: the half width, the confidence, planned or with a chance."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.designs.assumption import POWER, Assumption, Choice
from ragwort.designs.design import Design, Further, Values
from ragwort.designs.kinds.precision import PrecisionPlan, no_such_confidence
from ragwort.designs.phrases import Saying
from ragwort.designs.plan import Basis, Plan
from ragwort.designs.refusals import RequestError, plain_number
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.designs.ways_out import WayOut
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array
from ragwort.stats.search import one as search

HALF_WIDTH = Assumption(
    "half_width",
    "Half width",
    "measured",
    "Effect",
    "How far the confidence interval is to reach to either side of what is estimated, in the outcome's own unit: half "
    "of the way from the lower limit to the upper one. Halving it takes four times as many people.",
    symbol="w",
    low=0,
    open_low=True,
)
HALF_WIDTH_OF_SHARE = replace(
    HALF_WIDTH,
    kind="share",
    help="How far the confidence interval is to reach to either side of the proportion, in percentage points: half of "
    "the way from the lower limit to the upper one. Not a share of the proportion.",
)
CONFIDENCE = Assumption(
    "confidence",
    "Confidence",
    "share",
    "Error rates",
    "How often such intervals hold the true value, two-sided. For a one-sided limit at 97.5% take 95%.",
    symbol="1 − α",
    low=0,
    high=1,
    open_low=True,
    open_high=True,
    default=0.95,
    usual="95%; 90% for a one-sided limit at 95%",
)
GOAL = Assumption(
    "goal",
    "The half width is to hold",
    "choice",
    "Error rates",
    "As planned: if the SD comes out as stated. It does not: in about half of studies the interval is then wider than "
    "planned. With a chance: so often the interval is no wider, whatever the SD of the sample.",
    default="planned",
    choices=(
        Choice("planned", "as planned", "as planned"),
        Choice("assured", "with a chance", "with a chance"),
    ),
)
CHANCE = replace(
    POWER,
    label="Chance",
    help="How often the interval of the study is to be no wider than asked for. It varies, because the SD of the "
    "sample does.",
    usual="80% or 90%",
)
UNUSED_CHANCE = replace(CHANCE, in_ledger=False)
POPULATION = Assumption(
    "population",
    "Population",
    "count",
    "Sample",
    "How many there are in all, where the sample is a good part of them: whoever is asked need not be estimated. Leave "
    "it empty where there is no end of them.",
    low=2,
    high=10**9,
)
DESIGN_EFFECT = Assumption(
    "design_effect",
    "Design effect",
    "number",
    "Sample",
    "How many times larger the variance is than in a simple random sample. For samples of whole clusters it is "
    "1 + (m − 1) times the intracluster correlation, with m people of each.",
    symbol="deff",
    low=0,
    open_low=True,
    default=1.0,
)
WIDER = WayOut(
    "effect",
    "Accept a wider interval",
    "The estimate would then be less precise: is it still worth having?",
    find="effect",
    gain="Have a narrower interval",
)
_LEAST_Z = 1e-9
_MOST_Z = 37.0  # beyond it no tail can be held


class Precise(Design):
    """A design whose end is an interval; nothing is tested."""

    tested = False
    has_goal: ClassVar[bool] = False
    elementwise = frozenset()
    claims = ("size",)

    @property
    @override
    def finds(self) -> tuple[str, ...]:
        return ("n", "power", "effect", "confidence") if self.has_goal else ("n", "effect", "confidence")

    @override
    def finds_with(self, values: Values) -> tuple[str, ...]:
        return tuple(find for find in self.finds if find != "power" or self.is_assured(values))

    @override
    def found_instead(self, values: Values) -> str:
        return "power" if self.is_assured(values) else "effect"

    def is_assured(self, values: Values) -> bool:
        """Whether the half width is to be kept to with a chance."""
        return values.get("goal") == "assured"

    @override
    def idle_names(self, values: Values) -> frozenset[str]:
        return super().idle_names(values) | (frozenset() if self.is_assured(values) else {"power"})

    @override
    def refuse_idle(self, given: Values, find: str) -> None:
        super().refuse_idle(given, find)
        if find == "power" and not self.is_assured(given):
            raise RequestError("find", "A chance is found only where the half width is to hold with one: goal assured.")
        if find == "confidence" and "half_width" not in given:
            raise RequestError("half_width", "Half width is missing: the confidence that goes with it is found.")

    @override
    def basis(self, values: Values, find: str) -> Basis:
        effect = 0.0 if find == "effect" else self.stated_effect(values)
        target = values["power"] if self.is_assured(values) else 1.0
        return Basis(
            alpha=1 - values["confidence"], target=target, sides="two", effect=effect, counting=self.counting(values)
        )

    @override
    def stated_effect(self, values: Values) -> float:
        return float(values.get("half_width", 0.0))

    @override
    def ways_out(self, values: Values, effect: float) -> list[WayOut]:
        return [WIDER]

    def estimated(self, values: Values) -> Estimated:
        """What the interval is of. `values` are those in force."""
        raise NotImplementedError

    def size_words(self, values: Values, find: str) -> str:
        """The sizes as the sentence says them."""
        return "{n}"

    @override
    def saying(self, values: Values, find: str) -> Saying:
        said = self.estimated(values)
        return Saying(self.size_words(values, find), said.of, "", supposing=" and ".join(said.supposing))

    @override
    def sentence(self, values: Values, find: str, finished: bool = False, planned_on: str = "") -> str:
        more, sizes = self.enrolment(values).needed, self.size_words(values, find)
        return sentence_of(self.estimated(values), sizes, find, self.is_assured(values), finished, more)


class PreciseSample(Precise, OneSample):
    """One sample, which may be a part of a population."""

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        most = values.get("population", np.inf)
        if values["n"] > most:
            raise RequestError("n", f"n is {values['n']}, more than the population of {plain_number(most)}.")
        return super().given_sizes(values, plan)

    @override
    def remarks_on_enrolled(self, values: Values, enrolled: int) -> list[str]:
        """That more would be recruited than there are."""
        most = values.get("population", np.inf)
        if enrolled <= most:
            return []
        return [f"{enrolled} to recruit are more than the population of {most}: with this dropout it cannot be had."]


def _reached(plan: PrecisionPlan, sizes: Sizes) -> tuple[Sizes, PrecisionPlan]:
    return sizes, plan.replace(effect=plan.reached_width(sizes))


def _kept(plan: PrecisionPlan, sizes: Sizes) -> tuple[Sizes, PrecisionPlan]:
    return sizes, plan.replace(alpha=1 - plan.confidence_kept(sizes))


FURTHER = {
    "effect": Further(_reached, lambda plan: float(plan.effect)),
    "confidence": Further(_kept, lambda plan: 1 - float(plan.alpha)),
}
Precise.further = FURTHER


def confidence_by_search(plan: PrecisionPlan, sizes: Sizes) -> float:
    """The confidence at which the half width is the one asked for. Raises `NotAttainable` where there is none."""
    wanted = float(plan.effect)

    def width(z: float) -> float:
        return float(np.ravel(plan.replace(alpha=2 * special.ndtr(-z)).half_width(sizes))[0])

    found = None if width(_LEAST_Z) > wanted else search.nearest_root(width, wanted, 2.0, _MOST_Z)
    if found is None:
        raise no_such_confidence(wanted)
    return in_bounds(float(1 - 2 * special.ndtr(-found)), wanted)


def in_bounds(confidence: float, width: float) -> float:
    """A confidence that is one. Raises `NotAttainable`."""
    if not 0 < confidence < 1:
        raise no_such_confidence(width)
    return confidence


def quantile_of_chi_square(chance: float, df: Any) -> Any:
    """Below which a chi-square variable is with this chance."""
    return 2 * special.gammaincinv(np.asarray(df) / 2, chance)


def chi_square_below(value: Any, df: Any) -> Any:
    """How often a chi-square variable is at most this."""
    return special.gammainc(np.asarray(df) / 2, np.asarray(value) / 2)


@dataclass(frozen=True)
class Estimated:
    """What the interval is of, as parts of sentences."""

    of: str  # `the mean`
    supposing: tuple[str, ...] = ()  # at what planning values: `the SD is {sd}`
    reaching: str = "reaches {half_width} either side"
    reaches: str = "reaching {half_width} either side"

    @property
    def in_points(self) -> Estimated:
        """Of shares, whose half widths are percentage points."""
        return replace(
            self, reaching="reaches {half_width.points} either side", reaches="reaching {half_width.points} either side"
        )


def sentence_of(said: Estimated, sizes: str, find: str, assured: bool, finished: bool, more: bool) -> str:
    """The sentence that answers the question; `more` are recruited than analysed."""
    interval = f"{{confidence}} confidence interval of {said.of}"
    supposing = f" if {' and '.join(said.supposing)}" if said.supposing else ""
    chance = " with a chance of {power}" if assured else ""
    if find == "power":
        return f"With {sizes}, the {interval} {said.reaching} or less with a chance of {{power}}{supposing}."
    if find == "confidence":
        return (
            f"With {sizes}, an interval of {said.of} {said.reaches}{chance} has {{confidence}} confidence{supposing}."
        )
    if find == "effect":
        gives = "gave" if finished else "give"
        return f"{sizes} {gives} a {interval} that {said.reaching}{chance}{supposing}."
    if finished:
        return f"{sizes} would have been needed for a {interval} that {said.reaching}{chance}{supposing}."
    if more and sizes.startswith("{n}"):
        counted = sizes.replace("{n}", "{n.count}", 1)
        return (
            f"Recruit {{to_recruit}} so that {counted} are analysed, for a {interval} that "
            f"{said.reaching}{chance}{supposing}."
        )
    return f"Recruit {sizes} for a {interval} that {said.reaching}{chance}{supposing}."


_FURTHEST = 9.0  # SDs from the expected count, beyond which nothing is looked at


def likely_counts(of: int, share: float) -> tuple[Array, Array]:
    """The counts that so many people may have, and their chances; those beyond 9 SDs are left out."""
    reach = _FURTHEST * math.sqrt(of * share * (1 - share)) + _FURTHEST
    yes = np.arange(max(math.floor(of * share - reach), 0), min(math.ceil(of * share + reach), of) + 1, dtype=float)
    logs = special.gammaln(of + 1) - special.gammaln(yes + 1) - special.gammaln(of - yes + 1)
    return yes, np.exp(logs + special.xlogy(yes, share) + special.xlog1py(of - yes, -share))


def in_blocks(yes: Array, chances: Array, most: int) -> tuple[Array, Array]:
    """At most so many counts, each for those about it: what is summed over them was within 0.0015 of all."""
    block = math.ceil(len(yes) / most)
    if block <= 1:
        return yes, chances
    starts = np.arange(0, len(yes), block)
    sums = np.add.reduceat(chances, starts)
    middles = np.add.reduceat(chances * yes, starts) / np.maximum(sums, 1e-300)
    return np.where(sums > 1e-300, middles, yes[starts]), sums


def interval_found(estimate: Array, low: Array, high: Array) -> simulated.Found:
    """Intervals of studies in which nothing was tested."""
    nothing = np.full(np.shape(estimate), np.nan)
    return simulated.Found(np.ones(np.shape(estimate)), np.asarray(estimate), nothing, low, high)
