"""Boundaries: the effect seen so far at which a study with interim analyses stops, against what is there by then."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import ClassVar, Self

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer
from ragwort.designs.looks import FRACTIONS, Course
from ragwort.figures.shown.shown import Moved, Pointer, Reading, Shown, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.edits.looks import moved_fractions
from ragwort.study.results.looks import Look, course_of, looks_of
from ragwort.study.words.looks import LookWords, unit_of
from ragwort.study.words.numbers import count_text, percent_text

SCALES = {"effect": "effect seen so far", "z": "z seen so far", "p": "p seen so far"}
ACROSS = {"": "what is there by then", "share": "share of the information"}
_STEPS = 21  # along the expected paths
_FIRST = 0.06  # of the information, where these begin
_ROOM = 1.18  # of the furthest boundary, up to where the scale goes
_NEAR = 24  # pixels from a look in which it is read
_SHARE = 100.0  # of the information, as it is shown
_KEYS = 100  # steps of the arrow keys from nothing to all of the information


@dataclass(frozen=True)
class Mark:
    """One look: where it is, and its boundaries in the units of the picture; None where there is none."""

    x: float
    upper: float | None
    lower: float | None  # of a two-sided test, for the other side
    futility: float | None
    words: str  # at its boundary
    chance: str  # below that
    reading: str  # all of it
    there: str  # what there is by then, below the picture


@dataclass(frozen=True)
class Path:
    """What is expected on the way."""

    label: str
    x: NDArray[np.float64]
    y: NDArray[np.float64]


@dataclass(frozen=True)
class Boundaries(Shown):
    """What the picture Boundaries shows."""

    moves: ClassVar[str] = "x"
    x_label: str
    shown_as: str  # effect, z or p
    across: str  # empty for what is there by then
    label_of_y: str
    most: float  # what is there at the end, in the units across
    marks: tuple[Mark, ...]
    planned: Path
    band: tuple[Path, Path]  # one standard error about it
    nothing: float  # where no effect is
    ends: tuple[float, float]  # of the scale up
    says: str
    held: int = 0  # of the looks, that which is moved
    logs: bool = False  # whether the scale up is of the logarithm of a ratio
    texts: Texts = ()

    @property
    @override
    def y_label(self) -> str:
        return self.label_of_y

    @property
    @override
    def handle(self) -> tuple[float, float] | None:
        return self.handles[min(self.held, len(self.handles) - 1)] if self.handles else None

    @property
    @override
    def handles(self) -> tuple[tuple[float, float], ...]:
        """On the planned path, at each look but the last."""
        return tuple((mark.x, float(np.interp(mark.x, self.planned.x, self.planned.y))) for mark in self.marks[:-1])

    @override
    def holding(self, which: int) -> Self:
        return replace(self, held=which)

    @override
    def frame(self) -> tuple[object, ...]:
        return ("boundaries", self.shown_as, self.across, self.most, self.ends, self.logs)

    @override
    def moved_to(self, aim: Aim, answer: Answer, to: tuple[float, float]) -> Moved:
        return self._moved(aim, to[0] / self.most)

    @override
    def moved_by(self, aim: Aim, answer: Answer, by: tuple[int, int]) -> Moved:
        return self._moved(aim, self.marks[self.held].x / self.most + by[0] / _KEYS)

    def _moved(self, aim: Aim, fraction: float) -> Moved:
        fractions = [float(each) for each in aim.values()[FRACTIONS.name]]
        return Moved({FRACTIONS.name: moved_fractions(fractions, self.held, fraction)})

    @override
    def reading(self, at: Pointer) -> Reading | None:
        nearest = min(self.marks, key=lambda mark: abs(mark.x - at.x))
        return self._read(nearest) if abs(nearest.x - at.x) <= _NEAR * at.per_pixel[0] else None

    def _read(self, mark: Mark) -> Reading:
        at = mark.upper if mark.upper is not None else self.nothing
        return Reading(mark.x, min(max(at, self.ends[0]), self.ends[1]), mark.reading)

    @override
    def walk(self) -> list[Reading]:
        return [self._read(mark) for mark in self.marks]

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [self.x_label, "stops at", "other side", "gives up at", "in words"]
        found: list[list[object]] = [
            [each.x, each.upper, each.lower, each.futility, each.reading] for each in self.marks
        ]
        return [head, *found]


def has_looks(answer: Answer) -> bool:
    """Whether interim analyses are planned, and an effect that they may see."""
    course = course_of(answer)
    return course is not None and math.isfinite(course.drift) and course.drift > 0


def boundaries_of(aim: Aim, answer: Answer) -> Boundaries:
    """The boundaries of an answer with interim analyses."""
    course, looks = course_of(answer), looks_of(answer)
    assert course is not None
    steer = aim.steer("Boundaries")
    shown_as = steer.y if steer.y in SCALES else "effect"
    up = _Scale(course, shown_as, bool(answer.plan.estimated_ratio))
    share = steer.x == "share"
    most = _SHARE if share else _whole(answer, looks)
    words = LookWords(aim, answer)
    marks = tuple(_mark(look, most, up, words) for look in looks)
    planned, low, high = (_path(up, most, by) for by in (0.0, -1.0, 1.0))
    return Boundaries(
        x_label="share of the information, %" if share else _counted_words(aim, answer),
        shown_as=shown_as,
        across="share" if share else "",
        label_of_y=_label_of_y(shown_as, words),
        most=most,
        marks=marks,
        planned=replace(planned, label=f"planned: {words.with_unit(float(answer.effect[answer.primary]))}"),
        band=(low, high),
        nothing=up.at(0.0, 1.0),
        ends=_ends(marks, planned, up),
        says=_says(looks, words),
        logs=up.logs,
    )


@dataclass(frozen=True)
class _Scale:
    """From a statistic at a share of the information to the height in the picture."""

    course: Course
    shown_as: str
    ratio: bool

    @property
    def logs(self) -> bool:
        return self.ratio and self.shown_as == "effect"

    @property
    def planned(self) -> float:
        """Where the statistic is expected at the end; in the effect's own terms what makes the planned effect."""
        course = self.course
        sign = -1.0 if float(course.plan.effect) < 0 else 1.0
        drift = course.noncentrality(float(course.plan.effect)) if self.shown_as == "effect" else course.drift
        return sign * abs(drift)

    def at(self, z: float, t: float) -> float:
        """NaN where no effect is so far from nothing."""
        if self.shown_as != "effect":
            return z
        found = self.course.effect_at(z, t)
        return math.nan if found is None else math.log(found) if self.logs else found


