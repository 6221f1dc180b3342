"""Two arms compared by the log-rank test: what is planned, and what can be found beside the usual."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.kinds import CalendarPlan, EdgedPlan
from ragwort.designs.precision import Interval
from ragwort.designs.ratio_margins import RatioEquivalence
from ragwort.designs.refusals import NotAttainable, plain_percent
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sizes import Sizes
from ragwort.designs.solve import find_sizes
from ragwort.stats import simulated
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.search import one as search
from ragwort.stats.simulated import survival as times
from ragwort.stats.statistic import NormalTest
from ragwort.stats.survival import by_freedman, by_schoenfeld, chance_of_event, events_by

_FURTHEST = 60.0  # log hazard ratio
_FEW = 20  # events, under which the normal approximation is poor


@dataclass(frozen=True)
class SurvivalPlan(CalendarPlan, EdgedPlan):
    """`effect` is the log hazard ratio, from the edge of the null hypothesis on.

    Where `by_events`, sizes are events, in the arms' ratio, not people.
    """

    hazard1: Number
    accrual: Number
    follow_up: Number
    loss: Number
    method: str
    by_events: bool = False

    effect_scale = 0.1
    estimated, estimated_ratio = "log hazard ratio", "hazard ratio"
    something = "a hazard ratio other than 1"
    single = ("by_events",)
    traits = frozenset({"arms"})

    @property
    @override
    def has_calendar(self) -> bool:
        return not self.by_events

    @override
    def hazards(self) -> tuple[float, ...]:
        return float(self.hazard1), float(self.hazard1 * np.exp(self.difference))

    @override
    def furthest(self, up: bool) -> float:
        return _FURTHEST if up else -_FURTHEST

    @property
    @override
    def counted(self) -> str:
        return "events" if self.by_events else ""

    @override
    def events_expected(self, groups: Sizes) -> Number | None:
        return None if self.by_events else self.events(groups)

    @override
    def times_of(self, fractions: tuple[float, ...], groups: Sizes) -> list[float] | None:
        """When these shares of the events are expected under the planned effect."""
        if self.by_events:
            return None
        end, shares = float(self.accrual + self.follow_up), np.ravel(groups)
        hazards = [(n, hazard) for n, hazard in zip(shares, self.hazards(), strict=True)]

        def seen(when: float) -> float:
            accrual, loss, at = float(self.accrual), float(self.loss), np.array([when])
            return sum(float(n * events_by(at, hazard, accrual, loss)[0]) for n, hazard in hazards)

        whole = seen(end)
        return [end if t >= 1 else search.close_in(seen, t * whole, fails=0.0, reaches=end) for t in fractions]

    def events(self, groups: Sizes) -> Number:
        """How many events are expected."""
        n1, n2 = groups
        if self.by_events:
            return n1 + n2
        hazards = self.hazard1, self.hazard1 * np.exp(self.difference)
        one, two = (chance_of_event(each, self.accrual, self.follow_up, self.loss) for each in hazards)
        return n1 * one + n2 * two

    @override
    def interval(self, groups: Sizes) -> Interval:
        n1, n2 = groups
        error = np.sqrt((n1 + n2) ** 2 / (n1 * n2 * self.events(groups)))
        return self.confidence.through("hazard ratio", "ratio", np.exp, self.difference, error)

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Schoenfeld (1981), Freedman (1982)."""
        n1, n2 = groups
        away = by_schoenfeld if self.method == "schoenfeld" else by_freedman
        return NormalTest(away(self.effect, self.events(groups), n1, n2))

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> times.Times:
        """Where only events are counted, everybody is watched until theirs."""
        hazard = 1.0 if self.by_events else float(self.hazard1)
        watched = (0.0, math.inf, 0.0)
        plan = watched if self.by_events else (float(self.accrual), float(self.follow_up), float(self.loss))
        return times.draw_times(
            population, count, (sizes[0], sizes[1]), hazard, float(np.ravel(self.difference)[0]), plan
        )

    @override
    def seen(self, groups: Sequence[Array]) -> times.Times:
        """Of each arm times and events, in two columns."""
        time, event = (np.concatenate([each[:, at] for each in groups])[None, :] for at in (0, 1))
        return times.Times(time, event, (len(groups[0]), len(groups[1])))

    @override
    def analyse(self, data: times.Times, way: str = "") -> simulated.Found:
        found = times.analyse_times(data, self.level)
        return found.against(float(np.ravel(self.edge)[0]), self.level) if self.edge else found

    @property
    @override
    def truth(self) -> float:
        """The log hazard ratio."""
        return float(np.ravel(self.difference)[0])

    @override
    def effect_report(self) -> dict[str, Number]:
        margin = {name: np.exp(value) for name, value in self.margin_report().items()}
        return {"hazard_ratio": np.exp(np.asarray(self.difference)), **margin}

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """The events that are expected, which need not be whole."""
        expected = float(np.ravel(self.events(groups))[0])
        return {"events": round(expected) if self.by_events else expected}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        expected = float(np.ravel(self.events(groups))[0])
        said = [normal_approximation()]
        if expected < _FEW:
            said = [normal_approximation(f"here: {expected:.3g} events are expected")]
        uneven = abs(float(groups[1, 0] / groups[0, 0]) - 1) > 0.05
        return [*said, *(["With unequal arms the truth lies between the two methods."] if uneven else [])]


Planned = SurvivalPlan | RatioEquivalence


def survival_in(plan: Planned) -> SurvivalPlan:
    """The times that a plan is of; of two tests those of either, with the true effect."""
    found = plan.there if isinstance(plan, RatioEquivalence) else plan
    assert isinstance(found, SurvivalPlan)
    return found


def watched_for(plan: Planned, length: float) -> Planned:
    """The plan with another follow-up."""
    if isinstance(plan, RatioEquivalence):
        return plan.replace(inner=plan.inner.replace(follow_up=length))
    return plan.replace(follow_up=length)


def smallest_events(plan: Planned, sizes: Sizes) -> tuple[Sizes, Planned]:
    """The smallest whole number of events. Raises `NotAttainable`."""
    return find_sizes(plan, "hazard_ratio"), plan


def events_found(plan: Planned) -> int:
    sizes = plan.smallest_sizes()
    assert sizes is not None, "events that were found are there"
    return round(float(sizes.sum()))


def shortest_follow_up(plan: Planned, sizes: Sizes) -> tuple[Sizes, Planned]:
    """The shortest follow-up of the last one to enter. Raises `NotAttainable`."""

    def power(length: float) -> float:
        return float(watched_for(plan, length).power(sizes)[0])

    if plan.hopeless:
        raise NotAttainable("follow_up", plan.hopeless)
    of = survival_in(plan)
    if of.accrual and power(0.0) >= plan.target:
        return sizes, watched_for(plan, 0.0)
    hazard = float(of.hazard1) + float(of.loss)
    furthest = 100.0 / hazard * max(1.0, math.exp(-float(np.ravel(of.difference)[0])))
    found = search.nearest_root(power, plan.target, 0.01 / hazard, furthest)
    if found is None:
        most = plain_percent(power(furthest))
        raise NotAttainable(
            "follow_up",
            f"However long these people are watched, power is at most {most}, not {plain_percent(plan.target)}: more "
            "people are needed.",
        )
    return sizes, watched_for(plan, found)
