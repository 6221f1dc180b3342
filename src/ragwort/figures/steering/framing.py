"""Other ends for the axes of a picture: nearer, further off, moved aside."""

from __future__ import annotations

import math

from ragwort.designs import design_named
from ragwort.figures.scales.axes import SIZE, Axis
from ragwort.figures.shown.shown import Shown
from ragwort.study.document.aim import Aim

_LEAST = 1e-6  # of the place looked at: no axis becomes shorter
_FEWEST = 4.0  # people on an axis of sample sizes
_MOST_PEOPLE = 1e7
_DIGITS = 3  # of the length of an axis, to which its ends are rounded
Ends = dict[str, float]


def zoomed(aim: Aim, shown: Shown, about: tuple[float, float], factor: float) -> Ends:
    """Typed ends with which every axis is `factor` times as long, and the place pointed at stays where it is."""
    found: Ends = {}
    for (slot, axis), at in zip(shown.axes().items(), about, strict=False):
        low, high = (at + (end - at) * factor for end in axis.ends)
        if high - low > max(_LEAST * abs(at), _FEWEST if axis.name == SIZE else 0.0) or factor > 1:
            found |= _within_bounds(aim, slot, axis, low, high)
    return found


def moved(aim: Aim, shown: Shown, by: tuple[float, float]) -> Ends:
    """Typed ends with which every axis shows what lies that far on; no axis leaves what is allowed."""
    found: Ends = {}
    for (slot, axis), far in zip(shown.axes().items(), by, strict=False):
        least, most = _bounds(aim, axis)
        far = min(max(far, least - axis.ends[0]), most - axis.ends[1])
        found |= _within_bounds(aim, slot, axis, axis.ends[0] + far, axis.ends[1] + far)
    return found


def _bounds(aim: Aim, axis: Axis) -> tuple[float, float]:
    """Within which an axis must lie, in its unit."""
    if axis.name == SIZE:
        return 0.0, _MOST_PEOPLE
    assumption = design_named(aim.design).assumption(axis.name)
    inside = 1e-3 * (axis.ends[1] - axis.ends[0])
    low = assumption.low * axis.scale + (inside if assumption.open_low else 0.0)
    return low, assumption.high * axis.scale - (inside if assumption.open_high else 0.0)


def _within_bounds(aim: Aim, slot: str, axis: Axis, low: float, high: float) -> Ends:
    least, most = _bounds(aim, axis)
    low, high = max(low, least), min(high, most)
    if not low < high:
        return {}
    decimals = _DIGITS - 1 - math.floor(math.log10(high - low))
    ends = [min(max(round(end, decimals), least), most) for end in (low, high)]
    return {f"{slot}_low": ends[0] / axis.scale, f"{slot}_high": ends[1] / axis.scale}
