"""Power over two assumptions, or one and the sample size, as contour lines; the design as a point between them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from contourpy import contour_generator
from numpy.typing import NDArray
from typing_extensions import override

from ragwort.designs import Answer, Design, Plan, design_named
from ragwort.designs.many import along, powers
from ragwort.designs.request import values_in_force
from ragwort.figures.scales.axes import (
    SIZE,
    Axis,
    axes_of,
    largest_size,
    size_axis,
    size_of,
    step_at,
    value_axis,
    with_typed_ends,
    words_beyond,
    words_of_sizes,
    x_at,
)
from ragwort.figures.shown.on_axes import OnAxes
from ragwort.figures.shown.shown import Pointer, Reading, Seen, Texts, number_seen
from ragwort.study.document.aim import Aim, Setting
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.whatif import values_for
from ragwort.study.words.found import reached_text
from ragwort.study.words.numbers import percent_text

LEVELS = (0.5, 0.7, 0.8, 0.9, 0.95)
PLACES = 61  # along an axis
DRAGGED = 31  # while something is dragged
ROUGH = 13  # in a rough map
NEAR = 8  # pixels from a kept scenario in which its name is read


@dataclass(frozen=True)
class Contour:
    """Where the power has one value: pieces of points (n x 2, in the units of the axes)."""

    level: float
    label: str
    target: bool  # the power asked for
    pieces: tuple[NDArray[np.float64], ...]


@dataclass(frozen=True)
class Map(OnAxes):
    """What the picture Map shows. `z` is the power in 0..1, rows along y; NaN where there is none."""

    moves: ClassVar[str] = "xy"
    zooms: ClassVar[str] = "xy"
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
    basis: str  # what the powers depend on: while it is equal, they need not be computed anew
    places: int  # along an axis, at most, at which they were worked out
    place: str  # what a size is: `per group`, `in all`
    says: str
    texts: Texts = ()

    @property
    @override
    def x_label(self) -> str:  # type: ignore[override]
        return self.x.label

    @property
    @override
    def y_label(self) -> str:
        return self.y.label

    @property
    @override
    def handle(self) -> tuple[float, float]:
        return self.point

    @override
    def axes(self) -> dict[str, Axis]:
        return {"x": self.x, "y": self.y}

    @override
    def seen(self) -> Seen:
        found = [_seen_contour(contour) for contour in self.contours]
        others = [f"{name} lies on it" for *_, name in self.named]
        return Seen(others=[f"Across {self.x.label}, up {self.y.label}", *found, *others])

    @override
    def frame(self) -> tuple[object, ...]:
        return ("map", self.x, self.y, self.limit)

    @override
    def kept(self) -> tuple[object, ...]:
        """The lines, as the point moves over them, and kept scenarios; not the target's own line."""
        return (self.z.tobytes(), *(each.level for each in self.contours if not each.target), self.named)

    @override
    def reading(self, at: Pointer) -> Reading | None:
        """Between the values that were computed, hence only whole per cents."""
        (low, high), (least, most) = self.x.ends, self.y.ends
        if not (low <= at.x <= high and least <= at.y <= most):
            return None
        column = np.array([np.interp(at.x, self.at_x, row) for row in self.z])
        power = float(np.interp(at.y, self.at_y, column))
        if not math.isfinite(power):
            return None
        for x, y, name in self.named:
            if max(abs(x - at.x) / at.per_pixel[0], abs(y - at.y) / at.per_pixel[1]) < NEAR:
                return Reading(x, y, f"{name}: {self.words_at(x, y)}")
        return Reading(at.x, at.y, f"{self.words_at(at.x, at.y)}: about {percent_text(power, 0)}")

    def words_at(self, x: float, y: float) -> str:
        """A place in words: `12 ms, 64 per group`."""
        return f"{self.x.text(x, self.place)}, {self.y.text(y, self.place)}"

    @override
    def rows(self) -> list[list[object]]:
        head: list[object] = [self.x.label, self.y.label, "power"]
        found: list[list[object]] = [head]
        for y, row in zip(self.at_y, self.z, strict=True):
            found += [
                [float(x), float(y), "" if math.isnan(z) else float(z)] for x, z in zip(self.at_x, row, strict=True)
            ]
        return found


