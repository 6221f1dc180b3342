"""The confidence interval that a study is expected to end with, at its sizes and planning values.

Its level is that of the test: 1 - alpha for a two-sided one, 1 - 2 alpha for one-sided ones, so that test and interval
agree. What is observed differs from what is planned, and the interval with it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from ragwort.base.lazily import np, special
from ragwort.designs.sizes import Sizes
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Test, TTest

Scale = Literal["measured", "points", "ratio", "number"]  # in the outcome's unit; of shares; of logarithms; bare


@dataclass(frozen=True)
class Interval:
    """The limits expected around the planned estimate; arrays where plans or sizes are."""

    of: str  # what is estimated: `difference`, `hazard ratio`
    scale: Scale
    low: Number
    high: Number
    level: Number

    @property
    def half_width(self) -> Number:
        """Half of the way from limit to limit."""
        return (self.high - self.low) / 2


@dataclass(frozen=True)
class Confidence:
    """How far an interval reaches: the tail that each of its limits leaves."""

    tail: Number

    @property
    def level(self) -> Number:
        """The share of intervals that hold the truth."""
        return 1 - 2 * self.tail

    @property
    def z(self) -> Number:
        """Standard errors to either side, where these are known."""
        return -special.ndtri(self.tail)

    def t(self, df: Number) -> Number:
        """The same where they are estimated."""
        return -special.stdtrit(df, self.tail)

    def around(self, of: str, scale: Scale, estimate: Number, reach: Number) -> Interval:
        """Limits equally far to either side."""
        return Interval(of, scale, estimate - reach, estimate + reach, self.level)

    def through(self, of: str, scale: Scale, back: Callable[[Any], Any], estimate: Number, error: Number) -> Interval:
        """Limits on a scale on which the estimate is normal, taken back from it: `exp`, `tanh`."""
        reach = self.z * error
        return Interval(of, scale, back(estimate - reach), back(estimate + reach), self.level)

    def tested(self, of: str, scale: Scale, estimate: Number, test: Test) -> Interval:
        """Limits by a t or z test, given for an effect of 1: then its noncentrality is one over the standard error."""
        error = 1 / np.asarray(test.noncentrality)
        reach = (self.t(test.df) if isinstance(test, TTest) else self.z) * error
        return self.around(of, scale, estimate, reach)

    def wilson(self, share: Number, n: Number) -> tuple[Array, Array]:
        """The score interval of a share: Wilson, Journal of the American Statistical Association 22 (1927), 209-212."""
        z = self.z
        middle, reach = share + z**2 / (2 * n), z * np.sqrt(share * (1 - share) / n + z**2 / (4 * n**2))
        return np.asarray((middle - reach) / (1 + z**2 / n)), np.asarray((middle + reach) / (1 + z**2 / n))

    def newcombe(self, shares: tuple[Number, Number], groups: Sizes) -> Interval:
        """Of a difference of two shares: Newcombe, Statistics in Medicine 17 (1998), pages 873-890, method 10."""
        (p1, p2), (n1, n2) = shares, groups
        (low1, high1), (low2, high2) = self.wilson(p1, n1), self.wilson(p2, n2)
        below = np.sqrt((p2 - low2) ** 2 + (high1 - p1) ** 2)
        above = np.sqrt((high2 - p2) ** 2 + (p1 - low1) ** 2)
        return Interval("difference", "points", p2 - p1 - below, p2 - p1 + above, self.level)
