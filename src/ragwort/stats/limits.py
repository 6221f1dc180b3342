"""Confidence limits of proportions, at sizes that need not be whole; all arrays broadcast.

Wilson, J Am Stat Assoc 22 (1927), 209-212; Clopper and Pearson, Biometrika 26 (1934), 404-413; Newcombe, Stat Med 17
(1998), 873-890 (method 10 for a difference).
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number

if TYPE_CHECKING:
    pass

Limits = tuple[Array, Array]


def wald(share: Number, size: Number, tail: Number) -> Limits:
    """A share more or less so many of its standard errors; may leave 0 to 1."""
    reach = -special.ndtri(tail) * np.sqrt(share * (1 - share) / size)
    return np.asarray(share - reach), np.asarray(share + reach)


def wilson(share: Number, size: Number, tail: Number) -> Limits:
    """The shares that the score test does not reject."""
    z = -special.ndtri(tail)
    over = z**2 / size
    middle = share + over / 2
    reach = z * np.sqrt(share * (1 - share) / size + z**2 / (4 * size**2))
    low, high = (middle - reach) / (1 + over), (middle + reach) / (1 + over)
    return np.where(share <= 0, 0.0, low), np.where(share >= 1, 1.0, high)


def exact(share: Number, size: Number, tail: Number) -> Limits:
    """The shares that neither one-sided binomial test rejects, by beta quantiles; `share` times `size` may be real."""
    share, size = np.broadcast_arrays(np.asarray(share, dtype=float), np.asarray(size, dtype=float))
    yes = share * size
    with np.errstate(invalid="ignore"):
        low = np.where(yes <= 0, 0.0, special.betaincinv(np.maximum(yes, 1e-300), size - yes + 1, tail))
        high = np.where(yes >= size, 1.0, special.betainccinv(yes + 1, np.maximum(size - yes, 1e-300), tail))
    return np.where(np.isinf(size), share, low), np.where(np.isinf(size), share, high)


BY_METHOD = {"wilson": wilson, "exact": exact, "wald": wald}


def newcombe(shares: tuple[Number, Number], sizes: tuple[Number, Number], tail: Number) -> Limits:
    """Of the second share less the first: Wilson's limits of both, put together."""
    (p1, p2), (n1, n2) = shares, sizes
    (low1, high1), (low2, high2) = wilson(p1, n1, tail), wilson(p2, n2, tail)
    below = np.sqrt((p2 - low2) ** 2 + (high1 - p1) ** 2)
    above = np.sqrt((high2 - p2) ** 2 + (p1 - low1) ** 2)
    return np.asarray(p2 - p1 - below), np.asarray(p2 - p1 + above)


def wald_difference(shares: tuple[Number, Number], sizes: tuple[Number, Number], tail: Number) -> Limits:
    """Of the second share less the first, with its own standard error."""
    (p1, p2), (n1, n2) = shares, sizes
    reach = -special.ndtri(tail) * np.sqrt(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2)
    return np.asarray(p2 - p1 - reach), np.asarray(p2 - p1 + reach)
