"""Power against sample size: the design as a point, its target as a line, kept scenarios as further curves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.base import patience
from ragwort.designs import Answer, CountsPlan, Plan
from ragwort.figures.scales.axes import SIZE, Axis, axis_end, size_of, step_at, with_typed_ends, words_of_sizes, x_at
from ragwort.figures.shown.on_axes import OnAxes
from ragwort.figures.shown.shown import Beyond, Flag, Pointer, Reading, Seen, SeenLine, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.edits.pictures import WITHOUT
from ragwort.study.results.outcome import outcome_of
from ragwort.study.words.found import reached_text
from ragwort.study.words.numbers import count_text, percent_text

Ends = tuple[float, float]
FEW = 16  # sizes of a rough curve
POINTS = 120  # along one curve
TRUE_STEPS = 400  # sizes up to which an exact test is drawn at each of them
MOST_SERIES = 6  # told apart by dash and label
NEAR = 26  # pixels above or below a curve in which it is read
TEN = 10  # participants that ought to buy at least one percentage point


@dataclass(frozen=True)
class Series:
    """One curve with its direct label; `power` in 0..1."""

    label: str
    x: NDArray[np.float64]
    power: NDArray[np.float64]
    own: bool  # the aim as it stands, not a kept scenario
    design: tuple[float, float]  # x and power of its own answer
    stepped: bool = False
    same_line: bool = False  # lies on the aim's own curve: only its point is drawn


@dataclass(frozen=True)
class Curve(OnAxes):
    """What the picture Curve shows."""

    moves: ClassVar[str] = "x"
    zooms: ClassVar[str] = "x"
    pinned: ClassVar[bool] = True
    x_label: str
    x: Axis
    series: tuple[Series, ...]
    target: float | None  # power asked for, where the target is given
    point: tuple[float, float]  # the design: x, power
    point_label: str
    ten_more: tuple[float, float] | None  # from here on ten more participants buy less than one point
    per_group: bool
    place: str  # what a size is: `per group`
    stepped: bool  # an exact test: drawn as steps
    named: tuple[tuple[float, float, str], ...]  # further sizes worth a name: x, power, label
    says: str  # the picture in one line of text
    texts: Texts = ()
    flags: tuple[Flag, ...] = ()
    beyond: Beyond | None = None

    @property
    @override
    def y_label(self) -> str:
        return "power, %"

    @property
    @override
    def handle(self) -> tuple[float, float]:
        return self.point

    @override
    def seen(self) -> Seen:
        lines = [SeenLine(each.label, each.x, 100 * each.power) for each in self.series]
        return Seen(lines, None if self.target is None else 100 * self.target, "%")

    @override
    def frame(self) -> tuple[object, ...]:
        return ("curve", self.x_label, self.x.ends, self.beyond)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The nearest curve above or below."""
        best: tuple[float, Reading] | None = None
        for series in self.series:
            if not series.x[0] <= at.x <= min(series.x[-1], self.x.ends[1]):
                continue
            nearest = int(np.argmin(np.abs(series.x - at.x)))
            x, power = float(series.x[nearest]), float(series.power[nearest])
            away = abs(power - at.y) / at.per_pixel[1]
            if away < NEAR and (best is None or away < best[0]):
                words = f"{count_text(int(x))} {'per group' if self.per_group else 'in all'}, {percent_text(power)}"
                named = words if len(self.series) == 1 else f"{series.label}: {words}"
                best = (away, Reading(x, power, named))
        return None if best is None else best[1]

    @override
    def walk(self) -> list[Reading]:
        """Along the aim's own curve."""
        (own,) = (each for each in self.series if each.own)
        return [
            Reading(float(x), float(power), f"{count_text(int(x))} {self.place}, {percent_text(power)}")
            for x, power in zip(own.x, own.power, strict=True)
        ]

    @override
    def kept(self) -> tuple[object, ...]:
        """Kept scenarios."""
        return tuple((s.label, s.design, s.power.tobytes()) for s in self.series if not s.own)

    def rows(self) -> list[list[object]]:
        """The data behind the picture: a heading row and one row a point."""
        head: list[object] = ["curve", self.x_label, "power"]
        points = [[s.label, float(x), float(p)] for s in self.series for x, p in zip(s.x, s.power, strict=True)]
        return [head, *points]


