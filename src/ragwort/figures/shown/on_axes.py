"""Pictures whose axes are assumptions or sample sizes: framed otherwise, and the design moved along them."""

from __future__ import annotations

import math

from typing_extensions import override

from ragwort.designs import Answer, design_named
from ragwort.figures.scales.axes import SIZE, Axis, step_at
from ragwort.figures.shown.shown import Moved, Shown
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import nudged

_FINE = 200  # places that a value can be dragged to along an axis, at the least


class OnAxes(Shown):
    """A picture with axes, and the design's point among them."""

    x: Axis
    point: tuple[float, float]
    per_group: bool  # whether sizes on an axis are those of one group

    @override
    def axes(self) -> dict[str, Axis]:
        return {"x": self.x}

    @override
    def moved_to(self, aim: Aim, answer: Answer, to: tuple[float, float]) -> Moved:
        axes = list(zip(self.axes().values(), to, strict=False))
        values = {axis.name: _near(axis, at) for axis, at in axes if axis.name != SIZE}
        steps = [step_at(answer.plan, at, self.per_group) for axis, at in axes if axis.name == SIZE]
        return Moved(values, steps[0] if steps else None)

    @override
    def moved_by(self, aim: Aim, answer: Answer, by: tuple[int, int]) -> Moved:
        design, moved = design_named(aim.design), Moved({})
        for axis, at, count in zip(self.axes().values(), self.point, by, strict=False):
            if count and axis.name == SIZE:
                moved = Moved(moved.values, step_at(answer.plan, at, self.per_group) + count)
            elif count:
                value = float(nudged(design.assumption(axis.name), at / axis.scale, count))
                moved = Moved({**moved.values, axis.name: value}, moved.step)
        return moved


def _near(axis: Axis, at: float) -> float:
    """A place on an axis as a value, on a number as round as the axis allows; never beyond its ends."""
    low, high = axis.ends
    step = 10.0 ** math.floor(math.log10((high - low) / _FINE))
    step = next(step * each for each in (5, 2, 1) if step * each <= (high - low) / _FINE)
    return float(f"{round(min(max(at, low), high) / step) * step:.10g}") / axis.scale