def _whole(answer: Answer, looks: list[Look]) -> float:
    last = looks[-1]
    return float(last.events or 0.0) if last.counted is None else float(last.counted)


def _counted_words(aim: Aim, answer: Answer) -> str:
    unit = unit_of(aim, answer)
    return unit if unit else f"{aim.words.many} analysed"


def _label_of_y(shown_as: str, words: LookWords) -> str:
    if shown_as != "effect":
        return SCALES[shown_as]
    unit = f", {words.unit}" if words.unit else ""
    return f"{words.effect_name} seen so far{unit}"


def _mark(look: Look, most: float, up: _Scale, words: LookWords) -> Mark:
    t, other = look.fraction, None
    down = up.course.looks.two_sided and float(up.course.plan.effect) < 0
    side = -1.0 if down else 1.0
    upper = None if look.bound is None else _finite(up.at(side * look.bound, t))
    if up.course.looks.two_sided and look.bound is not None:
        other = _finite(up.at(-side * look.bound, t))
    futility = None if look.futility is None or look.futility == look.bound else _finite(up.at(look.futility, t))
    at = words.boundary(look, up.shown_as)
    chance = f"{percent_text(look.reject_effect, 0)} with the planned effect"
    reading = words.reading(look, up.shown_as)
    there = f"{t * most:.3g}" if most == _SHARE else words.after(look)
    return Mark(t * most, upper, other, futility, f"{at} stops here", chance, reading, there)


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _path(up: _Scale, most: float, by: float) -> Path:
    """What is expected under the planned effect, so many standard errors off."""
    drift = up.planned
    t = np.geomspace(_FIRST, 1.0, _STEPS) if by else np.linspace(0.0, 1.0, 2 if up.shown_as == "effect" else _STEPS)
    heights = [up.at(drift * math.sqrt(each) + by, each) if each else _start(up, drift) for each in t.tolist()]
    return Path("", t * most, np.array(heights))


def _start(up: _Scale, drift: float) -> float:
    """At nothing seen yet: the effect itself, or a statistic of 0."""
    return up.at(drift, 1.0) if up.shown_as == "effect" else 0.0


def _ends(marks: tuple[Mark, ...], planned: Path, up: _Scale) -> tuple[float, float]:
    """Up to where the scale goes: a little beyond all boundaries, but no more than four times the planned effect."""
    nothing = up.at(0.0, 1.0)
    bounds = [each for mark in marks for each in (mark.upper, mark.lower, mark.futility) if each is not None]
    most = max(abs(float(planned.y[-1]) - nothing) * 4, *(abs(each - nothing) for each in bounds[-3:]), 1e-9)
    near = [each - nothing for each in [*bounds, *planned.y.tolist()] if abs(each - nothing) <= most]
    low, high = min([*near, 0.0]), max([*near, 0.0])
    room = (high - low) * (_ROOM - 1)
    return nothing + low - room, nothing + high + room


def _says(looks: list[Look], words: LookWords) -> str:
    first, last = looks[0], looks[-1]
    there = f"{count_text(round(first.events or 0) if first.counted is None else first.counted)} {words.counted_in}"
    early = "no boundary" if first.bound is None else words.boundary(first, "effect")
    return (
        f"After {there} {early} stops the study, at the end {words.boundary(last, 'effect')}. Drag a look sideways to "
        "move it; its boundary follows from the alpha spent by then."
    )
