"""What can be an axis of a picture, and from where to where it goes by itself."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import Answer, Plan, design_named
from ragwort.designs.sizes import Enrolment
from ragwort.figures.scales.quantity import Quantity
from ragwort.study.document.aim import Aim
from ragwort.study.document.pages import Steer
from ragwort.study.results.whatif import NUMERIC
from ragwort.study.words.numbers import MINUS, count_text

SIZE = "n"  # the axis of sample sizes
_NO_AXIS = ("power", "dropout")  # what is drawn over the axes, and what has no say in it
_WIDER = 0.25  # of a plausible range, on either side
_MOST_OF = 0.8  # of the way to a bound
_ROUND = (1, 2, 2.5, 5, 10)


@dataclass(frozen=True)
class Axis:
    """One direction of a picture."""

    name: str
    words: str  # in running text
    unit: str  # empty where it has none
    ends: tuple[float, float]  # in the unit of the axis
    scale: float  # what a value is multiplied by there
    plausible: tuple[float, float] | None  # the range, where it has one
    own: tuple[float, float]  # the ends without any that was typed

    @property
    def label(self) -> str:
        """With its unit: `difference, ms`."""
        if self.name == SIZE:
            return f"{self.words}, analysed"
        return f"{self.words}, {self.unit}" if self.unit else self.words

    def text(self, at: float, place: str) -> str:
        """A place on the axis in words: `12 ms`; of a sample size with what it is a size of."""
        if self.name == SIZE:
            return f"{count_text(round(at))} {place}"
        number = f"{at:.4g}".replace("-", MINUS)
        return f"{number}\u00a0{self.unit}" if self.unit else f"{self.words} {number}"


def axes_of(aim: Aim, values: Mapping[str, Any]) -> list[str]:
    """The names that can be an axis: numbers in force, the effect first, and the sample size last."""
    design = design_named(aim.design)
    sizes = {name for way in design.sizes for name in way.names}
    names = [
        assumption.name
        for assumption in design.assumptions
        if assumption.kind in NUMERIC and assumption.name in values and assumption.name not in {*sizes, *_NO_AXIS}
    ]
    return [*names, SIZE]


def span(quantity: Quantity, value: float) -> tuple[float, float]:
    """The ends of an axis, around a value and its plausible range, on round numbers within what is allowed."""
    assumption, entry = quantity.assumption, quantity.aim.entry(quantity.name)
    low, high = entry.low, entry.high
    if low is None or high is None or not low < high:
        low = value - min(0.4 * abs(value) or 1.0, _MOST_OF * (value - assumption.low))
        high = value + min(0.5 * abs(value) or 1.0, _MOST_OF * (assumption.high - value))
    low, high = min(low, value), max(high, value)
    room = _WIDER * (high - low) or 1.0
    return _rounded(quantity, value, low - room, high + room)


def _rounded(quantity: Quantity, value: float, low: float, high: float) -> tuple[float, float]:
    """Outwards to round numbers, but not out of bounds."""
    scale, assumption = quantity.scale, quantity.assumption
    step = _step((high - low) * scale)
    first = float(f"{math.floor(low * scale / step + 1e-9) * step:.10g}") / scale
    last = float(f"{math.ceil(high * scale / step - 1e-9) * step:.10g}") / scale
    if first <= assumption.low:
        away = min(step / scale / 2, (value - assumption.low) / 2) if assumption.open_low else 0.0
        first = assumption.low + away
    if last >= assumption.high:
        away = min(step / scale / 2, (assumption.high - value) / 2) if assumption.open_high else 0.0
        last = assumption.high - away
    return first, last


def _step(length: float) -> float:
    """About a tenth of a length, on a round number."""
    size = 10.0 ** math.floor(math.log10(length / 10))
    return next(size * each for each in _ROUND if size * each >= length / 10 * (1 - 1e-9))


def value_axis(aim: Aim, name: str, value: float, kept: Axis | None = None, steady: bool = False) -> Axis:
    """The axis of an assumption around a value. `kept` is the one shown now: it stays while the value is well within.

    With `steady`, as in a drag, it stays while the value is within at all.
    """
    quantity, entry = Quantity(design_named(aim.design).assumption(name), aim), aim.entry(name)
    low, high = span(quantity, value)
    ends = (low * quantity.scale, high * quantity.scale)
    if kept is not None and kept.name == name and _well_within(value * quantity.scale, kept.own, steady):
        ends = kept.own
    plausible = None
    if entry.low is not None and entry.high is not None:
        plausible = (entry.low * quantity.scale, entry.high * quantity.scale)
    return Axis(name, quantity.words, quantity.unit, ends, quantity.scale, plausible, ends)


def _well_within(value: float, ends: tuple[float, float], steady: bool) -> bool:
    room = (0.0 if steady else 0.1) * (ends[1] - ends[0])
    return ends[0] + room <= value <= ends[1] - room


def with_typed_ends(axis: Axis, steer: Steer, slot: str) -> Axis:
    """The axis with the ends that were typed for what it shows, as far as they make an axis."""
    if axis.name != getattr(steer, slot):
        return axis
    low, high = (
        steer.ends[end] * axis.scale if end in steer.ends else own
        for end, own in zip((f"{slot}_low", f"{slot}_high"), axis.ends, strict=True)
    )
    return replace(axis, ends=(low, high)) if low < high else axis


# --- sample sizes ---------------------------------------------------------------------------------------------


def words_of_sizes(aim: Aim, answer: Answer, per_group: bool) -> tuple[str, str]:
    """What an axis of sample sizes means, and what goes after a size on it: `staff per group`, `per group`."""
    many, group = aim.words.many, design_named(aim.design).group_word
    if per_group:
        return f"{many} per {group}", f"per {group}"
    return (many, many) if answer.plan.counting.equal_groups == 1 else (f"total {many}", "in total")


def step_at(plan: Plan, x: float, per_group: bool) -> int:
    """The step of the plan's counting nearest to a place on the x axis."""
    counting = plan.counting
    step = counting.step_near(x * counting.equal_groups if per_group else x)
    return int(min(max(step, counting.lowest), counting.highest))