@dataclass(frozen=True)
class Drawn:
    """What a map is worked out from."""

    aim: Aim
    answer: Answer
    design: Design
    values: Mapping[str, Any]  # under which power is asked for
    per_group: bool
    places: int = PLACES


def _seen_contour(contour: Contour) -> str:
    piece = max(contour.pieces, key=len)
    (left, bottom), (right, top) = piece[0], piece[-1]
    if left > right:
        left, bottom, right, top = right, top, left, bottom
    target = ", the target," if contour.target else ""
    start, end = (f"{number_seen(x)} across and {number_seen(y)} up" for x, y in ((left, bottom), (right, top)))
    ends = f"from {start} to {end}"
    return f"The line of {contour.label}{target} goes {ends}"


def map_of(
    aim: Aim,
    answer: Answer,
    limit: int | None = None,
    kept: Map | None = None,
    steady: bool = False,
    rough: bool = False,
) -> Map:
    """The map around an answer. `kept` is the one shown now, whose ends stay while the point stays well within.

    With `rough` it is worked out at few places.
    """
    design = design_named(aim.design)
    values, _ = values_in_force(design, "power", values_for(aim, answer, "power"))
    per_group = answer.plan.counting.equal_groups > 1
    drawn = Drawn(aim, answer, design, values, per_group, ROUGH if rough else DRAGGED if steady else PLACES)
    first, second = _chosen(drawn)
    x = _axis(drawn, "x", first, None if kept is None else kept.x, steady)
    y = _axis(drawn, "y", second, None if kept is None else kept.y, steady)
    basis = _basis(drawn, x, y)
    known = kept is not None and kept.basis == basis and kept.places >= drawn.places
    at_x, at_y, z = (kept.at_x, kept.at_y, kept.z) if kept is not None and known else _grid(drawn, x, y)
    target = None if answer.find == "power" else answer.plan.target
    point = (_place(drawn, x), _place(drawn, y))
    most = None if limit is None or SIZE not in (x.name, y.name) else _largest(drawn, limit)
    made = Map(
        x=x,
        y=y,
        at_x=at_x,
        at_y=at_y,
        z=z,
        contours=contours(at_x, at_y, z, target),
        point=point,
        point_label="",
        named=(),
        limit=most,
        limit_words=words_beyond(limit) if limit is not None else "",
        per_group=per_group,
        basis=basis,
        places=kept.places if kept is not None and known else drawn.places,
        place=words_of_sizes(aim, answer, per_group)[1],
        says="",
    )
    return _with_words(drawn, made)


def _with_words(drawn: Drawn, made: Map) -> Map:
    where = made.words_at(*made.point)
    power = reached_text(drawn.answer)
    says = f"Power is {power} at {where}; each line joins designs of equal power.".replace("\u00a0", " ")
    return replace(made, point_label=f"{where}: {power}", named=_scenarios(drawn, made), says=says)


def _chosen(drawn: Drawn) -> tuple[str, str]:
    """What runs across and up: as asked for, otherwise the effect and the sample size."""
    names, steer = axes_of(drawn.aim, drawn.values), drawn.aim.steer("Map")
    x = steer.x if steer.x in names else names[0]
    y = steer.y if steer.y in names and steer.y != x else next(name for name in reversed(names) if name != x)
    return x, y


def _axis(drawn: Drawn, slot: str, name: str, kept: Axis | None, steady: bool) -> Axis:
    if name == SIZE:
        made = size_axis(drawn.aim, drawn.answer, drawn.per_group, kept, steady)
    else:
        made = value_axis(drawn.aim, name, float(drawn.values[name]), kept, steady)
    return with_typed_ends(made, drawn.aim.steer("Map"), slot)


def _place(drawn: Drawn, axis: Axis) -> float:
    if axis.name == SIZE:
        return size_of(drawn.answer, drawn.per_group)
    return float(drawn.values[axis.name]) * axis.scale


