"""Look times: what becomes of the error, or of power, when an interim analysis comes at another time than planned."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer
from ragwort.designs.looks import Course
from ragwort.figures.scales.axes import Axis
from ragwort.figures.shown.shown import Pointer, Reading, Seen, SeenLine, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.results.looks import course_of, looks_of
from ragwort.study.words.looks import unit_of
from ragwort.study.words.numbers import count_text, percent_text

MEASURES = {"": "type I error", "power": "power with the planned effect"}
KEPT, DUE = "planned boundaries kept", "alpha spent as due"
_POINTS = 61
_NEAREST = 0.02  # of the information, that looks are apart at least
_ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


@dataclass(frozen=True)
class LookTimes(Shown):
    """Two lines over the share of the information (per cent) at which one look really comes; values in per cent."""

    x_label: str
    x: Axis
    asked: str  # one of `MEASURES`
    look: int  # which comes at another time, counted from 0
    looks: tuple[str, ...]  # `the interim analysis`; `the first interim analysis` …
    planned_words: str  # `64 staff`, `50%`
    times: NDArray[np.float64]
    as_planned: NDArray[np.float64]
    due: NDArray[np.float64]
    planned: tuple[float, float]
    y_ends: tuple[float, float]
    says: str
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return f"{MEASURES[self.asked]}, %"

    @override
    def axes(self) -> dict[str, Axis]:
        return {"x": self.x}

    @override
    def frame(self) -> tuple[object, ...]:
        return ("look times", self.asked, self.look, self.x, self.y_ends)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        low, high = self.x.ends
        return self._read(at.x) if low <= at.x <= high else None

    def _read(self, x: float) -> Reading:
        kept, due = (float(np.interp(x, self.times, each)) for each in (self.as_planned, self.due))
        words = f"{_exact(kept)} with the {KEPT}, {_exact(due)} with {DUE}, at {x:.0f}% of the information"
        return Reading(x, kept, words)

    @override
    def walk(self) -> list[Reading]:
        return [self._read(float(x)) for x in np.linspace(*self.x.ends, 11)]

    @override
    def seen(self) -> Seen:
        return Seen([SeenLine(KEPT, self.times, self.as_planned), SeenLine(DUE, self.times, self.due)], unit="%")

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [self.x_label, f"{self.y_label}: {KEPT}", f"{self.y_label}: {DUE}"]
        lines = zip(self.times, self.as_planned, self.due, strict=True)
        found: list[list[object]] = [[float(each) for each in row] for row in lines]
        return [head, *found]


def look_times_of(aim: Aim, answer: Answer) -> LookTimes:
    """Of an answer with interim analyses: one of them moved between its neighbours."""
    course = course_of(answer)
    assert course is not None
    steer, fractions = aim.steer("Look times"), course.looks.fractions
    names = look_names(len(fractions) - 1)
    look = int(steer.x) - 1 if steer.x.isdigit() and 0 < int(steer.x) < len(fractions) else 0
    asked = steer.y if steer.y in MEASURES else ""
    low, high = (fractions[look - 1] if look else 0.0) + _NEAREST, fractions[look + 1] - _NEAREST
    times = np.unique([*np.linspace(low, high, _POINTS), fractions[look]])
    moved = [(*fractions[:look], float(each), *fractions[look + 1 :]) for each in times]
    kept = 100 * np.array([_kept(course, each, asked) for each in moved])
    due = 100 * np.array([_due(course, each, asked) for each in moved])
    there = float(np.interp(fractions[look], times, kept))
    ends = 100 * low, 100 * high
    axis = Axis("share", "the information", "%", ends, 100.0, None, ends)
    return LookTimes(
        x_label=f"information when {names[look]} comes, %",
        x=axis,
        asked=asked,
        look=look,
        looks=names,
        planned_words=_planned_words(aim, answer, look),
        times=100 * times,
        as_planned=kept,
        due=due,
        planned=(100 * fractions[look], there),
        y_ends=_y_ends(np.concatenate((kept, due)), asked, float(answer.plan.alpha)),
        says=_says(kept, due, asked),
    )


def look_names(count: int) -> tuple[str, ...]:
    """How each of so many interim analyses is called."""
    if count == 1:
        return ("the interim analysis",)
    return tuple(
        f"the {_ORDINALS[at]} interim analysis" if at < len(_ORDINALS) else f"interim analysis {at + 1}"
        for at in range(count)
    )


def _kept(course: Course, fractions: tuple[float, ...], asked: str) -> float:
    """With the bounds of the plan; for the error those for futility count only where they bind."""
    looks = course.looks
    futility = looks.futility
    followed = futility is not None and (bool(asked) or futility.binding)
    bounds = looks.bounds(course.drift) if futility is not None else looks.plain
    there = bounds.kept_at(fractions, looks.reach, followed=followed)
    return there.power_at(course.drift if asked else 0.0)


def _due(course: Course, fractions: tuple[float, ...], asked: str) -> float:
    """With the bounds that spend what is due by then; a futility that does not bind leaves the error as it is."""
    looks = course.looks.moved(fractions)
    futility = looks.futility
    if asked:
        return looks.power(course.drift)
    if futility is None or not futility.binding:
        return looks.plain.power_at(0.0)
    return looks.bounds(course.drift).power_at(0.0)


def _planned_words(aim: Aim, answer: Answer, look: int) -> str:
    here = looks_of(answer)[look]
    share = percent_text(here.fraction, 0)
    if here.counted is None:
        return share
    return f"{count_text(here.counted)} {unit_of(aim, answer) or aim.words.many}"


def _y_ends(values: NDArray[np.float64], asked: str, alpha: float) -> tuple[float, float]:
    if asked:
        low, high = float(values.min()), float(values.max())
        room = max(0.25 * (high - low), 1.0)
        return max(low - room, 0.0), min(high + room, 100.0)
    room = max(1.25 * float(np.abs(values - 100 * alpha).max()), 10 * alpha)
    return max(100 * alpha - room, 0.0), 100 * alpha + room


def _exact(value: float) -> str:
    return percent_text(value / 100, 2)


def _says(kept: NDArray[np.float64], due: NDArray[np.float64], asked: str) -> str:
    lowest, highest = (_exact(float(each)) for each in (kept.min(), kept.max()))
    if asked:
        return f"With the {KEPT} power is between {lowest} and {highest}."
    held = _exact(float(due.max()))
    return f"Type I error {lowest} to {highest} with the {KEPT}; {held} with {DUE}."
