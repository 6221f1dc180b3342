"""Tests of variances: a statistic that an effect multiplies, not shifts.

Without an effect the statistic is chi-square or F; with one it is `ratio` times that. Sources: Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 1 (2nd ed., 1994), chapter 18, and 2 (1995), chapter 27; Armitage,
Berry and Matthews, *Statistical Methods in Medical Research* (4th ed., 2002), sections 5.1 and 5.2.
"""

from __future__ import annotations

from dataclasses import dataclass

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Limits, Sides, upper_tail

Hills = tuple[tuple[float, float], tuple[float, float]]  # centre and SD without an effect, and with one


class _Multiplied:
    """A statistic that the ratio of two variances multiplies; to two sides each tail has half of alpha."""

    ratio: Number

    def _below(self, x: Number) -> Number:
        raise NotImplementedError

    def _above(self, x: Number) -> Number:
        raise NotImplementedError

    def _at(self, tail: Number, upper: bool) -> Number:
        """The value with this chance beyond it, above or below."""
        raise NotImplementedError

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`."""
        tail = upper_tail(alpha, sides)
        lower = None if sides == "greater" else self._at(tail, upper=False)
        return lower, None if sides == "less" else self._at(tail, upper=True)

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`: always positive; the upper one of two."""
        lower, upper = self.limits(alpha, sides)
        return lower if upper is None else upper

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`."""
        lower, upper = self.limits(alpha, sides)
        below = 0.0 if lower is None else self._below(lower / self.ratio)
        return below + (0.0 if upper is None else self._above(upper / self.ratio))

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """See `Test.reported`: both critical values of a test to two sides."""
        lower, upper = self.limits(alpha, sides)
        if lower is not None and upper is not None:
            return {"critical_lower": lower, "critical_upper": upper, "actual_alpha": float(alpha)}
        return {"critical_value": lower if upper is None else upper, "actual_alpha": float(alpha)}

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return np.asarray(self.null_density(x / self.ratio) / self.ratio)

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        raise NotImplementedError


@dataclass(frozen=True)
class OneVarianceTest(_Multiplied):
    """The sum of squares over the reference variance: chi-square(df) without an effect."""

    ratio: Number
    df: Number
    distribution: str = "chi-square"

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the mean of the statistic."""
        return self.df * (self.ratio - 1)

    def hills(self) -> Hills:
        """Where the statistic lies without an effect, and with it."""
        df, ratio, spread = float(self.df), float(self.ratio), float(np.sqrt(2 * self.df))
        return (df, spread), (df * ratio, spread * ratio)

    def _below(self, x: Number) -> Number:
        return special.gammainc(self.df / 2, x / 2)

    def _above(self, x: Number) -> Number:
        return special.gammaincc(self.df / 2, x / 2)

    def _at(self, tail: Number, upper: bool) -> Number:
        return 2 * (special.gammainccinv if upper else special.gammaincinv)(self.df / 2, tail)

    @override
    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        return {"df": self.df, **super().reported(alpha, sides)}

    @override
    def null_density(self, x: Array) -> Array:
        half = self.df / 2
        with np.errstate(divide="ignore"):
            logs = special.xlogy(half - 1, x / 2) - x / 2 - special.gammaln(half) - np.log(2)
        return np.where(x >= 0, np.exp(logs), 0.0)


@dataclass(frozen=True)
class TwoVariancesTest(_Multiplied):
    """The second variance over the first: F(df1, df2) without an effect."""

    ratio: Number
    df1: Number
    df2: Number
    distribution: str = "F"

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the statistic, about."""
        return self.ratio - 1

    def hills(self) -> Hills:
        """Where the statistic lies without an effect, and with it."""
        ratio, spread = float(self.ratio), float(np.sqrt(2 / self.df1 + 2 / self.df2))
        return (1.0, spread), (ratio, spread * ratio)

    def _below(self, x: Number) -> Number:
        return special.fdtr(self.df1, self.df2, x)

    def _above(self, x: Number) -> Number:
        return special.fdtrc(self.df1, self.df2, x)

    def _at(self, tail: Number, upper: bool) -> Number:
        """From the beta quantile, which keeps its digits for a small alpha."""
        first, second = (self.df2, self.df1) if upper else (self.df1, self.df2)
        share = special.betaincinv(first / 2, second / 2, tail)
        beyond = first * (1 - share) / (second * share)
        return beyond if upper else 1 / beyond

    @override
    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        return {"df1": self.df1, "df2": self.df2, **super().reported(alpha, sides)}

    @override
    def null_density(self, x: Array) -> Array:
        m, n = self.df1 / 2, self.df2 / 2
        with np.errstate(divide="ignore", invalid="ignore"):
            share = self.df1 * x / (self.df1 * x + self.df2)
            logs = special.xlogy(m, share) + special.xlog1py(n, -share) - np.log(x) - special.betaln(m, n)
        return np.where(x > 0, np.exp(logs), 0.0)