def curve_of(aim: Aim, answer: Answer, keep: Axis | None = None, steady: bool = False, rough: bool = False) -> Curve:
    """The curve of an aim with its answer; with `rough` that of an exact test at few sizes.

    `keep` is the axis shown now: it stays while the point is well within it; with `steady` while it is within at all.
    """
    others = _scenario_answers(aim) if aim.steer("Curve").kept != WITHOUT else []
    groups = {each.plan.counting.equal_groups for each in (answer, *(other for _, other in others))}
    per_group = len(groups) == 1 and groups.isdisjoint({0, 1})  # several groups, all of one size
    point_x = size_of(answer, per_group)
    words, place = words_of_sizes(aim, answer, per_group)
    ends = (0.0, axis_end(point_x, None if keep is None else keep.own[1], steady))
    axis = with_typed_ends(Axis(SIZE, words, "", ends, 1.0, None, ends), aim.steer("Curve"), "x")
    own = _series("now", answer, axis.ends, per_group, own=True, rough=rough)
    kept = [_marked(_series(name, other, axis.ends, per_group, own=False, rough=rough), own) for name, other in others]
    where = f"{count_text(int(point_x))} {place}"
    ten_more = None if isinstance(answer.plan, CountsPlan) else _ten_more(answer.plan, axis.ends, per_group)
    return Curve(
        x_label=axis.label,
        x=axis,
        series=(own, *kept),
        target=None if answer.find == "power" else answer.plan.target,
        point=(point_x, answer.power),
        point_label=f"{where}, {reached_text(answer)}",
        ten_more=ten_more,
        per_group=per_group,
        place=place,
        stepped=own.stepped,
        named=_named(answer, per_group),
        says=_says(aim, answer, where, ten_more),
    )


def _says(aim: Aim, answer: Answer, where: str, ten_more: tuple[float, float] | None) -> str:
    text = f"Power is {reached_text(answer)} with {where}"
    if isinstance(answer.plan, CountsPlan):
        text += "; it goes up and down, because the test can only reject at whole counts"
    if ten_more is not None:
        text += f"; from about {count_text(int(ten_more[0]))} on, ten more add less than one percentage point"
    return f"{text}.".replace("\u00a0", " ")


def _scenario_answers(aim: Aim) -> list[tuple[str, Answer]]:
    found = []
    for kept in aim.scenarios:
        outcome = outcome_of(aim, kept)
        if isinstance(outcome, Answer):
            found.append((kept.name, outcome))
    return found[: MOST_SERIES - 1]


def _series(label: str, answer: Answer, ends: Ends, per_group: bool, own: bool, rough: bool) -> Series:
    few = rough and isinstance(answer.plan, CountsPlan)
    x, power = _along(answer.plan, ends, per_group, few)
    first, last = (step_at(answer.plan, float(x[at]), per_group) for at in (0, -1))
    # otherwise a selection of the sizes, with a line through them
    stepped = isinstance(answer.plan, CountsPlan) and len(x) == last - first + 1
    return Series(label, x, power, own, (size_of(answer, per_group), answer.power), stepped)


def _named(answer: Answer, per_group: bool) -> tuple[tuple[float, float, str], ...]:
    """Of an exact test, the first and the steady size, as far as the design itself is not there."""
    found = []
    for name in ("first", "steady"):
        step = answer.n_more.get(name) if isinstance(answer.plan, CountsPlan) else None
        if step is not None:
            steps = np.array([step])
            x = float(x_at(answer.plan, steps, per_group)[0])
            if x != size_of(answer, per_group):
                found.append((x, float(answer.plan.power_along(steps)[0]), f"{name}: {count_text(int(x))}"))
    return tuple(found)


@lru_cache(maxsize=64)
def _along(plan: Plan, ends: Ends, per_group: bool, few: bool) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """x and power of a plan's curve; kept scenarios ask for the same again at every edit."""
    steps = _steps(plan, ends, per_group)
    if few:
        steps = np.unique(steps[np.linspace(0, len(steps) - 1, FEW).astype(int)])
    return x_at(plan, steps, per_group), _powers(plan, steps)


def _powers(plan: Plan, steps: NDArray[np.int64]) -> NDArray[np.float64]:
    """Power at each step; of an exact test some at a time, telling how far it is."""
    if not isinstance(plan, CountsPlan):
        return plan.power_along(steps)
    parts = []
    for start in range(0, len(steps), 16):
        patience.report(start / len(steps))
        parts.append(plan.power_along(steps[start : start + 16]))
    return np.concatenate(parts)


def _marked(series: Series, own: Series) -> Series:
    same = series.x.shape == own.x.shape and bool(np.allclose(series.power, own.power, rtol=0, atol=1e-9))
    return replace(series, same_line=same)


def _steps(plan: Plan, ends: Ends, per_group: bool) -> NDArray[np.int64]:
    low, high = (step_at(plan, end, per_group) for end in ends)
    last = max(high, low + 1)
    if isinstance(plan, CountsPlan) and last - low <= TRUE_STEPS:
        return np.arange(low, last + 1)
    return np.unique(np.linspace(low, last, POINTS).astype(np.int64))


def _ten_more(plan: Plan, ends: Ends, per_group: bool) -> tuple[float, float] | None:
    steps, (_, power) = _steps(plan, ends, per_group), _along(plan, ends, per_group, False)
    next_power = plan.power_along(steps + 1)
    totals = x_at(plan, steps, False)
    gained = (next_power - power) / (x_at(plan, steps + 1, False) - totals) * TEN
    steepest = int(np.argmax(gained))
    late = np.flatnonzero(gained[steepest:] < 0.01)
    if not late.size or gained[steepest] < 0.01:
        return None
    at = steepest + int(late[0])
    return float(x_at(plan, steps, per_group)[at]), float(power[at])
