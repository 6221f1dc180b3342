"""Anything that the design can find, against any number it is made of: the curve beyond power and sample size."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.base.wording import capital
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.finding import Outcome, find_many
from ragwort.designs.many import Columns
from ragwort.figures.scales.axes import (
    SIZE,
    Axis,
    size_axis,
    size_of,
    step_at,
    value_axis,
    with_typed_ends,
    x_at,
)
from ragwort.figures.scales.quantity import Quantity, Unknown
from ragwort.figures.shown.asked import CURVE, SIDES, family_of, other_sides, with_kept
from ragwort.figures.shown.on_axes import OnAxes
from ragwort.figures.shown.shown import Beyond, Flag, Pointer, Reading, Seen, SeenLine, Texts
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import otherwise, stated_sizes, values_for

Values = Mapping[str, Any]
MOST_LINES = 7  # told apart by dash and label, the aim's own among them
FEW = 9  # along one of a rough picture
POINTS = 33  # along a line
NEAR = 26  # pixels above or below a line in which it is read
_TALLER = 3.2  # than the design's own point, at most: lines that go on for ever are cut there


@dataclass(frozen=True)
class Line:
    """One line with its direct label; `y` is NaN where nothing is found."""

    label: str
    x: NDArray[np.float64]
    y: NDArray[np.float64]
    words: tuple[str, ...]  # what is found at each point, or why nothing is
    own: bool  # the aim as it stands


@dataclass(frozen=True)
class Trace(OnAxes):
    """What the picture shows: lines of `find` along an axis, and the design's own point."""

    moves: ClassVar[str] = "x"
    zooms: ClassVar[str] = "x"
    pinned: ClassVar[bool] = True
    find: str
    x: Axis
    y_words: str
    y_ends: tuple[float, float]
    lines: tuple[Line, ...]
    point: tuple[float, float]
    point_label: str
    family: str
    target: float | None  # on an axis of power, the power asked for in per cent
    per_group: bool
    place: str  # what a size on the x axis is: `per group`
    basis: str  # what the lines depend on: while it is equal, they need not be computed anew
    says: str
    texts: Texts = ()
    flags: tuple[Flag, ...] = ()
    beyond: Beyond | None = None

    @property
    @override
    def x_label(self) -> str:  # type: ignore[override]
        return self.x.label

    @property
    @override
    def y_label(self) -> str:
        return self.y_words

    @property
    @override
    def handle(self) -> tuple[float, float] | None:
        return self.point if math.isfinite(self.point[1]) else None

    @override
    def seen(self) -> Seen:
        return Seen([SeenLine(each.label, each.x, each.y) for each in self.lines], self.target)

    @override
    def frame(self) -> tuple[object, ...]:
        return ("trace", self.x, self.y_words, self.y_ends, self.beyond)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """The nearest line above or below."""
        best: tuple[float, Reading] | None = None
        for line in self.lines:
            nearest = int(np.argmin(np.abs(line.x - at.x)))
            x, y = float(line.x[nearest]), float(line.y[nearest])
            away = abs(y - at.y) / at.per_pixel[1]
            if math.isfinite(y) and away < NEAR and (best is None or away < best[0]):
                words = f"{self.at_place(x)}: {line.words[nearest]}"
                best = (away, Reading(x, y, words if len(self.lines) == 1 else f"{line.label}, {words}"))
        return None if best is None else best[1]

    @override
    def walk(self) -> list[Reading]:
        """Along the aim's own line, with what is not found too."""
        own, low = self.lines[0], self.y_ends[0]
        return [
            Reading(float(x), float(y) if math.isfinite(y) else low, f"{self.at_place(x)}: {words}")
            for x, y, words in zip(own.x, own.y, own.words, strict=True)
        ]

    def at_place(self, x: float) -> str:
        return self.x.text(x, self.place)

    @override
    def rows(self) -> list[list[object]]:
        found: list[list[object]] = [["line", self.x.label, self.y_words, "in words"]]
        for line in self.lines:
            for x, y, words in zip(line.x, line.y, line.words, strict=True):
                found.append([line.label, float(x), "" if math.isnan(y) else float(y), words])
        return found


@dataclass(frozen=True)
class Drawn:
    """What a trace is worked out from."""

    aim: Aim
    answer: Answer
    design: Design
    found: Unknown
    values: Values
    per_group: bool
    points: int = POINTS  # along a line


