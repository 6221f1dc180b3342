"""Search where power goes up and down with the sample size, as that of exact tests does.

Nothing is assumed about the shape: whole runs of sizes are ruled out by bounds of the power over them, and what is
left is looked at size by size.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, TypeAlias

from ragwort.base.lazily import np
from ragwort.base.patience import report
from ragwort.stats.search.one import StepPower

if TYPE_CHECKING:
    from numpy.typing import NDArray

Runs: TypeAlias = "NDArray[np.int64]"
# The first and last step of each run -> a bound of the power there.
Bound: TypeAlias = "Callable[[Runs, Runs], NDArray[np.float64]]"

_SHRINK = 16  # runs become this much shorter at each round
_SAFE = 1e-9  # a bound rules a run out only when it clears the target by more than rounding can move it


def first_reaching(power: StepPower, most: Bound, target: float, low: int, high: int) -> int | None:
    """The smallest step in low..high whose power is >= target; `most` bounds the power of a run from above."""
    start, length = low, 64
    while start <= high:
        end = min(start + length - 1, high)
        left = _left_over(lambda a, b: most(a, b) >= target - _SAFE, start, end)
        reached = left[power(left) >= target] if left.size else left
        if reached.size:
            return int(reached[0])
        start, length = end + 1, length * 2
        report(start / high)
    return None


def last_below(power: StepPower, least: Bound, target: float, low: int, high: int) -> int:
    """The largest step in low..high whose power is < target, or low - 1; `least` bounds a run from below."""
    left = _left_over(lambda a, b: least(a, b) < target + _SAFE, low, high)
    short = left[power(left) < target] if left.size else left
    return int(short[-1]) if short.size else low - 1


def _left_over(possible: Callable[[Runs, Runs], NDArray[np.bool_]], low: int, high: int) -> Runs:
    """The steps of low..high that no run rules out."""
    length = 1
    while (high - low + 1) / length > _SHRINK**2:
        length *= _SHRINK
    starts = np.arange(low, high + 1, length, dtype=np.int64)
    while True:
        if length > 1:
            starts = starts[possible(starts, np.minimum(starts + length - 1, high))]
        if length == 1 or not starts.size:
            return starts
        length //= _SHRINK
        starts = (starts[:, None] + np.arange(0, length * _SHRINK, length)).ravel()
        starts = starts[starts <= high]
