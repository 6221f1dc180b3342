"""Events: how many are expected by when, over the calendar of a study with staggered entry."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer
from ragwort.designs.kinds import CalendarPlan
from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.stats.survival import events_by
from ragwort.study.document.aim import Aim
from ragwort.study.words.naming import names_of
from ragwort.study.words.numbers import decimals_text

POINTS = 161
_AFTER = 1.15  # how far beyond the study's end the calendar goes


@dataclass(frozen=True)
class Events(Shown):
    """What the picture Events shows; arrays run along the calendar."""

    x: NDArray[np.float64]  # time since the first entry
    arms: tuple[tuple[str, NDArray[np.float64]], ...]  # each arm's expected events, by its name
    accrual: float  # when the last one enters
    end: float  # when the study ends
    events: float  # expected by then
    recruited: float  # per unit of time; 0 where all enter at once
    says: str
    texts: Texts = ()
    x_label: str = "time since the first entry"

    @property
    @override
    def y_label(self) -> str:
        return "expected events"

    @property
    def total(self) -> NDArray[np.float64]:
        """Of both arms together."""
        return np.asarray(sum(events for _, events in self.arms))

    @property
    def y_high(self) -> float:
        """The end of the scale of events."""
        return 1.12 * float(self.total[-1])

    @override
    def frame(self) -> tuple[object, ...]:
        return ("events", float(self.x[-1]), self.y_high)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """How many by the time under the pointer."""
        if not 0 <= at.x <= float(self.x[-1]):
            return None
        return self._read(at.x)

    def _read(self, when: float) -> Reading:
        events = float(np.interp(when, self.x, self.total))
        each = ", ".join(f"{name} {float(np.interp(when, self.x, y)):.0f}" for name, y in self.arms)
        return Reading(when, events, f"{decimals_text(events, 0)} events by {when:.3g} ({each})")

    @override
    def walk(self) -> list[Reading]:
        return [self._read(float(when)) for when in self.x[::16]]

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [self.x_label, *(f"events, {name}" for name, _ in self.arms), "total events"]
        columns = [self.x, *(events for _, events in self.arms), self.total]
        found: list[list[object]] = [[float(each) for each in row] for row in zip(*columns, strict=True)]
        return [head, *found]


def counts_events(answer: Answer) -> bool:
    """Whether the answer's plan has a calendar."""
    return isinstance(answer.plan, CalendarPlan) and answer.plan.has_calendar


def events_of(aim: Aim, answer: Answer) -> Events:
    """The expected events of an answer that has a calendar."""
    plan = answer.plan
    assert isinstance(plan, CalendarPlan)
    accrual, follow_up, loss = (float(each) for each in (plan.accrual, plan.follow_up, plan.loss))
    end = accrual + follow_up
    x = np.linspace(0.0, _AFTER * end, POINTS)
    names = names_of(aim, "groups")
    both = zip(answer.groups, plan.hazards(), strict=True)
    lines = [size * events_by(x, each, accrual, loss) for size, each in both]
    events = float(answer.n_more.get("events", 0.0))
    recruited = answer.total / accrual if accrual else 0.0
    entry = f"{recruited:.3g} enter per unit of time until {accrual:g}" if accrual else "all enter at once"
    says = f"{events:.0f} events are expected by {end:.4g}, when the study ends; {entry}."
    return Events(x, tuple(zip(names, lines, strict=True)), accrual, end, events, recruited, says)