def trace_of(
    aim: Aim, answer: Answer, steer: Steer, kept: Trace | None = None, steady: bool = False, rough: bool = False
) -> Trace:
    """What `steer` asks for (see `asked`), around an answer; with `rough` at few places."""
    design, found = design_named(aim.design), Unknown(steer.y, aim)
    per_group = answer.plan.counting.equal_groups > 1
    drawn = Drawn(aim, answer, design, found, values_for(aim, answer, steer.y), per_group, FEW if rough else POINTS)
    axis = with_typed_ends(_axis(drawn, steer.x, kept, steady), aim.steer(CURVE), "x")
    basis = _basis(drawn, axis, steer)
    same = kept is not None and kept.basis == basis
    lines = kept.lines if kept is not None and same else _lines(drawn, axis, steer)
    here = answer if steer.y == answer.find else otherwise(aim, steer.y, drawn.values)
    at = _own_place(drawn, axis)
    y = found.number(here) if isinstance(here, Answer) else math.nan
    group = "per " + design.group_word if per_group else aim.words.many
    made = Trace(
        find=steer.y,
        x=axis,
        y_words=found.axis,
        y_ends=kept.y_ends if kept is not None and same and _holds(kept, y, steady) else _ends(steer.y, y, lines),
        lines=lines,
        point=(at, y),
        point_label=found.text(here) if isinstance(here, Answer) else "",
        family=steer.family,
        target=100 * answer.plan.target if steer.y == "power" and answer.find != "power" else None,
        per_group=per_group,
        place=group,
        basis=basis,
        says="",
    )
    return _said(made)


def found_at(aim: Aim, answer: Answer, trace: Trace, value: float) -> tuple[float, Outcome]:
    """What is found at one value of the axis, and where on it that stands."""
    drawn = Drawn(
        aim,
        answer,
        design_named(aim.design),
        Unknown(trace.find, aim),
        values_for(aim, answer, trace.find),
        trace.per_group,
    )
    if trace.x.name != SIZE:
        x, columns = value * trace.x.scale, {trace.x.name: np.array([value])}
    else:
        (x,), columns = _at_steps(drawn, np.array([step_at(answer.plan, value, trace.per_group)]))
    return float(x), find_many(drawn.design, trace.find, drawn.values, columns).outcome(0)


def _basis(drawn: Drawn, axis: Axis, steer: Steer) -> str:
    """The axes, and every value that has a say in the lines."""
    sizes = {name for way in drawn.design.sizes for name in way.names} if axis.name == SIZE else set()
    fixed = sorted((name, repr(value)) for name, value in drawn.values.items() if name not in {axis.name, *sizes})
    family = steer.family, family_of(drawn.aim, drawn.found.find, steer), other_sides(drawn.answer)
    kept = [(each.name, each.find, sorted(each.values().items(), key=repr)) for each in drawn.aim.scenarios]
    return repr(
        (
            drawn.points,
            kept,
            with_kept(steer),
            drawn.design.id,
            drawn.found.find,
            axis.name,
            axis.ends,
            family,
            drawn.per_group,
            fixed,
        )
    )


def _lines(drawn: Drawn, axis: Axis, steer: Steer) -> tuple[Line, ...]:
    x, columns = _places(drawn, axis)
    own = _line(drawn, x, columns, {}, "now", own=True)
    lines = [own, *_family(drawn, x, columns, steer)]
    if with_kept(steer):
        others = _scenarios(drawn, x, columns, axis)
        lines += [each for each in others if not np.allclose(each.y, own.y, rtol=1e-3, atol=0.0, equal_nan=True)]
    return tuple(lines[:MOST_LINES])


def _holds(kept: Trace, y: float, steady: bool) -> bool:
    """Whether the y axis that is shown now can stay."""
    low, high = kept.y_ends
    room = (0.02 if steady else 0.15) * (high - low)
    return low + room <= y <= high - room


def _said(made: Trace) -> Trace:
    own = made.lines[0]
    text = f"{made.point_label or 'Nothing'} at {made.at_place(made.point[0])}"
    nothing = np.flatnonzero(np.isnan(own.y))
    if nothing.size:
        text += f"; nothing is found at {made.at_place(own.x[nothing[0]])}: {own.words[nothing[0]]}"
    else:
        text += f"; {own.words[0]} at {made.at_place(own.x[0])}, {own.words[-1]} at {made.at_place(own.x[-1])}."
    return replace(made, says=capital(text).replace("\u00a0", " "))


def _axis(drawn: Drawn, name: str, kept: Trace | None, steady: bool) -> Axis:
    old = None if kept is None else kept.x
    if name == SIZE:
        return size_axis(drawn.aim, drawn.answer, drawn.per_group, old, steady)
    return value_axis(drawn.aim, name, _value(drawn, name), old, steady)


def _value(drawn: Drawn, name: str) -> float:
    known = {**drawn.design.implied(drawn.values), **drawn.values}
    return float(known.get(name, drawn.design.assumption(name).default))


