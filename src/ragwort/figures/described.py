"""A picture for those who do not see it: its shape, the design in it, its target and where lines cross it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ragwort.figures.shown.shown import SeenLine, Shown, number_seen

_FLAT = 0.01  # of the height of a line: less is no turn
MOST = 8  # lines that are told one by one


def described(shown: Shown) -> str:
    """What the eye would see of it, after what it says itself."""
    seen = shown.seen()
    parts = [_of_line(line, seen.target, seen.unit) for line in seen.lines[:MOST]]
    parts += [f"{len(seen.lines) - MOST} more lines"] if len(seen.lines) > MOST else []
    parts += seen.others
    pins = [f"Read at {flag.words}" for flag in shown.flags]
    return " ".join([shown.says, *(f"{part}." for part in (*parts, *pins))]).replace("\u00a0", " ")


def _of_line(line: SeenLine, target: float | None, unit: str) -> str:
    there = np.isfinite(line.y)
    if not there.any():
        return f"{line.label}: nothing is found"
    x, y = line.x[there], line.y[there]
    first, last = (f"{number_seen(y[at])}{unit} at {number_seen(x[at])}" for at in (0, -1))
    text = f"{line.label} {_course(y)} from {first} to {last}"
    crossings = [] if target is None else _crossings(x, y, target)
    if target is not None and crossings:
        text += f", through the target {number_seen(target)}{unit} at {' and '.join(map(number_seen, crossings))}"
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
