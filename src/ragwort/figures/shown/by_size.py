"""The picture of a rehearsal at several sizes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from ragwort.figures.shown.shown import Pointer, Reading, Shown, Texts
from ragwort.rehearsal.by_size import AtSize, Needed
from ragwort.rehearsal.planned import Planned
from ragwort.study.words.numbers import count_text, percent_text

_FINE = 60  # sizes of the formula's line


@dataclass(frozen=True)
class BySize(Shown):
    """Simulated power at several sizes, laid over the formula's."""

    totals: tuple[int, ...]
    simulated: tuple[float, ...]
    intervals: tuple[tuple[float, float], ...]
    formula: tuple[float, ...]
    line: tuple[tuple[float, ...], tuple[float, ...]]  # the formula at many sizes
    target: float
    needed: tuple[int, int, int] | None  # the size, and the ends of its interval
    x_label: str
    says: str
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return "power, %"

    @property
    def ends(self) -> tuple[float, float]:
        """Of the x axis."""
        room = 0.06 * (self.totals[-1] - self.totals[0]) or 1.0
        return self.totals[0] - room, self.totals[-1] + room

    @override
    def frame(self) -> tuple[object, ...]:
        return ("by size", self.ends)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The nearest size."""
        place = int(np.argmin(np.abs(np.array(self.totals) - at.x)))
        return self._size(place) if at.y >= 0 else None

    @override
    def walk(self) -> list[Reading]:
        """From the smallest size on."""
        return [self._size(place) for place in range(len(self.totals))]

    def _size(self, place: int) -> Reading:
        simulated, formula = percent_text(self.simulated[place]), percent_text(self.formula[place])
        words = f"{count_text(self.totals[place])}: simulated {simulated}, formula {formula}"
        return Reading(self.totals[place], 100 * self.simulated[place], words)

    @override
    def rows(self) -> list[list[object]]:
        body = zip(self.totals, self.simulated, self.intervals, self.formula, strict=True)
        head: list[object] = ["size", "simulated", "low", "high", "formula"]
        return [head, *(list[object]((n, power, *ends, formula)) for n, power, ends, formula in body)]


def by_size_of(tried: Sequence[AtSize], found: Needed | None, of: Planned, people: str) -> BySize:
    """The picture of power by size."""
    ordered = sorted(tried, key=lambda each: each.total)
    target, needed = float(of.answer.plan.target), None
    if found is None or found.n is None:
        says = f"Simulation reaches {percent_text(target)} at no size that was looked at."
    else:
        needed = (found.n, found.low or found.n, found.high or found.n)
        ends = f"{count_text(needed[1])} to {count_text(needed[2])}"
        says = f"Simulation reaches {percent_text(target)} with {count_text(found.n)} {people} (95% interval {ends})."
    return BySize(
        totals=tuple(each.total for each in ordered),
        simulated=tuple(each.tally.power for each in ordered),
        intervals=tuple(each.tally.interval for each in ordered),
        formula=tuple(each.formula for each in ordered),
        line=_formula_line(of, ordered[0].total, ordered[-1].total),
        target=target,
        needed=needed,
        x_label=people,
        says=f"{says} Line: the formula; dots: simulated, with their 95% intervals.",
    )


def _formula_line(of: Planned, low: int, high: int) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The formula's power at sizes from low to high."""
    plan = of.answer.plan
    steps = [plan.counting.step_near(float(total)) for total in np.linspace(low, high, _FINE)]
    whole = np.unique(np.maximum(steps, plan.counting.lowest))
    totals = plan.counting.ways(whole)[0].sum(axis=0)
    return tuple(float(n) for n in totals), tuple(float(each) for each in plan.power_along(whole))
