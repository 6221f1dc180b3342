"""The precision of one coefficient of a logistic regression, from the information under the planned effect.

Source: Demidenko, Statistics in Medicine 26 (2007), pages 3385-3397, equations 4 to 9.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number

_REACH = 10.0  # SDs of the predictor over which is integrated
_STEEPEST = 50.0  # log odds ratios that are looked at
_GOLDEN = (math.sqrt(5) - 1) / 2


def variance_normal(log_odds_ratio: Number, probability: Number) -> Array:
    """n times the variance of the coefficient of a standard normal predictor; `probability` is that at its mean.

    The information is integrated by the trapezoid rule, whose error falls faster than any power of the step for a
    function as smooth as this: with a step of 0.7 / |slope| it is under 1e-11.
    """
    slope = np.asarray(log_odds_ratio, dtype=float)
    steepest = float(np.max(np.abs(slope), initial=0.0))
    step = min(0.1, 0.7 / max(steepest, 1e-9))
    x = np.arange(-math.ceil(_REACH / step), math.ceil(_REACH / step) + 1) * step
    chance = special.expit(special.logit(np.asarray(probability, dtype=float))[..., None] + slope[..., None] * x)
    weight = chance * (1 - chance) * np.exp(-(x**2) / 2) * (step / math.sqrt(2 * math.pi))
    none, one, two = (weight @ power for power in (np.ones_like(x), x, x**2))
    return np.asarray(none / (none * two - one**2))


def variance_binary(log_odds_ratio: Number, probability1: Number, share: Number) -> Array:
    """n times the variance of the coefficient of a yes-or-no predictor; `share` of the people have it."""
    without = probability1 * (1 - probability1)
    planned = special.expit(special.logit(probability1) + np.asarray(log_odds_ratio, dtype=float))
    return np.asarray(1 / ((1 - share) * without) + 1 / (share * planned * (1 - planned)))


def furthest(variance: Callable[[Number], Array], up: bool) -> float:
    """The log odds ratio at which the test has most power: beyond it the estimate scatters faster than it grows."""
    sign = 1.0 if up else -1.0

    def reach(size: float) -> float:
        return size / math.sqrt(float(variance(sign * size)))

    sizes = np.geomspace(1e-3, _STEEPEST, 60)
    best = int(np.argmax([reach(float(size)) for size in sizes]))
    low, high = float(sizes[max(best - 1, 0)]), float(sizes[min(best + 1, len(sizes) - 1)])
    while high - low > 1e-10 * high:
        one, other = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
        low, high = (low, other) if reach(one) >= reach(other) else (one, high)
    return sign * (low + high) / 2
