"""The exact test of a Poisson count: which counts reject, and how often they come up.

Tails are regularised incomplete gamma functions: P(X >= c) = P(c, mean) (Johnson, Kemp and Kotz, *Univariate Discrete
Distributions*, 3rd ed., 2005, page 163, equation 4.20).
"""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.stats.counted import CountedTest, counts_as, first_rare
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Limits, Sides, upper_tail


def at_or_above(count: Number, mean: Number) -> Array:
    """P(X >= count), count from 0 to infinity; arrays broadcast."""
    inside = (count > 0) & np.isfinite(count)
    c = np.where(inside, count, 1.0)
    return np.where(inside, special.gammainc(c, mean), np.where(count <= 0, 1.0, 0.0))


def at_or_below(count: Number, mean: Number) -> Array:
    """P(X <= count), count from -1 up; arrays broadcast."""
    inside = count >= 0
    return np.where(inside, special.gammaincc(np.where(inside, count, 0.0) + 1, mean), 0.0)


_VAST = 1e14  # a mean beside which whole counts cannot be told apart any more, and need not be


def upper_limit(mean: Array, tail: Number) -> Array:
    """The smallest count c with P(X >= c) <= tail."""
    z = -special.ndtri(tail)
    near = np.minimum(mean, _VAST)
    guess = np.maximum(np.ceil(_guess(near, z)), 1.0)
    highest = guess
    while not np.all(rare := at_or_above(highest, near) <= counts_as(tail)):
        highest = np.where(rare, highest, 2 * highest + 8)
    found = first_rare(guess, lambda c: at_or_above(c, near) <= counts_as(tail), highest)
    return np.where(mean > _VAST, _guess(mean, z), found)


def lower_limit(mean: Array, tail: Number) -> Array:
    """The largest count c with P(X <= c) <= tail; -1 where no count is that rare."""
    z, near = special.ndtri(tail), np.minimum(mean, _VAST)
    top = np.ceil(near) + 1  # counted down from there, rare counts come last
    guess = np.clip(top - np.floor(_guess(near, z)), 1, top + 1)
    found = top - first_rare(guess, lambda k: at_or_below(top - k, near) <= counts_as(tail), top + 1)
    return np.where(mean > _VAST, _guess(mean, z), found)


def _guess(mean: Array, z: Number) -> Array:
    """A count near the limit: the normal quantile with a term for the skewness."""
    z = np.clip(z, -38.0, 38.0)
    return np.asarray(np.maximum(mean + z * np.sqrt(mean) + (z**2 - 1) / 6 + 0.5, 0.0))


@dataclass(frozen=True)
class PoissonTest(CountedTest):
    """The number of events, with mean `null_mean` without an effect and `mean` with one."""

    mean: Number
    null_mean: Number
    distribution: str = "events"

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the expected count."""
        return self.mean - self.null_mean

    @property
    @override
    def highest(self) -> Number:
        return np.finfo(float).max

    @override
    def counts(self, alpha: Number, sides: Sides) -> Limits:
        null = np.atleast_1d(np.asarray(self.null_mean, dtype=float))
        tail = upper_tail(alpha, sides)
        null, tail = np.broadcast_arrays(null, np.asarray(tail, dtype=float))
        upper = upper_limit(null, tail) if sides != "less" else np.full(null.shape, np.inf)
        lower = lower_limit(null, tail) if sides != "greater" else np.full(null.shape, -1.0)
        return lower, upper

    @override
    def beyond(self, lower: Number, upper: Number, effect: bool) -> Array:
        mean = self.mean if effect else self.null_mean
        return np.asarray(at_or_above(upper, mean) + at_or_below(lower, mean))

    @override
    def hills(self) -> tuple[tuple[float, float], tuple[float, float]]:
        null, own = ((float(mean), float(np.sqrt(mean))) for mean in (self.null_mean, self.mean))
        return null, own

    def null_density(self, x: Array) -> Array:
        """The probability of the whole number nearest to x, as a bar of width 1."""
        return _bar(x, self.null_mean)

    def effect_density(self, x: Array) -> Array:
        """See `null_density`, under the planned effect."""
        return _bar(x, self.mean)


def _bar(x: Array, mean: Number) -> Array:
    count = np.floor(np.asarray(x) + 0.5)
    k = np.maximum(count, 0.0)
    return np.where(count >= 0, np.exp(special.xlogy(k, mean) - mean - special.gammaln(k + 1)), 0.0)


def least_and_most(
    first: tuple[Array, Array], last: tuple[Array, Array], alpha: float, sides: Sides
) -> tuple[Array, Array]:
    """Bounds of the power over all sizes between two, each with its mean and its mean without an effect.

    As the size grows, the limits never fall, and the count never falls in chance. So, over the run, P(X at first >=
    limit at last) <= P(X >= limit) <= P(X at last >= limit at first), and the other way round below.
    """
    begin, end = PoissonTest(*first), PoissonTest(*last)
    (below1, above1), (below2, above2) = begin.counts(alpha, sides), end.counts(alpha, sides)
    least = at_or_above(above2, first[0]) + at_or_below(below1, last[0])
    return least, at_or_above(above1, last[0]) + at_or_below(below2, first[0])
