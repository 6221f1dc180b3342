"""The search for the unknown of one plan: whole numbers and real numbers, and runs of sizes where power has a hump.

A power function takes an array of steps (sample sizes on the grid that a design allows) and returns an array
of powers. `None` means that no step in the range reaches the target.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, TypeAlias

from ragwort.base.lazily import np
from ragwort.stats.search import many as search_many

if TYPE_CHECKING:
    from numpy.typing import NDArray

StepPower: TypeAlias = "Callable[[NDArray[np.int64]], NDArray[np.float64]]"
RealPower = Callable[[float], float]

_USUAL_ALPHA = 0.05  # where the power starts from, to guess from
_CAREFUL = 12  # blocks, and batches of steps, that are looked at one by one before bisecting
_LOOK_BACK = 4  # blocks before the one found: tops rise but for rounding, so one of them may reach the target too


def first_step(power: StepPower, target: float, low: int, high: int, one_by_one: int = 0) -> int | None:
    """The smallest step in low..high whose power is >= target, for a power that never falls with the step.

    Where power may still fall among the smallest sizes, `one_by_one` says how many of them to try singly.
    """
    if one_by_one:
        steps = np.arange(low, min(low + one_by_one, high + 1), dtype=np.int64)
        reached = np.flatnonzero(power(steps) >= target)
        if reached.size:
            return int(steps[reached[0]])
        low = int(steps[-1]) + 1
    if low > high:
        return None

    def of_one(_: NDArray[np.int64], steps: NDArray[np.float64]) -> NDArray[np.float64]:
        return power(steps.astype(np.int64))

    found = int(search_many.first_steps(of_one, np.array([target]), low, high, _USUAL_ALPHA)[0][0])
    return None if found == search_many.NONE else found


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
    """See `search_many.nearest_roots`, of one plan; None where no value reaches the target."""
    found = search_many.nearest_roots(_of_one(power), np.array([target]), np.array([start]), np.array([limit]))[0]
    return None if math.isnan(found) else float(found)


def least_alpha(power: RealPower, target: float) -> float | None:
    """See `search_many.least_alphas`, of one plan; None where no alpha reaches the target."""
    found = search_many.least_alphas(_of_one(power), np.array([target]))[0]
    return None if math.isnan(found) else float(found)


def close_in(power: RealPower, target: float, fails: float, reaches: float) -> float:
    """See `search_many.close_in`, of one plan."""
    return float(search_many.close_in(_of_one(power), np.array([target]), np.array([fails]), np.array([reaches]))[0])


def _of_one(power: RealPower) -> search_many.PowerOfMany:
    return lambda _, values: np.array([power(float(value)) for value in values])
