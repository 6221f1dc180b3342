"""What a test statistic does when there is no effect, and when there is one.

Each class describes one family (normal, t, F, chi-square) at the sizes of a planned study. Parameters are
floats or arrays that broadcast together; every method returns arrays (or floats) of the broadcast shape.

Sources: Johnson, Kotz and Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapters 29
(noncentral chi-square), 30 (noncentral F) and 31 (noncentral t); Cohen, *Statistical Power Analysis for the
Behavioral Sciences* (2nd ed., 1988), chapters 2 and 8.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import nan
from typing import Any, Literal, Protocol

from typing_extensions import override

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number, chi_square_below, f_above, t_above

Sides = Literal["two", "greater", "less"]
Limits = tuple[Number, Number]  # reject at or below, reject at or above; None where that side does not reject


class Test(Protocol):
    """A test statistic under the null hypothesis and under the planned effect."""

    @property
    def distribution(self) -> str:
        """`t`, `z`, `F` or `chi-square`."""

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the statistic."""

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """The limit of the rejection region; negative for `less`, positive otherwise."""

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """The rejection region: at or below the first, at or above the second; None where that side does not reject."""

    def power(self, alpha: Number, sides: Sides) -> Number:
        """The chance of a value in the rejection region when the planned effect is real."""

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """What an answer says of it: degrees of freedom, noncentrality, critical value, actual alpha."""

    def null_density(self, x: Array) -> Array:
        """The density of the statistic at `x` when there is no effect."""

    def effect_density(self, x: Array) -> Array:
        """The density of the statistic at `x` when the planned effect is real."""


def upper_tail(alpha: Number, sides: Sides) -> Number:
    """The probability beyond the upper limit of a test: half of alpha when both tails are used."""
    return alpha / 2 if sides == "two" else alpha


class _Symmetric:
    """A statistic that is symmetric around zero without an effect."""

    noncentrality: Number

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
        raise NotImplementedError

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`."""
        limit = self.critical_value(alpha, sides)
        return {"two": (-limit, limit), "greater": (None, limit), "less": (limit, None)}[sides]

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """See `Test.reported`."""
        limit = self.critical_value(alpha, sides)
        return {"noncentrality": self.noncentrality, "critical_value": limit, "actual_alpha": float(alpha)}


class _Upper:
    """Limits of a statistic that speaks against the null hypothesis only when it is large."""

    def critical_value(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.critical_value`."""
        raise NotImplementedError

    def limits(self, alpha: Number, sides: Sides = "greater") -> Limits:
        """See `Test.limits`."""
        return None, self.critical_value(alpha)


@dataclass(frozen=True)
class NormalTest(_Symmetric):
    """A statistic that is standard normal without an effect, and normal(noncentrality, spread) with one."""

    noncentrality: Number
    spread: Number = 1.0
    distribution: str = "z"
    mean: Number = nan  # of a test with two variances: the estimate under the planned effect
    null_variance: Number = nan  # and the variance of the estimate without an effect

    @property
    def own_variance(self) -> Number:
        """The variance of the estimate under the planned effect, where the null variance is told."""
        return self.spread**2 * self.null_variance

    @override
    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        limit = -special.ndtri(upper_tail(alpha, sides))
        return -limit if sides == "less" else limit

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`."""
        limit = -special.ndtri(upper_tail(alpha, sides))
        above = special.ndtr((self.noncentrality - limit) / self.spread)
        below = special.ndtr((-self.noncentrality - limit) / self.spread)
        return _by_side(above, below, sides)

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return np.asarray(np.exp(-(x**2) / 2) / np.sqrt(2 * np.pi))

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        scaled = (x - self.noncentrality) / self.spread
        return np.asarray(np.exp(-(scaled**2) / 2) / (np.sqrt(2 * np.pi) * self.spread))


def _squared(x: Array) -> Array:
    """Squares that are numbers, also of what has none."""
    return np.asarray(np.minimum(np.abs(x), 1e150) ** 2)


_VERY_FAR, _MANY_DF = 200.0, 300.0  # of a noncentrality; see `TTest.effect_density`


