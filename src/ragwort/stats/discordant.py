"""Exact power of McNemar's test: over how many pairs disagree, that of the binomial test of one half.

Source: Fleiss, Levin and Paik, *Statistical Methods for Rates and Proportions* (3rd ed., 2003), section 13.1.
"""

from __future__ import annotations

import math
from functools import lru_cache

from ragwort.base.lazily import np, special
from ragwort.base.patience import check
from ragwort.stats.binomial import BinomialTest
from ragwort.stats.noncentral import Array
from ragwort.stats.statistic import Sides

_REACH = 8.0  # SDs of the number of pairs that disagree, beyond which there is next to no chance
_BLOCK = 256
_SMALL = 2_000  # pairs that disagree
SEARCHED = 20_000  # pairs up to which sizes are searched


def exact_power(n: int, disagree: float, up: float, alpha: float, sides: Sides) -> float:
    """Power at n pairs, of which a share disagrees and a share `up` does so upwards."""
    check()
    if disagree <= 0:
        return 0.0
    disagree = min(disagree, 1.0)  # two shares that are 1 together can be a little more
    middle, spread = n * disagree, np.sqrt(n * disagree * (1 - disagree))
    low, high = max(0, int(middle - _REACH * spread) - 10), min(n, int(middle + _REACH * spread) + 10)
    m = np.arange(low, high + 1, dtype=float)
    logs = special.gammaln(n + 1.0) - special.gammaln(m + 1) - special.gammaln(n - m + 1)
    chance = np.exp(logs + special.xlogy(m, disagree) + special.xlog1py(n - m, -disagree))
    first = low // _BLOCK * _BLOCK if low > _SMALL else 0  # a search looks at all the small ones again and again
    power = _along(min(up / disagree, 1.0), alpha, sides, first, (high // _BLOCK + 1) * _BLOCK)
    return min(float(chance @ power[low - first : high + 1 - first]), 1.0)


@lru_cache(maxsize=256)
def _along(share: float, alpha: float, sides: Sides, first: int, last: int) -> Array:
    """Power of the binomial test at each number of pairs that disagree, 0 at none."""
    m = np.arange(max(first, 1), last + 1, dtype=float)
    found = np.asarray(BinomialTest(share, 0.5, m).power(alpha, sides), dtype=float)
    return found if first else np.concatenate([[0.0], found])


def correlations_text(p1: float, apart: float) -> str:
    """Which correlations two answers can have, the shares of yes being `p1` and `p1 + apart`: no cell below 0."""
    p2 = p1 + apart
    scale = math.sqrt(p1 * (1 - p1) * p2 * (1 - p2))
    if not scale:
        return "Where a proportion is 0 or 1, no correlation can be had: take one between."
    low, high = ((both - p1 * p2) / scale for both in (max(0.0, p1 + p2 - 1), min(p1, p2)))
    return f"With these proportions the correlation can be {low:.3f} to {high:.3f}.".replace("-", "−")