def size_of(answer: Answer, per_group: bool) -> float:
    """Where an answer stands on an axis of sample sizes."""
    return float(answer.groups[0]) if per_group else float(answer.total)


def largest_size(answer: Answer, lost: Enrolment, limit: int, per_group: bool) -> float:
    """On an axis of sample sizes, the largest of which no more than `limit` are recruited, for what is `lost`."""
    alike = len(answer.groups) if len(set(answer.groups)) == 1 else 1
    return lost.largest_within(limit, alike) * (1 if per_group else alike)


def words_beyond(limit: int) -> str:
    """What lies beyond."""
    return f"more than the {count_text(limit)} available"


def x_at(plan: Plan, steps: NDArray[np.int64], per_group: bool) -> NDArray[np.float64]:
    """Where steps of a plan's counting stand on an axis of sample sizes."""
    groups = plan.counting.ways(steps)[0]
    return np.asarray(groups[0] if per_group else groups.sum(axis=0), dtype=float)


def axis_end(point_x: float, keep: float | None, steady: bool) -> float:
    """The end of an axis of sample sizes: `keep` while the point stays well within it, or (`steady`) at all."""
    low, high = (0.02, 0.97) if steady else (0.12, 0.75)
    if keep is not None and low * keep <= point_x <= high * keep:
        return keep
    wanted = max(2.5 * point_x, 12.0)
    size = 10.0 ** np.floor(np.log10(wanted))
    return float(min(step for step in size * np.array([1, 1.2, 1.6, 2, 2.5, 3, 4, 5, 6, 8, 10]) if step >= wanted))


def size_axis(aim: Aim, answer: Answer, per_group: bool, kept: Axis | None = None, steady: bool = False) -> Axis:
    """The axis of sample sizes around an answer; `kept` and `steady` as for `value_axis`."""
    keep = kept.own[1] if kept is not None and kept.name == SIZE else None
    plan = answer.plan
    least = float(x_at(plan, np.array([plan.counting.lowest]), per_group)[0])
    low = min(least, size_of(answer, per_group))  # sizes that need not be whole can be found below the first step
    ends = low, axis_end(size_of(answer, per_group), keep, steady)
    return Axis(SIZE, words_of_sizes(aim, answer, per_group)[0], "", ends, 1.0, None, ends)
