"""A picture for those who do not see it: its shape, the design in it, its target and where lines cross it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.map import Contour, Map
from ragwort.figures.shown.shown import Shown
from ragwort.figures.shown.split import Split
from ragwort.figures.shown.trace import Trace
from ragwort.study.words.numbers import MINUS

_FLAT = 0.01  # of the height of a line: less is no turn
MOST = 8  # lines that are told one by one


@dataclass(frozen=True)
class _Told:
    """A line as it is told."""

    label: str
    x: NDArray[np.float64]
    y: NDArray[np.float64]


def described(shown: Shown) -> str:
    """What the eye would see of it, after what it says itself."""
    if isinstance(shown, Map):
        parts = _of_map(shown)
    else:
        lines, target, unit = _lines_of(shown)
        parts = [_of_line(line, target, unit) for line in lines[:MOST]]
        parts += [f"{len(lines) - MOST} more lines"] if len(lines) > MOST else []
    pins = [f"Read at {flag.words}" for flag in shown.flags]
    return " ".join([shown.says, *(f"{part}." for part in (*parts, *pins))]).replace("\u00a0", " ")


def _lines_of(shown: Shown) -> tuple[Sequence[_Told], float | None, str]:
    if isinstance(shown, Curve):
        target = None if shown.target is None else 100 * shown.target
        return [_Told(each.label, each.x, 100 * each.power) for each in shown.series], target, "%"
    if isinstance(shown, Trace):
        return [_Told(each.label, each.x, each.y) for each in shown.lines], shown.target, ""
    if isinstance(shown, Split):
        return [_Told(shown.y_label, *shown.line)], None, ""
    return [], None, ""


def _of_line(line: _Told, target: float | None, unit: str) -> str:
    there = np.isfinite(line.y)
    if not there.any():
        return f"{line.label}: nothing is found"
    x, y = line.x[there], line.y[there]
    first, last = (f"{_number(y[at])}{unit} at {_number(x[at])}" for at in (0, -1))
    text = f"{line.label} {_course(y)} from {first} to {last}"
    crossings = [] if target is None else _crossings(x, y, target)
    if target is not None and crossings:
        text += f", through the target {_number(target)}{unit} at {' and '.join(map(_number, crossings))}"
    return text


def _course(y: NDArray[np.float64]) -> str:
    """`rises`, `falls, then rises` …: turns that the eye would see."""
    height = float(y.max() - y.min())
    turns: list[str] = []
    last = float(y[0])
    for each in y.tolist():
        if abs(each - last) > _FLAT * height and height > 0:
            way = "rises" if each > last else "falls"
            turns = turns if turns and turns[-1] == way else [*turns, way]
            last = each
    if not turns:
        return "stays level"
    return ", then ".join(turns) if len(turns) <= 3 else f"goes up and down and {turns[-1]} at last"


def _crossings(x: NDArray[np.float64], y: NDArray[np.float64], target: float) -> list[float]:
    """Where a line goes through a height; the first three places."""
    above = y >= target
    places = np.flatnonzero(above[1:] != above[:-1])[:3]
    shares = (target - y[places]) / (y[places + 1] - y[places])
    return [float(each) for each in x[places] + shares * (x[places + 1] - x[places])]


def _of_map(shown: Map) -> list[str]:
    found = [_of_contour(contour) for contour in shown.contours]
    return [f"Across {shown.x.label}, up {shown.y.label}", *found, *(f"{name} lies on it" for *_, name in shown.named)]


def _of_contour(contour: Contour) -> str:
    piece = max(contour.pieces, key=len)
    (left, bottom), (right, top) = piece[0], piece[-1]
    if left > right:
        left, bottom, right, top = right, top, left, bottom
    target = ", the target," if contour.target else ""
    ends = f"from {_number(left)} across and {_number(bottom)} up to {_number(right)} across and {_number(top)} up"
    return f"The line of {contour.label}{target} goes {ends}"


def _number(value: float) -> str:
    rounded = f"{value:.3g}" if abs(value) < 1000 else f"{value:.0f}"
    return (rounded if math.isfinite(value) else "nothing").replace("-", MINUS)
