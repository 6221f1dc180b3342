"""The comparison that a design becomes once its assumptions are settled: what all of them are.

The few kinds there are stand in `kinds/`; a design takes one of them.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Literal, Protocol, Self, TypedDict

from ragwort.base.lazily import np
from ragwort.designs.precision import Confidence, Interval
from ragwort.designs.refusals import plain_number, plain_percent
from ragwort.designs.sizes import Counting, Enrolment, Sizes, Steps
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Sides, upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray


Trait = Literal["measured", "bounds", "arms"]  # a shape; one with bounds; something new that can be missed


class Data(Protocol):
    """The data of many studies."""

    def study(self, number: int) -> dict[str, NDArray[np.float64]]:
        """One of them, participant by participant: columns by what they are; NaN where something was lost."""


class Basis(TypedDict):
    """What every plan is made of; see `Plan`."""

    alpha: Number
    target: float
    sides: Sides
    effect: Number
    counting: Counting


@dataclass(frozen=True)
class Plan:
    """A comparison with every assumption settled but the unknown, whose field holds a stand-in.

    `effect` may be an array, to compute power over many effects at once; group sizes broadcast against it.
    """

    alpha: Number
    target: float  # the power asked for
    sides: Sides
    effect: Number  # the primary effect, zero at the null hypothesis
    counting: Counting

    effect_scale: ClassVar[Any] = 1.0  # a size of effect to start searching from
    estimated_ratio: ClassVar[str] = ""  # where that is a logarithm, the ratio that it is of
    estimated: ClassVar[str] = ""  # what `analyse` estimates, where that is not the primary effect itself
    something: ClassVar[str] = "an effect other than 0"  # what is stated where there is an effect
    in_truth: ClassVar[str] = "no effect"  # what holds in truth at the null hypothesis
    traits: ClassVar[frozenset[Trait]] = frozenset()  # of what is drawn, for departures that need them
    signed: ClassVar[bool] = True  # whether the effect has a direction
    has_test: ClassVar[bool] = True  # else an interval is to be narrow enough
    wrong_ways: ClassVar[Mapping[str, str]] = {}  # analyses that forget something: what each forgets
    reported: ClassVar[simulated.Reported | None] = None  # what is enough of each group to make the test on it

    def power(self, groups: Sizes) -> NDArray[np.float64]:
        """Power at these group sizes (groups x anything), in 0..1."""
        raise NotImplementedError

    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """How often the test rejects without an effect, at each size (groups x anything)."""
        return np.full(groups.shape[1:], float(self.alpha))

    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> Data:
        """Draw the data of `count` studies of these group sizes, in a population that may depart from the plan."""
        raise NotImplementedError

    def analyse(self, data: Any, way: str = "") -> simulated.Found:
        """Test the data of each study as an analyst would, or in one of the `wrong_ways`; the data are `draw`'s own."""
        raise NotImplementedError

    def seen(self, groups: Sequence[Array]) -> Data | None:
        """The data of one real study, group by group, as `analyse` takes them; None where that is not known."""
        return None

    def settled_at(self, groups: Sizes) -> Self:
        """The plan as an analyst has it who planned these sizes."""
        return self

    @property
    def truth(self) -> float:
        """What the estimate of `analyse` is meant to find: the effect that is reported first."""
        return float(np.ravel(next(iter(self.effect_report().values())))[0])

    @property
    def hopeless(self) -> str:
        """Why no sample size reaches any power; empty where one may."""
        if self.effect == 0:
            return f"With no effect there is nothing to detect, at any sample size. Give {self.something}."
        if self.points_away:
            return (
                "The effect points against the one-sided test, so no sample size reaches the power: "
                "change the sign of the effect, or the direction of the test."
            )
        return ""

    @property
    def points_away(self) -> bool:
        """Whether a one-sided test looks in the direction opposite to the effect."""
        if self.sides == "two":
            return False
        return bool(self.effect < 0) if self.sides == "greater" else bool(self.effect > 0)

    @property
    def at_null(self) -> float:
        """The effect on the edge of the null hypothesis."""
        return 0.0

    @property
    def nothing(self) -> float:
        """What the estimate would be meant to find without an effect."""
        return 0.0

    @property
    def watched(self) -> float:
        """For how long everybody is watched, of counts of events."""
        return 1.0

    @property
    def outcome_sd(self) -> float:
        """The SD of the first group's outcomes, in the unit of `effect`; 1 where that is stated in SDs."""
        return 1.0

    @property
    def stated_means(self) -> tuple[float, ...]:
        """The means of all groups, where they are stated."""
        return ()

    @property
    def comes_in_clusters(self) -> bool:
        """Whether people come in clusters, whose sizes may vary."""
        return False

    @property
    def on_logs(self) -> bool:
        """Whether the effect is the logarithm of a ratio of means."""
        return False

    @property
    def wider_is_easier(self) -> bool:
        """Whether a wider margin is easier to show."""
        return True

    def from_edge(self, stated: float) -> float:
        """The effect as this plan counts it, from the edge of its hypothesis, for one stated from nothing on."""
        return stated

    def means_at(self, effect: float) -> tuple[float, ...]:
        """The stated means around their centre as far apart as another effect asks."""
        means, share = self.stated_means, effect / float(self.effect) if self.effect else 0.0
        centre = sum(means) / max(len(means), 1)
        return tuple(centre + share * (mean - centre) for mean in means)

    def rescaled_to(self, effect: float) -> Self:
        """The plan with another effect; several means and terms keep their pattern."""
        return self.replace(effect=effect)

    @property
    def has_power(self) -> bool:
        """Whether its power is one that answers report."""
        return True

    @property
    def level(self) -> simulated.Level:
        """Alpha and sides of the test, for a simulated study."""
        return simulated.Level(float(self.alpha), self.sides)

    # --- what is searched ---

    def nearest(self, up: bool) -> float | None:
        """The effect nearest to none that can be had on one side; None where nothing on that side can."""
        return 0.0

    def furthest(self, up: bool) -> float:
        """The effect furthest from none on one side."""
        return 1e300 if up else -1e300

    def furthest_at(self, groups: Sizes, up: bool) -> float:
        """The same at these sizes, where they say how far the formula holds."""
        return self.furthest(up)

    @property
    def last_step(self) -> int:
        """The largest step that is looked at for a sample size."""
        return self.counting.highest

    @property
    def searched_as(self) -> Self:
        """The plan whose power is searched: one that is quicker to ask, where that has the same answer."""
        return self

    def as_asked(self, asked: Plan) -> Self:
        """This plan, which was found by `searched_as`, as it was `asked` for."""
        return self

    def times_of(self, fractions: tuple[float, ...], groups: Sizes) -> list[float] | None:
        """When these shares of the information are expected, in the study's time; None where nothing says that."""
        return None

    def smallest_sizes(self) -> Sizes | None:
        """The smallest sizes whose power reaches the target; None where none that is looked at does."""
        return self.counting.smallest(self.power, self.target)

    def power_along(self, steps: Steps) -> NDArray[np.float64]:
        """Power at each step of the counting (the better split where there are several)."""
        return self.counting.along(self.power, steps)

    def better(self, ways: list[Sizes]) -> Sizes:
        """Of several ways to split a total (each groups x 1), the one with the larger power."""
        return self.counting.better(self.power, ways)

    def replace(self, **changes: Any) -> Self:
        """The same plan with other values."""
        return dataclasses.replace(self, **changes)

    # --- what is reported ---

    @property
    def confidence(self) -> Confidence:
        """How far the interval reaches that goes with the test."""
        return Confidence(upper_tail(self.alpha, self.sides))

    def interval(self, groups: Sizes) -> Interval | None:
        """The confidence interval expected at these sizes; None where several things are estimated at once."""
        return None

    def effect_report(self) -> dict[str, Number]:
        """The effect in every way it is reported; the primary one, as `find: "effect"` answers it, first."""
        raise NotImplementedError

    def effect_with(self, groups: Sizes) -> dict[str, Number]:
        """The same as it is reported of these sizes (groups x 1)."""
        return self.effect_report()

    def unreached(self, limit: float) -> str:
        """That no sample size up to a limit is enough, in words."""
        last = np.array([self.last_step])
        return (
            f"No sample size up to {plain_number(limit)} reaches {plain_percent(self.target)} power; "
            f"the largest power reachable is {plain_percent(float(self.power_along(last)[0]))}."
        )

    def details(self, groups: Sizes) -> dict[str, Any]:
        """What the answer reports beside n and power, for one set of group sizes."""
        raise NotImplementedError

    @property
    def counted(self) -> str:
        """What its sizes count where that is not people: `events`."""
        return ""

    def events_expected(self, groups: Sizes) -> Number | None:
        """How many events people at these sizes are expected to have; None where nothing happens to them."""
        return None

    def clusters_at(self, groups: Sizes) -> list[int]:
        """Whole clusters of each arm (groups x 1); empty where people do not come in clusters."""
        return []

    def recruited(self, lost: Enrolment, groups: Sizes) -> dict[str, Any]:
        """What the answer's `n` says of recruitment beside the people, where some are lost."""
        return {}

    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """What the answer's `n` holds beside total, groups and enrolment."""
        return {}

    def notes(self, groups: Sizes) -> list[str]:
        """What a reader of the answer must know: approximations, unusual cases."""
        return []

    def searched(self) -> tuple[dict[str, int], list[str]]:
        """What the search for a sample size found besides: more for the answer's `n`, and notes."""
        return {}, []
