"""Power over two assumptions, or one and the sample size, as contour lines; the design as a point between them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from contourpy import contour_generator
from numpy.typing import NDArray

from ragwort.designs import Answer, Design, Plan, design_named
from ragwort.designs.many import along, powers
from ragwort.designs.request import values_in_force
from ragwort.figures.axes import SIZE, axes_of, axis_end, size_of, span, step_at, words_of_sizes, x_at
from ragwort.figures.quantity import Quantity
from ragwort.figures.shown import Pointer, Reading, Shown
from ragwort.study.found import power_text
from ragwort.study.model import Aim, Setting
from ragwort.study.numbers import count_text, percent_text
from ragwort.study.outcome import outcome_of
from ragwort.study.whatif import values_for

LEVELS = (0.5, 0.7, 0.8, 0.9, 0.95)
ACROSS = 61  # values along an axis
UP = 61  # sample sizes


@dataclass(frozen=True)
class Contour:
    """Where the power has one value: pieces of points (n x 2, in the units of the axes)."""

    level: float
    label: str
    target: bool  # the power asked for
    pieces: tuple[NDArray[np.float64], ...]


@dataclass(frozen=True)
class Axis:
    """One direction of the map."""

    name: str
    label: str  # with its unit
    ends: tuple[float, float]  # in the unit of the axis
    scale: float  # what a value is multiplied by there
    plausible: tuple[float, float] | None  # the range, where it has one


@dataclass(frozen=True)
class Map(Shown):
    """What the picture Map shows. `z` is the power in 0..1, rows along y; NaN where there is none."""

    moves: ClassVar[str] = "xy"
    x: Axis
    y: Axis
    at_x: NDArray[np.float64]
    at_y: NDArray[np.float64]
    z: NDArray[np.float64]
    contours: tuple[Contour, ...]
    point: tuple[float, float]
    point_label: str
    named: tuple[tuple[float, float, str], ...]  # kept scenarios that lie on this map
    limit: float | None  # on an axis of sample sizes: where as many as can be had are enrolled
    limit_words: str
    per_group: bool
    place: str  # what a size is: `per group`, `in all`
    says: str

    @property
    def x_label(self) -> str:  # type: ignore[override]
        """See `Shown.x_label`."""
        return self.x.label

    @property
    def y_label(self) -> str:
        """See `Shown.y_label`."""
        return self.y.label

    @property
    def handle(self) -> tuple[float, float]:
        """See `Shown.handle`."""
        return self.point

    def frame(self) -> tuple[object, ...]:
        """See `Shown.frame`: lines and all, as the point moves over them."""
        return ("map", self.x, self.y, self.limit, self.z.tobytes(), *(each.target for each in self.contours))

    def kept(self) -> tuple[object, ...]:
        """See `Shown.kept`: kept scenarios."""
        return self.named

    def reading(self, at: Pointer) -> Reading | None:
        """See `Shown.reading`: between the values that were computed, hence only whole per cents."""
        (low, high), (least, most) = self.x.ends, self.y.ends
        if not (low <= at.x <= high and least <= at.y <= most):
            return None
        column = np.array([np.interp(at.x, self.at_x, row) for row in self.z])
        power = float(np.interp(at.y, self.at_y, column))
        if not math.isfinite(power):
            return None
        return Reading(at.x, at.y, f"{self.words_at(at.x, at.y)}: about {percent_text(power, 0)}")

    def words_at(self, x: float, y: float) -> str:
        """A place in words: `12 ms, 64 per group`."""
        return f"{_words(self.x, x, self.place)}, {_words(self.y, y, self.place)}"

    def rows(self) -> list[list[object]]:
        """See `Shown.rows`."""
        head: list[object] = [self.x.label, self.y.label, "power"]
        found: list[list[object]] = [head]
        for y, row in zip(self.at_y, self.z, strict=True):
            found += [
                [float(x), float(y), "" if math.isnan(z) else float(z)] for x, z in zip(self.at_x, row, strict=True)
            ]
        return found


def _words(axis: Axis, value: float, place: str) -> str:
    if axis.name == SIZE:
        return f"{count_text(round(value))} {place}"
    unit = axis.label.rpartition(", ")[2] if ", " in axis.label else axis.label
    return f"{value:.3g}\u00a0{unit}".replace("-", "\u2212")


@dataclass(frozen=True)
class _Drawn:
    """What a map is worked out from."""

    aim: Aim
    answer: Answer
    design: Design
    values: Mapping[str, Any]  # under which power is asked for
    per_group: bool


def map_of(aim: Aim, answer: Answer, limit: int | None = None, kept: Map | None = None, steady: bool = False) -> Map:
    """The map around an answer. `kept` is the one shown now, whose ends stay while the point stays well within."""
    design = design_named(aim.design)
    values, _ = values_in_force(design, "power", values_for(aim, answer, "power"))
    per_group = answer.plan.counting.equal_groups > 1
    drawn = _Drawn(aim, answer, design, values, per_group)
    first, second = _chosen(drawn)
    x = _axis(drawn, first, None if kept is None else kept.x, steady)
    y = _axis(drawn, second, None if kept is None else kept.y, steady)
    at_x = np.linspace(*x.ends, ACROSS)
    at_y, z = _grid(drawn, x, y, at_x)
    target = None if answer.find == "power" else answer.plan.target
    point = (_place(drawn, x), _place(drawn, y))
    most = None if limit is None or SIZE not in (x.name, y.name) else _largest(drawn, limit)
    made = Map(
        x=x,
        y=y,
        at_x=at_x,
        at_y=at_y,
        z=z,
        contours=_contours(at_x, at_y, z, target),
        point=point,
        point_label="",
        named=(),
        limit=most,
        limit_words=f"more than the {count_text(limit)} that can be had" if limit is not None else "",
        per_group=per_group,
        place=words_of_sizes(aim, answer, per_group)[1],
        says="",
    )
    return _with_words(drawn, made)


def _with_words(drawn: _Drawn, made: Map) -> Map:
    where = made.words_at(*made.point)
    power = power_text(drawn.answer.power)
    says = f"Power is {power} at {where}; each line joins designs of equal power.".replace("\u00a0", " ")
    return replace(made, point_label=f"{where}: {power}", named=_scenarios(drawn, made), says=says)


def _chosen(drawn: _Drawn) -> tuple[str, str]:
    """The effect across, the sample size up."""
    names = axes_of(drawn.aim, drawn.values)
    return (names[0], SIZE) if len(names) > 1 else (SIZE, SIZE)


def _axis(drawn: _Drawn, name: str, kept: Axis | None, steady: bool) -> Axis:
    if name == SIZE:
        label = words_of_sizes(drawn.aim, drawn.answer, drawn.per_group)[0]
        keep = kept.ends[1] if kept is not None and kept.name == name else None
        plan = drawn.answer.plan
        low = float(x_at(plan, np.array([plan.counting.lowest]), drawn.per_group)[0])
        return Axis(name, label, (low, axis_end(size_of(drawn.answer, drawn.per_group), keep, steady)), 1.0, None)
    quantity = Quantity(drawn.design.assumption(name), drawn.aim)
    value = float(drawn.values[name])
    low, high = (end * quantity.scale for end in span(quantity, value))
    if kept is not None and kept.name == name and _well_within(value * quantity.scale, kept.ends, steady):
        low, high = kept.ends
    entry = drawn.aim.entry(name)
    known = entry.low is not None and entry.high is not None
    ends = (entry.low * quantity.scale, entry.high * quantity.scale) if known else None  # type: ignore[operator]
    return Axis(name, quantity.axis, (low, high), quantity.scale, ends)


def _well_within(value: float, ends: tuple[float, float], steady: bool) -> bool:
    room = (0.0 if steady else 0.1) * (ends[1] - ends[0])
    return ends[0] + room <= value <= ends[1] - room


def _place(drawn: _Drawn, axis: Axis) -> float:
    if axis.name == SIZE:
        return size_of(drawn.answer, drawn.per_group)
    return float(drawn.values[axis.name]) * axis.scale


def _grid(drawn: _Drawn, x: Axis, y: Axis, at_x: NDArray[np.float64]) -> tuple[NDArray[Any], NDArray[Any]]:
    """Values along y, and the power at each of them (rows) and each of `at_x`."""
    if y.name == SIZE:
        plan = drawn.answer.plan
        last = max(step_at(plan, y.ends[1], drawn.per_group), plan.counting.lowest + 1)
        steps = np.unique(np.linspace(plan.counting.lowest, last, UP).astype(np.int64))
        at_y = x_at(plan, steps, drawn.per_group)

        def same_sizes(other: Plan) -> NDArray[np.int64]:
            if other.counting == plan.counting:
                return steps
            return np.array([step_at(other, size, drawn.per_group) for size in at_y])

        rows = along(drawn.design, drawn.values, x.name, [each / x.scale for each in at_x], same_sizes)
        return at_y, rows.T
    at_y = np.linspace(*y.ends, ACROSS)
    many = [{x.name: one / x.scale, y.name: other / y.scale} for other in at_y for one in at_x]
    return at_y, powers(drawn.design, drawn.values, many).reshape(len(at_y), len(at_x))


def _contours(
    at_x: NDArray[np.float64], at_y: NDArray[np.float64], z: NDArray[np.float64], target: float | None
) -> tuple[Contour, ...]:
    lines = contour_generator(at_x, at_y, np.ma.masked_invalid(z))
    levels = sorted({*LEVELS, *([target] if target is not None else [])})
    found = []
    for level in levels:
        pieces = tuple(np.asarray(piece) for piece in lines.lines(level))
        label = percent_text(level, 0 if round(level, 9) == round(level, 2) else 1)
        found.append(Contour(level, label, level == target, pieces))
    return tuple(each for each in found if each.pieces)


def _largest(drawn: _Drawn, limit: int) -> float:
    """The largest sample size of which no more are to be enrolled than can be had."""
    analysed = limit * (1 - float(drawn.values.get("dropout", 0.0)))
    return math.floor(analysed / len(drawn.answer.groups)) if drawn.per_group else math.floor(analysed)


def _scenarios(drawn: _Drawn, made: Map) -> tuple[tuple[float, float, str], ...]:
    """The kept scenarios that differ from the aim in nothing that the map does not show."""
    found = []
    for kept in drawn.aim.scenarios:
        outcome = outcome_of(drawn.aim, kept)
        place = _place_of(drawn, made, kept, outcome) if isinstance(outcome, Answer) else None
        if place is not None and all(
            low <= at <= high for at, (low, high) in zip(place, (made.x.ends, made.y.ends), strict=True)
        ):
            found.append((*place, kept.name))
    return tuple(found)


def _place_of(drawn: _Drawn, made: Map, kept: Setting, answer: Answer) -> tuple[float, float] | None:
    there = drawn.aim.changed(find=kept.find, entries=kept.entries)
    values, _ = values_in_force(drawn.design, "power", values_for(there, answer, "power"))
    shown = {made.x.name, made.y.name, "power", "dropout", *_sizes_if_shown(drawn, made)}
    if any(values.get(name) != drawn.values.get(name) for name in {*values, *drawn.values} - shown):
        return None
    other = _Drawn(there, answer, drawn.design, values, drawn.per_group)
    return _place(other, made.x), _place(other, made.y)


def _sizes_if_shown(drawn: _Drawn, made: Map) -> set[str]:
    if SIZE not in (made.x.name, made.y.name):
        return set()
    return {name for way in drawn.design.sizes for name in way.names}