@dataclass(frozen=True)
class TTest(_Symmetric):
    """A statistic that is t(df) without an effect and noncentral t(df, noncentrality) with one."""

    noncentrality: Number
    df: Number
    distribution: str = "t"

    @override
    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        limit = -special.stdtrit(self.df, upper_tail(alpha, sides))
        return -limit if sides == "less" else limit

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`."""
        limit = -special.stdtrit(self.df, upper_tail(alpha, sides))
        if sides == "greater":
            return t_above(limit, self.df, self.noncentrality)
        if sides == "less":
            return t_above(limit, self.df, -self.noncentrality)
        size = abs(self.noncentrality)
        return t_above(limit, self.df, size) + t_above(limit, self.df, -size)

    @override
    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        return {"df": self.df, **super().reported(alpha, sides)}

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        df = self.df
        constant = special.gammaln((df + 1) / 2) - special.gammaln(df / 2) - 0.5 * np.log(df * np.pi)
        return np.asarray(np.exp(constant - (df + 1) / 2 * np.log1p(_squared(x) / df)))

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`; the exact slope of the distribution function by a recurrence in df.

        Johnson, Kotz and Balakrishnan 2, equation 31.17: f(x) = (v/x)(F(x*sqrt(1 + 2/v); v + 2) - F(x; v)),
        replaced by its limit near zero. Where SciPy takes long or has no value (noncentralities above 200): with few
        df the density of delta / S, where S is the estimated SD by itself; with many the slope of the normal
        approximation, equation 31.26 there, (x(1 - 1/(4v)) - delta) / sqrt(1 + x^2/(2v)).
        """
        df, delta = self.df, self.noncentrality
        if np.min(np.abs(delta)) > _VERY_FAR:
            return self._normal_density(x) if np.min(df) > _MANY_DF else self._far_density(x)
        safe = np.where(np.abs(x) < 1e-3, 1e-3, x)
        shifted = special.nctdtr(df + 2, delta, safe * np.sqrt(1 + 2 / df))
        return np.asarray(np.maximum(df / safe * (shifted - special.nctdtr(df, delta, safe)), 0))

    def _far_density(self, x: Array) -> Array:
        ratio = np.where(x * self.noncentrality > 0, self.noncentrality / np.where(x == 0, 1.0, x), 0.0)
        half, ratio = self.df / 2, np.minimum(ratio, 1e150)
        log_s = (self.df - 1) * np.log(np.maximum(ratio, 1e-300)) - half * ratio**2
        density = 2 * np.exp(half * np.log(half) - special.gammaln(half) + log_s)
        return np.where(ratio > 0, density * ratio**2 / np.abs(self.noncentrality), 0.0)

    def _normal_density(self, x: Array) -> Array:
        shrunk, wide = 1 - 1 / (4 * self.df), 1 + _squared(x) / (2 * self.df)
        score = (x * shrunk - self.noncentrality) / np.sqrt(wide)
        slope = shrunk / np.sqrt(wide) - score * x / (2 * self.df * wide)
        return np.asarray(np.exp(-(score**2) / 2) / np.sqrt(2 * np.pi) * slope)


@dataclass(frozen=True)
class TwoVariancesTTest(TTest):
    """A t statistic whose standard error differs without and with an effect.

    `noncentrality` is the effect in standard errors of the planned effect; `spread` says how much larger these are than
    those without an effect, on whose scale the statistic is.
    """

    spread: Number = 1.0
    mean: Number = nan  # the estimate under the planned effect
    null_variance: Number = nan  # the variance of the estimate without an effect

    @property
    def own_variance(self) -> Number:
        """The variance of the estimate under the planned effect."""
        return self.spread**2 * self.null_variance

    @override
    def power(self, alpha: Number, sides: Sides) -> Number:
        limit = -special.stdtrit(self.df, upper_tail(alpha, sides)) / self.spread
        above = t_above(limit, self.df, self.noncentrality) if sides != "less" else 0.0
        below = t_above(limit, self.df, -self.noncentrality) if sides != "greater" else 0.0
        return above + below

    @override
    def effect_density(self, x: Array) -> Array:
        return np.asarray(super().effect_density(x / self.spread) / self.spread)


@dataclass(frozen=True)
class FTest(_Upper):
    """A statistic that is F(df1, df2) without an effect and noncentral F with one; has no sides."""

    noncentrality: Number
    df1: Number
    df2: Number
    distribution: str = "F"

    @override
    def critical_value(self, alpha: Number, sides: Sides = "greater") -> Number:
        """From the beta quantile, which keeps its digits for a small alpha."""
        share = special.betaincinv(self.df2 / 2, self.df1 / 2, alpha)
        return self.df2 * (1 - share) / (self.df1 * share)

    def power(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.power`."""
        return f_above(self.critical_value(alpha), self.df1, self.df2, self.noncentrality)

    def reported(self, alpha: Number, sides: Sides = "greater") -> dict[str, Number]:
        """See `Test.reported`."""
        limit = self.critical_value(alpha)
        return {"df1": self.df1, "df2": self.df2, "noncentrality": self.noncentrality, "critical_value": limit}

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return self._density(x, 0.0)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return self._density(x, self.noncentrality)

    def _density(self, x: Array, noncentrality: Number) -> Array:
        if float(noncentrality) > _VAST:
            centre = (self.df1 + noncentrality) / self.df1
            with np.errstate(divide="ignore"):
                return slope(lambda at: special.chdtrc(self.df2, self.df2 * centre / at), x)
        return slope(lambda at: special.ncfdtr(self.df1, self.df2, noncentrality, at), x)


@dataclass(frozen=True)
class ChiSquareTest(_Upper):
    """A statistic that is chi-square(df) without an effect and noncentral with one; has no sides."""

    noncentrality: Number
    df: Number
    distribution: str = "chi-square"

    @override
    def critical_value(self, alpha: Number, sides: Sides = "greater") -> Number:
        return special.chdtri(self.df, alpha)

    def power(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.power`."""
        return 1 - chi_square_below(self.critical_value(alpha), self.df, self.noncentrality)

    def reported(self, alpha: Number, sides: Sides = "greater") -> dict[str, Number]:
        """See `Test.reported`."""
        limit = self.critical_value(alpha)
        shown = {"noncentrality": self.noncentrality, "critical_value": limit, "actual_alpha": float(alpha)}
        return {"df": self.df, **shown}

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return slope(lambda at: special.chndtr(at, self.df, 0.0), x)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return slope(lambda at: chi_square_below(at, self.df, self.noncentrality), x)


def _by_side(above: Number, below: Number, sides: Sides) -> Number:
    if sides == "two":
        return above + below
    return above if sides == "greater" else below


_VAST = 1e8  # a noncentrality beside which the numerator of F does not vary as far as can be drawn; the series is slow


def slope(cdf: Any, x: Array) -> Array:
    """The density as the central slope of a distribution function; for drawing, not for power."""
    step = np.maximum(np.abs(x), 1e-3) * 1e-4
    low = np.maximum(x - step, 0.0)
    return np.asarray((cdf(x + step) - cdf(low)) / (x + step - low))
