"""What moving the design's point in a picture does to the study."""

from __future__ import annotations

import math

from ragwort.designs import Answer, RequestError, design_named
from ragwort.figures.pictures import Picture
from ragwort.figures.scales.axes import SIZE, Axis, step_at
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.split import RATIO, Split, place_of, ratio_at, sizes_by_group
from ragwort.figures.shown.trace import Trace
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.words.numbers import nudged

_DOUBLINGS = 0.1  # that an arrow key moves a split
_FINE = 200  # places that a value can be dragged to along an axis, at the least


def dragged(study: Study, aim: Aim, picture: Picture, answer: Answer, to: tuple[float, float]) -> Edit:
    """The point dragged to a place of the picture."""
    if isinstance(picture, Curve):
        return edits.drag_to_step(study, aim.id, step_at(answer.plan, to[0], picture.per_group))
    if isinstance(picture, Split):
        return _resplit(study, aim, answer, to[0])
    if not isinstance(picture, Map | Trace):
        return Edit("", study)
    axes = ((picture.x, to[0]), *([(picture.y, to[1])] if isinstance(picture, Map) else []))
    values = {axis.name: _near(axis, at) for axis, at in axes if axis.name != SIZE}
    steps = [step_at(answer.plan, at, picture.per_group) for axis, at in axes if axis.name == SIZE]
    return _moved(study, aim, values, steps)


def stepped(study: Study, aim: Aim, picture: Picture, answer: Answer, by: tuple[int, int]) -> Edit:
    """The point moved by the arrow keys: so many steps across and up."""
    if isinstance(picture, Curve):
        here = step_at(answer.plan, picture.point[0], picture.per_group)
        return edits.drag_to_step(study, aim.id, here + by[0])
    if isinstance(picture, Split):
        return _resplit(study, aim, answer, place_of(ratio_at(picture.point[0])) + by[0] * _DOUBLINGS)
    if not isinstance(picture, Map | Trace):
        return Edit("", study)
    design = design_named(aim.design)
    values, steps = {}, []
    up = [(picture.y, picture.point[1], by[1])] if isinstance(picture, Map) else []
    for axis, at, count in ((picture.x, picture.point[0], by[0]), *up):
        if count and axis.name == SIZE:
            steps.append(step_at(answer.plan, at, picture.per_group) + count)
        elif count:
            values[axis.name] = nudged(design.assumption(axis.name), at / axis.scale, count)
    return _moved(study, aim, values, steps)


def _resplit(study: Study, aim: Aim, answer: Answer, x: float) -> Edit:
    """Another ratio; where sizes are given by group, others that add up to the same."""
    ratio = ratio_at(x)
    if aim.find == "n" or not sizes_by_group(aim):
        return _moved(study, aim, {RATIO: ratio}, [])
    first = round(answer.total / (1 + ratio))
    names = design_named(aim.design).sizes[-1].names
    return _moved(study, aim, dict(zip(names, (first, answer.total - first), strict=True)), [])


def _moved(study: Study, aim: Aim, values: dict[str, float], steps: list[int]) -> Edit:
    try:
        return edits.drag_over(study, aim.id, values, steps[0] if steps else None)
    except RequestError:
        return Edit("", study)  # beyond what is allowed: the point stays


def _near(axis: Axis, at: float) -> float:
    """A place on an axis as a value, on a number as round as the axis allows; never beyond its ends."""
    low, high = axis.ends
    step = 10.0 ** math.floor(math.log10((high - low) / _FINE))
    step = next(step * each for each in (5, 2, 1) if step * each <= (high - low) / _FINE)
    return float(f"{round(min(max(at, low), high) / step) * step:.10g}") / axis.scale