def _grid(drawn: Drawn, x: Axis, y: Axis) -> tuple[NDArray[Any], NDArray[Any], NDArray[Any]]:
    """Values along both axes, and the power at each of them (rows along y)."""
    if y.name == SIZE:
        at_x = _values_along(drawn, x, drawn.places)
        at_y, rows = over_sizes(drawn, x, y, at_x)
        return at_x, at_y, rows.T
    if x.name == SIZE:
        at_y = _values_along(drawn, y, drawn.places)
        at_x, rows = over_sizes(drawn, y, x, at_y)
        return at_x, at_y, rows
    at_x, at_y = (_values_along(drawn, axis, drawn.places) for axis in (x, y))
    columns = {x.name: np.tile(at_x, len(at_y)) / x.scale, y.name: np.repeat(at_y, len(at_x)) / y.scale}
    return at_x, at_y, powers(drawn.design, drawn.values, columns).reshape(len(at_y), len(at_x))


def _values_along(drawn: Drawn, axis: Axis, most: int) -> NDArray[np.float64]:
    """Values of an assumption at which power is worked out: whole ones where it counts, and two at the least."""
    at = np.linspace(*axis.ends, most)
    if drawn.design.assumption(axis.name).kind != "count":
        return at
    whole = np.unique(np.round(at))
    return whole if len(whole) > 1 else np.array([whole[0], whole[0] + 1])


def over_sizes(drawn: Drawn, values: Axis, sizes: Axis, at: NDArray[np.float64]) -> tuple[NDArray[Any], NDArray[Any]]:
    """Sample sizes, and the power at each value (rows) and each of them."""
    plan = drawn.answer.plan
    low, last = (step_at(plan, end, drawn.per_group) for end in sizes.ends)
    steps = np.unique(low + np.linspace(0, max(last - low, 1), drawn.places).astype(np.int64))
    found = x_at(plan, steps, drawn.per_group)

    def same_sizes(other: Plan) -> NDArray[np.int64]:
        if other.counting == plan.counting:
            return steps
        return np.array([step_at(other, size, drawn.per_group) for size in found])

    rows = along(drawn.design, drawn.values, values.name, at / values.scale, same_sizes)
    none = np.full((len(at), len(found)), np.nan)
    return found, rows if rows.shape == none.shape else none  # where no value can be had, no sizes were asked for


def _basis(drawn: Drawn, x: Axis, y: Axis) -> str:
    """The axes, and every value that has a say in the powers over them."""
    sizes = {name for way in drawn.design.sizes for name in way.names} if SIZE in (x.name, y.name) else set()
    free = {x.name, y.name, "power", "dropout", *sizes}
    fixed = sorted((name, repr(value)) for name, value in drawn.values.items() if name not in free)
    return repr((drawn.design.id, x.name, x.ends, y.name, y.ends, drawn.per_group, fixed))


def contours(
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


def _largest(drawn: Drawn, limit: int) -> float:
    """The largest sample size of which no more are to be enrolled than can be had."""
    return largest_size(drawn.answer, drawn.design.enrolment(drawn.values), limit, drawn.per_group)


def _scenarios(drawn: Drawn, made: Map) -> tuple[tuple[float, float, str], ...]:
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


def _place_of(drawn: Drawn, made: Map, kept: Setting, answer: Answer) -> tuple[float, float] | None:
    there = drawn.aim.changed(find=kept.find, entries=kept.entries)
    values, _ = values_in_force(drawn.design, "power", values_for(there, answer, "power"))
    shown = {made.x.name, made.y.name, "power", "dropout", *_sizes_if_shown(drawn, made)}
    if any(values.get(name) != drawn.values.get(name) for name in {*values, *drawn.values} - shown):
        return None
    other = Drawn(there, answer, drawn.design, values, drawn.per_group)
    return _place(other, made.x), _place(other, made.y)


def _sizes_if_shown(drawn: Drawn, made: Map) -> set[str]:
    if SIZE not in (made.x.name, made.y.name):
        return set()
    return {name for way in drawn.design.sizes for name in way.names}
