"""The search for the unknown: whole numbers and real numbers.

A power function takes an array of steps (sample sizes on the grid that a design allows) and returns an array
of powers. `None` means that no step in the range reaches the target. The searches ask for many points in one
call, because one call on 32 points costs hardly more than a call on one.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, TypeAlias

from ragwort.stats.lazily import np

if TYPE_CHECKING:
    from numpy.typing import NDArray

StepPower: TypeAlias = "Callable[[NDArray[np.int64]], NDArray[np.float64]]"
RealPower = Callable[[float], float]

_POINTS = 16
_CAREFUL = 12  # blocks, and batches of steps, that are looked at one by one before bisecting
_CLOSE = 1e-14  # of a value: as near as its two ends come
_LOOK_BACK = 4  # blocks before the one found: tops rise but for rounding, so one of them may reach the target too


def first_step(power: StepPower, target: float, low: int, high: int, one_by_one: int = 1) -> int | None:
    """The smallest step in low..high whose power is >= target, for a power that never falls with the step.

    Where power may still fall among the smallest sizes, `one_by_one` says how many of them to try singly.
    """
    below = low - 1
    singly = [np.arange(low, min(low + one_by_one, high + 1), dtype=np.int64)] if one_by_one > 1 else []
    for steps in (*singly, *_doubling(min(low + one_by_one - 1, high), high)):
        reached = np.flatnonzero(power(steps) >= target)
        if reached.size:
            at = int(reached[0])
            lower = int(steps[at - 1]) if at else below
            return _narrow(power, target, lower, int(steps[at]))
        below = int(steps[-1])
    return None


def _doubling(low: int, high: int) -> Sequence[NDArray[np.int64]]:
    """Steps 1, 2, 4, 8, ... above low - 1, in two batches, so that a small answer costs a small batch."""
    distances = 2 ** np.arange(0, int(high - low + 1).bit_length(), dtype=np.int64)
    steps = np.append(low - 1 + distances, high) if low - 1 + distances[-1] < high else low - 1 + distances
    return [part for part in (steps[:10], steps[10:]) if part.size]


def _narrow(power: StepPower, target: float, below: int, reaches: int) -> int:
    """Narrow (below, reaches] to the first step that reaches the target, `_POINTS` trials at a time."""
    while reaches - below > 1:
        stride = max(1, (reaches - below) // (_POINTS + 1))
        steps = np.arange(below + stride, reaches, stride, dtype=np.int64)
        reached = np.flatnonzero(power(steps) >= target)
        if reached.size:
            at = int(reached[0])
            reaches, below = int(steps[at]), int(steps[at - 1]) if at else below
        else:
            below = int(steps[-1])
    return reaches


def first_in_blocks(
    paths: Sequence[StepPower],
    target: float,
    block: Callable[[int], tuple[int, int]],
    low: int,
    high: int,
) -> int | None:
    """The smallest step that reaches the target where power rises and then falls inside blocks of steps.

    Inside a block one group's size stands still, so power has a single hump there; from block to block its
    top rises, but for the first few blocks, which are therefore looked at one by one. `block(k)` gives the
    first and last step of block k (low <= k <= high); `paths` are the ways to split a step into groups.
    """

    def first(k: int) -> int | None:
        start, end = block(k)
        found = [_first_on_hump(path, target, start, end) for path in paths]
        return min((step for step in found if step is not None), default=None)

    known = min(low + _CAREFUL, high)
    for k in range(low, known + 1):
        if (step := first(k)) is not None:
            return step
    reaches = known
    while first(reaches) is None:
        if reaches >= high:
            return None
        known, reaches = reaches, min(high, reaches * 2)
    while reaches - known > 1:
        middle = (known + reaches) // 2
        if first(middle) is None:
            known = middle
        else:
            reaches = middle
    return min(step for k in range(max(low, reaches - _LOOK_BACK), reaches + 1) if (step := first(k)) is not None)


def _first_on_hump(power: StepPower, target: float, start: int, end: int) -> int | None:
    """The smallest step in start..end that reaches the target, for a power with a single hump there."""
    low, high = start, end
    while True:
        steps = np.unique(np.linspace(low, high, 64).astype(np.int64))
        powers = power(steps)
        top = int(np.argmax(powers))
        if powers[top] >= target:
            return first_step(power, target, start, int(steps[top]))
        if steps.size == high - low + 1:
            return None
        low, high = int(steps[max(top - 1, 0)]), int(steps[min(top + 1, steps.size - 1)])


def nearest_root(power: RealPower, target: float, start: float, limit: float) -> float | None:
    """The value nearest to zero, between 0 and `limit` on its side, whose power reaches the target.

    `power` must not fall as the value moves away from zero. `start` (same sign as `limit`) sets the scale of
    the first try. Returns a value whose power is >= target, relative accuracy about 1e-13.
    """
    inner, outer = 0.0, start
    while power(outer) < target:
        if abs(outer) >= abs(limit):
            return None
        inner, outer = outer, float(np.sign(limit)) * min(abs(outer) * 2, abs(limit))
    if inner == 0.0:
        inner = outer / 2
        while power(inner) >= target and abs(inner) > 1e-300:
            inner, outer = inner / 2, inner
    return close_in(power, target, inner, outer)


def least_alpha(power: RealPower, target: float) -> float | None:
    """The smallest alpha in (0, 1) whose power reaches the target, for a power that rises with alpha.

    0.0 where every alpha down to 1e-300 reaches it; None where none does.
    """
    if power(1 - 1e-12) < target:
        return None
    inner, outer = 1e-3, 1 - 1e-12
    while power(inner) >= target:
        if inner < 1e-297:
            return 0.0
        inner, outer = inner * 1e-3, inner
    return close_in(power, target, inner, outer)


def close_in(power: RealPower, target: float, fails: float, reaches: float) -> float:
    """The end that reaches the target once both ends agree to 1e-14.

    Chandrupatla's rule (Advances in Engineering Software 1997; 28: 145-149): inverse quadratic interpolation where the
    last three points bear it, halving where they do not. Only a value whose power is >= target is ever returned.
    """
    near, far = reaches, fails  # the two ends; the last trial is the near one
    over_near, over_far = power(near) - target, power(far) - target
    share, best = 0.5, reaches
    while True:
        trial = near + share * (far - near)
        if trial in (near, far):
            return best
        over = power(trial) - target
        if (over >= 0) == (over_near >= 0):
            third, over_third = near, over_near
        else:
            third, over_third, far, over_far = far, over_far, near, over_near
        near, over_near = trial, over
        best = near if over_near >= 0 else far
        least = _CLOSE * max(abs(near), abs(far)) / abs(far - near)
        if least >= 1:
            return best
        share = min(max(_next_share((near, far, third), (over_near, over_far, over_third)), least / 2), 1 - least / 2)


def _next_share(ends: tuple[float, float, float], over: tuple[float, float, float]) -> float:
    """How far from the first towards the second point to try next."""
    (a, b, c), (at_a, at_b, at_c) = ends, over
    if at_b in (at_a, at_c) or at_a == at_c:
        return 0.5
    place, height = (a - b) / (c - b), (at_a - at_b) / (at_c - at_b)
    if not (height**2 < place and (1 - height) ** 2 < 1 - place):
        return 0.5
    found = at_a / (at_b - at_a) * at_c / (at_b - at_c)
    found += (c - a) / (b - a) * at_a / (at_c - at_a) * at_b / (at_c - at_b)
    return found if math.isfinite(found) else 0.5