def _own_place(drawn: Drawn, axis: Axis) -> float:
    if axis.name == SIZE:
        return size_of(drawn.answer, drawn.per_group)
    return _value(drawn, axis.name) * axis.scale


def _places(drawn: Drawn, axis: Axis) -> tuple[NDArray[np.float64], dict[str, NDArray[np.float64]]]:
    """Places along the axis, and the values that they stand for."""
    if axis.name == SIZE:
        return _sizes(drawn, axis)
    at = np.linspace(*axis.ends, drawn.points)
    if drawn.design.assumption(axis.name).kind == "count":
        at = np.unique(np.round(at))
        return at, {axis.name: at / axis.scale}
    return at, {axis.name: np.array([float(f"{each:.12g}") for each in at / axis.scale])}


def _sizes(drawn: Drawn, axis: Axis) -> tuple[NDArray[np.float64], dict[str, NDArray[np.float64]]]:
    first, last = (step_at(drawn.answer.plan, end, drawn.per_group) for end in axis.ends)
    return _at_steps(drawn, np.unique(np.linspace(first, max(last, first + 1), drawn.points).astype(np.int64)))


def _at_steps(drawn: Drawn, steps: NDArray[np.int64]) -> tuple[NDArray[np.float64], dict[str, NDArray[np.float64]]]:
    plan, stated = drawn.answer.plan, []
    for step in steps:
        sizes = plan.counting.ways(np.array([step]))[0][:, 0]
        groups = tuple(math.ceil(size - 1e-9) for size in sizes)
        stated.append(stated_sizes(drawn.design, drawn.aim, groups, plan))
    columns = {name: np.array([each[name] for each in stated], dtype=float) for name in stated[0]}
    return x_at(plan, steps, drawn.per_group), columns


def _line(drawn: Drawn, x: NDArray[np.float64], columns: Columns, always: Values, label: str, own: bool) -> Line:
    found = find_many(drawn.design, drawn.found.find, {**drawn.values, **always}, columns)
    outcomes = [found.outcome(row) for row in range(len(x))]
    said = drawn.found
    y = np.array([said.number(each) if isinstance(each, Answer) else math.nan for each in outcomes])
    words = tuple(said.text(each) if isinstance(each, Answer) else each.message for each in outcomes)
    return Line(label, x, y, words, own)


def _family(drawn: Drawn, x: NDArray[np.float64], columns: Columns, steer: Steer) -> list[Line]:
    """A line for each value of a further assumption."""
    if steer.family == SIDES:
        sides, label = other_sides(drawn.answer)
        return [_line(drawn, x, columns, {SIDES: sides}, label, own=False)]
    found = []
    for value in family_of(drawn.aim, drawn.found.find, steer) if steer.family else ():
        quantity = Quantity(drawn.design.assumption(steer.family), drawn.aim)
        always = {steer.family: round(value) if quantity.assumption.kind == "count" else float(f"{value:.12g}")}
        found.append(_line(drawn, x, columns, always, quantity.text(value), own=False))
    return found


def _scenarios(drawn: Drawn, x: NDArray[np.float64], columns: Columns, axis: Axis) -> list[Line]:
    """The kept scenarios, each a line of its own unless it differs along the axis alone."""
    found = []
    for kept in drawn.aim.scenarios:
        outcome = outcome_of(drawn.aim, kept)
        if isinstance(outcome, Answer):
            there = drawn.aim.changed(find=kept.find, entries=kept.entries)
            values = values_for(there, outcome, drawn.found.find)
            sizes = {name for way in drawn.design.sizes for name in way.names} if axis.name == SIZE else set()
            if any(
                values.get(name) != drawn.values.get(name) for name in {*values, *drawn.values} - {axis.name, *sizes}
            ):
                other = replace(drawn, aim=there, answer=outcome, values=values)
                found.append(_line(other, x, columns, {}, kept.name, own=False))
    return found


def _ends(find: str, own: float, lines: Sequence[Line]) -> tuple[float, float]:
    """The ends of the y axis: power has its own; what goes on for ever is cut well above the design."""
    if find == "power":
        return 0.0, 104.0
    known = np.concatenate([line.y[np.isfinite(line.y)] for line in lines])
    known = np.append(known, own) if math.isfinite(own) else known
    if not known.size:
        return 0.0, 1.0
    low, high = float(known.min()), float(known.max())
    if math.isfinite(own) and own > 0:
        high = min(high, _TALLER * own)
    if math.isfinite(own) and own < 0:
        low = max(low, _TALLER * own)
    low, high = min(low, 0.0) if low < 0.4 * high else low, max(high, 0.0) if high < 0 else high
    low = 0.0 if 0 < low < 0.4 * high else low
    room = 0.06 * (high - low) or 0.1 * abs(high) or 1.0
    return low - (room if low < 0 else 0.0), high + room
