"""The search for the unknown of many plans at once, each in its own range: whole steps, and real numbers.

A power function takes the numbers of the plans that are asked for and a value for each of them. One plan alone is
searched by the same code (`one.py`), as one of one.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from ragwort.base.lazily import np, special

if TYPE_CHECKING:
    from numpy.typing import NDArray

Reals: TypeAlias = "NDArray[np.float64]"
Whole: TypeAlias = "NDArray[np.int64]"
PowerOfMany = Callable[["NDArray[np.int64]", "NDArray[np.float64]"], "NDArray[np.float64]"]

NONE = -1  # the step of a plan of which no step reaches the target
_CLOSE = 1e-14  # of a value: as near as its two ends come
_FIRST_TRIAL = 64  # steps
_LEAP = 64.0  # times as far, or as near, as the last trial: no guess goes further
_GUESSES = 6  # trials that follow the guess alone; from then on every other one halves the range


@dataclass
class _Climb:
    """Where the search of each plan stands: power fails at `below`, and reaches the target at `reaches`."""

    below: Reals
    reaches: Reals
    reached: Reals  # the power there
    x: Reals  # the last two trials: square roots of steps …
    q: Reals  # … and probits of their powers
    old_x: Reals
    old_q: Reals


def first_steps(power: PowerOfMany, target: Reals, low: int, high: int, floor: Reals | float) -> tuple[Whole, Reals]:
    """The smallest step in low..high of each plan whose power is >= target, and that power; `NONE` where none is.

    Power must not fall with the step. Guesses follow a straight line of probit(power) against the square root of the
    step, which holds for a normal statistic; `floor` is roughly the power with nobody. Each answer is proved: its own
    power and that of the step before it were both computed.
    """
    count = len(target)
    goal, start = _probit(target), _probit(np.full(count, floor))
    trial = np.full(count, float(min(max(_FIRST_TRIAL, low), high)))
    below, reaches, nothing = np.full(count, low - 1.0), np.full(count, high + 1.0), np.full(count, np.nan)
    at = _Climb(below, reaches, nothing, np.zeros(count), start, np.zeros(count), start.copy())
    active, turn = np.arange(count), 0
    while active.size:
        found = power(active, trial[active])
        _remember(at, active, trial[active], found, target[active])
        active = active[at.reaches[active] - at.below[active] > 1]
        trial[active] = _next_steps(at, active, goal[active], high, halve=turn >= _GUESSES and turn % 2 == 0)
        turn += 1
    return np.where(at.reaches > high, NONE, at.reaches).astype(np.int64), at.reached


def _probit(power: Reals) -> Reals:
    return np.asarray(special.ndtri(np.minimum(np.maximum(power, 1e-12), 1 - 1e-12)))


def _remember(at: _Climb, which: Whole, trial: Reals, found: Reals, target: Reals) -> None:
    reached = found >= target
    at.reaches[which[reached]], at.reached[which[reached]] = trial[reached], found[reached]
    at.below[which[~reached]] = trial[~reached]
    at.old_x[which], at.old_q[which] = at.x[which], at.q[which]
    at.x[which], at.q[which] = np.sqrt(trial), _probit(found)


def _next_steps(at: _Climb, which: Whole, goal: Reals, high: int, halve: bool) -> Reals:
    below, reaches, x, q = at.below[which], at.reaches[which], at.x[which], at.q[which]
    last, rise = x**2, q - at.old_q[which]
    with np.errstate(divide="ignore", invalid="ignore"):
        root = x + (goal - q) * (x - at.old_x[which]) / rise
    away = np.where(q < goal, last * _LEAP, last / _LEAP)
    guess = np.where(np.isfinite(root) & (root > 0), root**2, away)
    guess = np.minimum(np.maximum(guess, last / _LEAP), np.maximum(last * _LEAP, 1.0))
    if halve:
        open_above = reaches > high
        guess = np.where(open_above, last * 4, (below + reaches) / 2)
    return np.minimum(np.maximum(np.ceil(guess - 1e-9), below + 1), reaches - 1)


def nearest_roots(power: PowerOfMany, target: Reals, start: Reals, limit: Reals) -> Reals:
    """The value of each plan nearest to zero, between 0 and `limit` on its side, whose power reaches the target.

    NaN where none does. `power` must not fall as the value moves away from zero; `start` (same sign as `limit`) sets
    the scale of the first try. Relative accuracy about 1e-13, never short of the target.
    """
    inner, outer = np.zeros(len(target)), start.astype(float)
    missing, active = np.zeros(len(target), dtype=bool), np.arange(len(target))
    while active.size:
        active = active[power(active, outer[active]) < target[active]]
        ended = np.abs(outer[active]) >= np.abs(limit[active])
        missing[active[ended]] = True
        active = active[~ended]
        inner[active] = outer[active]
        outer[active] = np.sign(limit[active]) * np.minimum(np.abs(outer[active]) * 2, np.abs(limit[active]))
    active = np.flatnonzero((inner == 0.0) & ~missing)
    inner[active] = outer[active] / 2
    while active.size:
        active = active[(power(active, inner[active]) >= target[active]) & (np.abs(inner[active]) > 1e-300)]
        inner[active], outer[active] = inner[active] / 2, inner[active]
    return _where_known(power, target, inner, outer, ~missing)


def least_alphas(power: PowerOfMany, target: Reals) -> Reals:
    """The smallest alpha in (0, 1) of each plan whose power reaches the target, for a power that rises with alpha.

    0 where every alpha down to 1e-297 reaches it; NaN where none does.
    """
    every = np.arange(len(target))

    def reaches(which: Whole, step: NDArray[np.int64]) -> NDArray[np.bool_]:
        return np.asarray(power(which, _alpha_of(step)) >= target[which])

    # Steps of a thousandth: the last that reaches the target, and the first that does not.
    last, first = np.zeros(len(target), dtype=np.int64), np.ones(len(target), dtype=np.int64)
    there = reaches(every, last)
    small = every[there][reaches(every[there], first[there])]
    always = np.zeros(len(target), dtype=bool)
    last[small], first[small] = 1, _LEAST
    always[small] = reaches(small, first[small])
    active = small[~always[small]]
    while active.size:
        middle = (last[active] + first[active]) // 2
        met = reaches(active, middle)
        last[active], first[active] = np.where(met, middle, last[active]), np.where(met, first[active], middle)
        active = active[first[active] - last[active] > 1]
    found = _where_known(power, target, _alpha_of(first), _alpha_of(last), there & ~always)
    return np.where(always, 0.0, found)


_LEAST = 99  # the step of the smallest alpha that is looked at, 1e-297


def _alpha_of(step: NDArray[np.int64]) -> Reals:
    return np.where(step == 0, 1 - 1e-12, 10.0 ** (-3.0 * step))


def _where_known(power: PowerOfMany, target: Reals, fails: Reals, reaches: Reals, known: NDArray[np.bool_]) -> Reals:
    found, which = np.full(len(target), np.nan), np.flatnonzero(known)
    if which.size:

        def of_these(some: Whole, values: Reals) -> Reals:
            return power(which[some], values)

        found[which] = close_in(of_these, target[which], fails[which], reaches[which])
    return found


@dataclass
class _Ends:
    """The two ends of each range, and the end before; the last trial is the near one."""

    near: Reals
    far: Reals
    third: Reals
    over_near: Reals  # by how much power there is over the target
    over_far: Reals
    over_third: Reals

    def of(self, which: NDArray[np.bool_]) -> _Ends:
        return _Ends(*(column[which] for column in vars(self).values()))


def close_in(power: PowerOfMany, target: Reals, fails: Reals, reaches: Reals) -> Reals:
    """The end of each range that reaches the target once both ends agree to 1e-14.

    Chandrupatla's rule (Advances in Engineering Software 1997; 28: 145-149): inverse quadratic interpolation where the
    last three points bear it, halving where they do not. Only a value whose power is >= target is ever returned.
    """
    best, active = reaches.astype(float), np.arange(len(target))
    ends = _Ends(best.copy(), fails.astype(float), best.copy(), *(np.zeros(len(target)) for _ in range(3)))
    ends.over_near, ends.over_far = power(active, ends.near) - target, power(active, ends.far) - target
    share = np.full(len(target), 0.5)
    with np.errstate(all="ignore"):
        while active.size:
            trial = ends.near + share * (ends.far - ends.near)
            going = (trial != ends.near) & (trial != ends.far)
            if not going.all():
                ends, active, trial = ends.of(going), active[going], trial[going]
                if not active.size:
                    break
            ends = _after(ends, trial, power(active, trial) - target[active])
            best[active] = np.where(ends.over_near >= 0, ends.near, ends.far)
            least = _CLOSE * np.maximum(np.abs(ends.near), np.abs(ends.far)) / np.abs(ends.far - ends.near)
            going = least < 1
            if not going.all():
                ends, active, least = ends.of(going), active[going], least[going]
            share = np.minimum(np.maximum(_next_share(ends), least / 2), 1 - least / 2)
    return best


def _after(ends: _Ends, trial: Reals, over: Reals) -> _Ends:
    """The ends once a trial between them is known."""
    same = (over >= 0) == (ends.over_near >= 0)
    if same.all():
        return _Ends(trial, ends.far, ends.near, over, ends.over_far, ends.over_near)
    third, over_third = np.where(same, ends.near, ends.far), np.where(same, ends.over_near, ends.over_far)
    far, over_far = np.where(same, ends.far, ends.near), np.where(same, ends.over_far, ends.over_near)
    return _Ends(trial, far, third, over, over_far, over_third)


def _next_share(ends: _Ends) -> Reals:
    """How far from the near towards the far end to try next."""
    a, b, c = ends.near, ends.far, ends.third
    at_a, at_b, at_c = ends.over_near, ends.over_far, ends.over_third
    place, height = (a - b) / (c - b), (at_a - at_b) / (at_c - at_b)
    bears = (height**2 < place) & ((1 - height) ** 2 < 1 - place)
    found = at_a / (at_b - at_a) * at_c / (at_b - at_c)
    found += (c - a) / (b - a) * at_a / (at_c - at_a) * at_b / (at_c - at_b)
    return np.asarray(np.where(bears & np.isfinite(found), found, 0.5))
