"""What a test statistic does when there is no effect, and when there is one.

Each class describes one family (normal, t, F, chi-square) at the sizes of a planned study. Parameters are
floats or arrays that broadcast together; every method returns arrays (or floats) of the broadcast shape.

Sources: Johnson, Kotz and Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapters 29
(noncentral chi-square), 30 (noncentral F) and 31 (noncentral t); Cohen, *Statistical Power Analysis for the
Behavioral Sciences* (2nd ed., 1988), chapters 2 and 8.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from ragwort.stats.lazily import special

Sides = Literal["two", "greater", "less"]
Array = NDArray[np.float64]
Number = Any  # a float or an array of floats: NumPy broadcasts either


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

    def null_density(self, x: Array) -> Array:
        """The density of the statistic at `x` when there is no effect."""

    def effect_density(self, x: Array) -> Array:
        """The density of the statistic at `x` when the planned effect is real."""


def upper_tail(alpha: Number, sides: Sides) -> Number:
    """The probability beyond the upper limit of a test: half of alpha when both tails are used."""
    return alpha / 2 if sides == "two" else alpha


class _Symmetric:
    """Limits of a statistic that is symmetric around zero without an effect."""

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
        raise NotImplementedError

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`."""
        limit = self.critical_value(alpha, sides)
        return {"two": (-limit, limit), "greater": (None, limit), "less": (limit, None)}[sides]


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

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
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

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
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
class FTest(_Upper):
    """A statistic that is F(df1, df2) without an effect and noncentral F with one; has no sides."""

    noncentrality: Number
    df1: Number
    df2: Number
    distribution: str = "F"

    def critical_value(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.critical_value`; from the beta quantile, which keeps its digits for a small alpha."""
        share = special.betaincinv(self.df2 / 2, self.df1 / 2, alpha)
        return self.df2 * (1 - share) / (self.df1 * share)

    def power(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.power`."""
        return f_above(self.critical_value(alpha), self.df1, self.df2, self.noncentrality)

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return self._density(x, 0.0)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return self._density(x, self.noncentrality)

    def _density(self, x: Array, noncentrality: Number) -> Array:
        return _slope(lambda at: special.ncfdtr(self.df1, self.df2, noncentrality, at), x)


@dataclass(frozen=True)
class ChiSquareTest(_Upper):
    """A statistic that is chi-square(df) without an effect and noncentral with one; has no sides."""

    noncentrality: Number
    df: Number
    distribution: str = "chi-square"

    def critical_value(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.critical_value`."""
        return special.chdtri(self.df, alpha)

    def power(self, alpha: Number, sides: Sides = "greater") -> Number:
        """See `Test.power`."""
        return 1 - _chi_square_below(self.critical_value(alpha), self.df, self.noncentrality)

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return _slope(lambda at: special.chndtr(at, self.df, 0.0), x)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return _slope(lambda at: _chi_square_below(at, self.df, self.noncentrality), x)


def _chi_square_below(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(X' <= limit). SciPy's noncentral chi-square is off by 2e-4 where the noncentrality is a denormal number."""
    return special.chndtr(limit, df, np.where(np.asarray(noncentrality) < _TINY, 0.0, noncentrality))


_TINY = 1e-300


def _by_side(above: Number, below: Number, sides: Sides) -> Number:
    if sides == "two":
        return above + below
    return above if sides == "greater" else below


# Below minus this noncentrality the tail above zero is under 5e-11, since the normal tail bounds it.
_FAR = 6.5
_LARGE = 30.0


def t_above(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(T' > limit) within 1e-9 at any noncentrality; below zero by the mirror image."""
    negative = np.asarray(limit) < 0
    if not negative.any():
        return _t_above_positive(limit, df, noncentrality)
    above = _t_above_positive(abs(limit), df, np.where(negative, -noncentrality, noncentrality))
    return np.where(negative, 1 - above, above)


def _t_above_positive(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(T' > limit) for limit >= 0.

    SciPy's noncentral t is slow at large noncentralities, has too few digits at very large ones, and gives no number
    at some; those are integrated.
    """
    near = 1 - special.nctdtr(df, np.minimum(np.maximum(noncentrality, -_FAR), _LARGE), limit)
    above: Array = np.where(noncentrality < -_FAR, 0.0, near)
    missing = np.isnan(above) | (noncentrality > _LARGE)
    if missing.any():
        limits, dfs, shifts = (np.broadcast_to(v, above.shape)[missing] for v in (limit, df, noncentrality))
        above[missing] = t_above_by_quadrature(limits, dfs, shifts)
    return above


def t_above_by_quadrature(limit: Array, df: Array, noncentrality: Array) -> Array:
    """P(T' > limit) for 1-d arrays, limit > 0: a normal deviate Z beats limit times S = sqrt(chi-square(df) / df).

    Gauss-Legendre with 400 nodes, over Z for few degrees of freedom and over ln S for many, where the other
    integrand would be steep.
    """
    over_z = _mean_over_z(limit, np.minimum(df, _MANY), noncentrality)
    over_s = _mean_over_s(limit, np.maximum(df, _MANY), noncentrality)
    return np.where(df < _MANY, over_z, over_s)


@cache
def _gauss_legendre(count: int = 400) -> tuple[Array, Array]:
    """Nodes and weights, worked out when first needed: some ms, by one processor.

    NumPy's own takes a full eigenvalue problem for it, which numerical threads that fight for two processors can make
    last for seconds.
    """
    nodes, weights = special.roots_legendre(count)
    return nodes, weights


_MANY = 100.0  # degrees of freedom from which S is narrower than Z


def _mean_over_z(limit: Array, df: Array, noncentrality: Array) -> Array:
    """The mean over Z of P(S < (Z + noncentrality) / limit)."""
    nodes, weights = _gauss_legendre()
    low = np.clip(-noncentrality, -8.5, 8.5)[:, None]
    half = (8.5 - low) / 2
    z = low + half * (1 + nodes)
    ratio = np.minimum(np.maximum(z + noncentrality[:, None], 0.0) / limit[:, None], 1e150)  # its square is a number
    below = special.gammainc(df[:, None] / 2, df[:, None] / 2 * ratio**2)
    density = np.exp(-(z**2) / 2) / np.sqrt(2 * np.pi)
    return np.asarray((below * density * half * weights).sum(axis=1))


def _mean_over_s(limit: Array, df: Array, noncentrality: Array) -> Array:
    """The mean over S of Phi(noncentrality - limit * S)."""
    s, weights = _nodes_of_s(df)
    return np.asarray((special.ndtr(noncentrality[:, None] - limit[:, None] * s) * weights).sum(axis=1))


def _nodes_of_s(df: Array, count: int = 400) -> tuple[Array, Array]:
    """Values of S = sqrt(chi-square(df) / df) between its 1e-14 quantiles, and the probabilities they stand for."""
    nodes, weights = _gauss_legendre(count)
    low = np.log(2 * special.gammaincinv(df / 2, 1e-14) / df) / 2
    high = np.log(2 * special.gammainccinv(df / 2, 1e-14) / df) / 2
    half = (high - low)[:, None] / 2
    log_s = (high + low)[:, None] / 2 + half * nodes
    shape = (df / 2)[:, None]
    # (df/2)^(df/2) e^(-df/2) / Gamma(df/2): by Stirling's series for many degrees of freedom, where it keeps digits.
    stirling = np.log(shape / (2 * np.pi)) / 2 - (1 / (12 * shape) - 1 / (360 * shape**3) + 1 / (1260 * shape**5))
    exact = shape * (np.log(shape) - 1) - special.gammaln(shape)
    constant = np.where(shape > _MANY / 2, stirling, exact)
    log_density = np.log(2.0) + constant + shape * (1 + 2 * log_s - np.exp(2 * log_s))
    return np.exp(log_s), np.asarray(np.exp(log_density) * half * weights)


def f_above(limit: Number, df1: Number, df2: Number, noncentrality: Number) -> Number:
    """P(F' > limit), within 1e-9 at any noncentrality.

    SciPy's noncentral F is wrong at tiny noncentralities, where power differs from alpha by less than they are, and
    gives no number at some large ones, which are integrated here.
    """
    shift = np.where(np.asarray(noncentrality) < 1e-10, 0.0, noncentrality)
    above = np.asarray(1 - special.ncfdtr(df1, df2, shift, limit))
    missing = np.isnan(above)
    if missing.any():
        parts = (
            np.atleast_1d(np.broadcast_to(v, above.shape))[np.atleast_1d(missing)] for v in (limit, df1, df2, shift)
        )
        above = np.array(above)
        above[missing] = f_above_by_quadrature(*parts)
    return above


def f_above_by_quadrature(limit: Array, df1: Array, df2: Array, noncentrality: Array) -> Array:
    """P(F' > limit) for 1-d arrays, for noncentralities above 100.

    Over the denominator where that is narrow, else over the numerator (Z + sqrt(noncentrality))^2 + W, in which W, a
    chi-square with df1 - 1 degrees of freedom, hardly matters.
    """
    s, weights = _nodes_of_s(np.maximum(df2, _WIDE))
    below = special.chndtr((limit * df1)[:, None] * s**2, df1[:, None], noncentrality[:, None])
    over_s = ((1 - below) * weights).sum(axis=1)
    return np.where(df2 > _WIDE, over_s, _mean_over_numerator(limit, df1, np.minimum(df2, _WIDE), noncentrality))


_WIDE = 2000.0  # degrees of freedom of the denominator up to which it is wider than the numerator


def _mean_over_numerator(limit: Array, df1: Array, df2: Array, noncentrality: Array) -> Array:
    nodes, weights = _gauss_legendre()
    z = 8.5 * nodes
    density = 8.5 * weights * np.exp(-(z**2) / 2) / np.sqrt(2 * np.pi)
    rest = np.where(df1 > 1, np.maximum(df1 - 1, 0.05), 1.0)
    s, s_weights = _nodes_of_s(rest, 120)
    w = np.where(df1[:, None] > 1, rest[:, None] * s**2, 0.0)
    s_weights = s_weights / s_weights.sum(axis=1, keepdims=True)
    squares = (z + np.sqrt(noncentrality)[:, None]) ** 2
    size = squares[:, :, None] + w[:, None, :]
    below = special.gammainc((df2 / 2)[:, None, None], size * (df2 / (2 * limit * df1))[:, None, None])
    return np.asarray(((below * s_weights[:, None, :]).sum(axis=2) * density).sum(axis=1))


def _slope(cdf: Any, x: Array) -> Array:
    """The density as the central slope of a distribution function; for drawing, not for power."""
    step = np.maximum(np.abs(x), 1e-3) * 1e-4
    low = np.maximum(x - step, 0.0)
    return np.asarray((cdf(x + step) - cdf(low)) / (x + step - low))
