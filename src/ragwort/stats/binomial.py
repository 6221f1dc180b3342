"""The exact binomial test: which counts reject, and how often they come up.

Sizes `n` are arrays of whole numbers held as floats. Tails are regularised incomplete beta functions: P(X >= c) =
I_p(c, n - c + 1) (Johnson, Kemp and Kotz, *Univariate Discrete Distributions*, 3rd ed., 2005, page 117,
equation 3.32).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.stats.counted import CountedTest, counts_as, first_rare
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Limits, Sides, upper_tail

_KEPT = 50_000  # up to this size limits are remembered


def at_or_above(count: Number, n: Number, p: Number) -> Array:
    """P(X >= count) for X ~ Bin(n, p), count 0..n+1; arrays broadcast."""
    inside = (count > 0) & (count <= n)
    c = np.where(inside, count, 1.0)
    return np.where(inside, special.betainc(c, np.maximum(n - c + 1, 1.0), p), np.where(count <= 0, 1.0, 0.0))


def at_or_below(count: Number, n: Number, p: Number) -> Array:
    """P(X <= count) for X ~ Bin(n, p), count -1..n; arrays broadcast."""
    inside = (count >= 0) & (count < n)
    c = np.where(inside, count, 0.0)
    return np.where(inside, special.betaincc(c + 1, np.maximum(n - c, 1.0), p), np.where(count < 0, 0.0, 1.0))


class _Limits:
    """The limits of one tail by sample size, each worked out once: a search asks for many of them again and again."""

    def __init__(self, limit: Callable[[Array], Array]) -> None:
        self._limit = limit
        self._known = np.full(256, np.nan)

    def at(self, n: Array) -> Array:
        """The limits at these sizes."""
        largest = int(n.max(initial=0.0))
        if largest > _KEPT:
            return self._limit(n)
        known, at = self._as_long_as(largest), n.astype(np.int64)
        missing = at[np.isnan(known[at])]
        if missing.size:
            missing = np.unique(missing)
            known[missing] = self._limit(missing.astype(float))
        return np.asarray(known[at])

    def _as_long_as(self, largest: int) -> Array:
        """What is known, with a place for each size; another thread may put a longer one in its place meanwhile."""
        known = self._known
        if largest >= len(known):
            known = np.concatenate([known, np.full(2 * largest - len(known) + 1, np.nan)])
            self._known = known
        return known


@lru_cache(maxsize=128)
def _limits(p0: float, tail: float, upper: bool) -> _Limits:
    return _Limits(lambda n: (upper_limit if upper else lower_limit)(n, p0, tail))


def _limit(n: Array, p0: Number, tail: Number, upper: bool) -> Array:
    """As `upper_limit` and `lower_limit` have it, remembered where there is one null and one alpha."""
    if np.ndim(p0) or np.ndim(tail):
        return (upper_limit if upper else lower_limit)(n, p0, tail)
    return _limits(float(p0), float(tail), upper).at(n)


def upper_limit(n: Array, p0: float, tail: Number) -> Array:
    """The smallest count c with P(X >= c | p0) <= tail; n + 1 where no count is that rare."""
    return first_rare(_guess(n, p0, tail), lambda c: at_or_above(c, n, p0) <= counts_as(tail), n + 1)


def lower_limit(n: Array, p0: float, tail: Number) -> Array:
    """The largest count c with P(X <= c | p0) <= tail; -1 where no count is that rare."""
    return np.asarray(
        n - first_rare(_guess(n, 1 - p0, tail), lambda c: at_or_below(n - c, n, p0) <= counts_as(tail), n + 1)
    )


def _guess(n: Array, p0: float, tail: Number) -> Array:
    """A count near the limit: the normal quantile with a term for the skewness."""
    z = np.minimum(-special.ndtri(tail), 38.0)  # beyond, as for a tail of 0, nothing is told apart
    count = n * p0 + z * np.sqrt(n * p0 * (1 - p0)) + 0.5 + (z**2 - 1) * (1 - 2 * p0) / 6
    return np.asarray(np.clip(np.ceil(count), 1, n + 1))


@dataclass(frozen=True)
class BinomialTest(CountedTest):
    """The number of successes in samples of `n`, with probability `null_p` without an effect and `p` with one."""

    p: Number
    null_p: float
    n: Number
    distribution: str = "count"

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the expected count."""
        return self.n * (self.p - self.null_p)

    @override
    def counts(self, alpha: Number, sides: Sides) -> Limits:
        n = np.asarray(self.n, dtype=float)
        tail = upper_tail(alpha, sides)
        upper = _limit(n, self.null_p, tail, upper=True) if sides != "less" else n + 1
        lower = _limit(n, self.null_p, tail, upper=False) if sides != "greater" else np.full_like(n, -1.0)
        return lower, upper

    @property
    @override
    def highest(self) -> Number:
        return self.n

    @override
    def beyond(self, lower: Number, upper: Number, effect: bool) -> Array:
        n, p = np.asarray(self.n, dtype=float), self.p if effect else self.null_p
        return at_or_above(upper, n, p) + at_or_below(lower, n, p)

    @override
    def hills(self) -> tuple[tuple[float, float], tuple[float, float]]:
        n, both = float(self.n), (float(self.null_p), float(self.p))
        null, own = ((n * p, float(np.sqrt(n * p * (1 - p)))) for p in both)
        return null, own

    def null_density(self, x: Array) -> Array:
        """The probability of the whole number nearest to x, as a bar of width 1."""
        return self._bar(x, self.null_p)

    def effect_density(self, x: Array) -> Array:
        """See `null_density`, under the planned effect."""
        return self._bar(x, self.p)

    def _bar(self, x: Array, p: Number) -> Array:
        count, n = np.floor(np.asarray(x) + 0.5), float(self.n)
        inside = (count >= 0) & (count <= n)
        k = np.where(inside, count, 0.0)
        choose = special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1)
        return np.where(inside, np.exp(choose + special.xlogy(k, p) + special.xlog1py(n - k, -p)), 0.0)


def least_and_most(first: Array, last: Array, p: float, p0: float, alpha: float, sides: Sides) -> tuple[Array, Array]:
    """Bounds of the power of the exact test over all sizes from `first` to `last`.

    As n grows by one, each rejection limit stays or grows by one, and X grows by none or one. So, over the run,
    P(X at first >= limit at last) <= P(X >= limit) <= P(X at last >= limit at first), and the other way round below.
    """
    begin, end = BinomialTest(p, p0, first), BinomialTest(p, p0, last)
    (below1, above1), (below2, above2) = begin.counts(alpha, sides), end.counts(alpha, sides)
    least = at_or_above(above2, first, p) + at_or_below(below1, last, p)
    most = at_or_above(np.minimum(above1, last + 1), last, p) + at_or_below(np.minimum(below2, first), first, p)
    return least, most
