"""Tails of noncentral distributions, also where SciPy has too few digits, takes long or gives no number.

Source: Johnson, Kotz and Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapters 29 (noncentral
chi-square), 30 (noncentral F) and 31 (noncentral t).
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, Any, TypeAlias

from ragwort.base.lazily import np, special

if TYPE_CHECKING:
    from numpy.typing import NDArray


Array: TypeAlias = "NDArray[np.float64]"
Number = Any  # a float or an array of floats: NumPy broadcasts either

_TINY, _VAST = 1e-300, 1e10
_NEXT_TO_ZERO = 1e-30  # a limit of t nearer to zero is zero to all digits, and would take SciPy long


def chi_square_below(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(X' <= limit). SciPy's noncentral chi-square is off by 2e-4 where the noncentrality is a denormal number.

    Where the noncentrality is vast it gives no number: X' is (Z + its root)^2 then and the rest, whose scatter is next
    to nothing beside it.
    """
    shift = np.where(np.asarray(noncentrality) < _TINY, 0.0, noncentrality)
    below = special.chndtr(limit, df, np.where(shift > _VAST, np.nan, shift))
    return np.where(np.isnan(below), special.ndtr(_vast(limit, df, shift)), below)


def chi_square_above(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(X' > limit), to all its digits where it is next to nothing too."""
    above = np.asarray(1 - chi_square_below(limit, df, noncentrality))
    thin = above < _TAIL
    if not thin.any():
        return above
    parts = (np.broadcast_to(part, above.shape)[thin] for part in (limit, df, noncentrality))
    each = [_chi_square_tail(float(x), float(d), float(s), True) for x, d, s in zip(*parts, strict=True)]
    found = np.array(above, dtype=float)
    found[thin] = each
    return found


def _vast(limit: Number, df: Number, shift: Number) -> Number:
    """How far a limit lies from a vast noncentrality, as a normal deviate."""
    beyond = np.sqrt(np.maximum(limit - (df - 1), 0.0)) - np.sqrt(shift)
    return beyond / np.sqrt(1 + (df - 1) / (2 * np.maximum(shift, 1.0)))


_TAIL, _WIDE = 1e-8, 1e4  # tails thinner, and noncentralities larger, than those that SciPy's own inverse is good for


def chi_square_limit(tail: Number, df: Number, noncentrality: Number, above: bool) -> Number:
    """The limit with P(X' > limit) = tail where `above`, else with P(X' <= limit) = tail, to 1e-9 of the tail itself.

    SciPy's inverse counts from below, where a thin tail above is lost in rounding, and is slow where the noncentrality
    is large.
    """
    tail, df, shift = np.broadcast_arrays(tail, df, noncentrality)
    thin = (tail < _TAIL) | (shift > _WIDE)
    usual = special.chndtrix(np.where(thin, 0.5, 1 - tail if above else tail), df, np.where(thin, 1.0, shift))
    if not thin.any():
        return usual
    found = np.array(usual, dtype=float)
    each = zip(tail[thin], df[thin], shift[thin], strict=True)
    found[thin] = [_limit_of_tail(float(t), float(d), float(s), above) for t, d, s in each]
    return found


def _limit_of_tail(tail: float, df: float, shift: float, above: bool) -> float:
    """One limit: where the logarithm of the tail is that of the tail asked for. No number below a tail of 1e-150."""
    if shift < _TINY:
        return float(special.chdtri(df, tail) if above else 2 * special.gammaincinv(df / 2, tail))
    if tail < _THINNEST:
        return float("nan")
    from scipy.optimize import brentq

    def over(limit: float) -> float:
        with np.errstate(divide="ignore"):
            return float(np.maximum(np.log(_chi_square_tail(limit, df, shift, above)), _LEAST_LOG) - np.log(tail))

    away = -float(special.ndtri(min(tail, 0.4))) * (1.0 if above else -1.0)
    guess = max(np.sqrt(df + shift) + away, 0.01) ** 2
    step = 0.02 * abs(guess - df - shift) * (1.0 if above else -1.0)
    near = far = guess
    while over(far) > 0:
        near, far, step = far, max(far + step, far / 2), 2 * step
    while over(near) < 0:
        near, far, step = max(near - step, near / 2), near, 2 * step
    found = float(brentq(over, near, far, xtol=1e-300, rtol=1e-13))
    return found if abs(over(found)) < _SAME_LOG else float("nan")


_THINNEST = 1e-150  # below this the sums of a noncentral tail are lost
_SAME_LOG = 1e-6
_LEAST_LOG = -800.0  # of a chance that is not 0


def _chi_square_tail(limit: float, df: float, shift: float, above: bool) -> float:
    if not above:
        return float(chi_square_below(limit, df, shift))
    if shift > _VAST:
        return float(special.ndtr(-_vast(limit, df, shift)))
    from scipy.stats import ncx2

    return float(ncx2.sf(limit, df, shift))


# Below minus this noncentrality the tail above zero is under 5e-11, since the normal tail bounds it.
_FAR = 6.5
_LARGE = 30.0


def t_above(limit: Number, df: Number, noncentrality: Number) -> Number:
    """P(T' > limit) within 1e-9 at any noncentrality; below zero by the mirror image."""
    limit = np.where(np.abs(limit) < _NEXT_TO_ZERO, 0.0, limit)
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


_LONG = 1e8  # noncentralities beyond which the library's series is long


def f_above(limit: Number, df1: Number, df2: Number, noncentrality: Number) -> Number:
    """P(F' > limit), within 1e-9 at any noncentrality.

    SciPy's noncentral F is wrong at tiny noncentralities, where power differs from alpha by less than they are, and
    takes seconds or gives no number at large ones, which are integrated here.
    """
    shift = np.where(np.asarray(noncentrality) < 1e-10, 0.0, noncentrality)
    above = np.asarray(1 - special.ncfdtr(df1, df2, np.where(shift > _LONG, np.nan, shift), limit))
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

    Over what is the wider of the two, numerator or denominator: the other then has no step between two nodes.
    """
    above = np.ones(len(limit))
    doubtful, wide = ~_surely_above(limit, df1, df2, noncentrality), noncentrality + df1 >= df2
    for which, mean in ((doubtful & wide, _mean_over_numerator), (doubtful & ~wide, _mean_over_denominator)):
        if which.any():
            above[which] = mean(*(each[which] for each in (limit, df1, df2, noncentrality)))
    return above


def _surely_above(limit: Array, df1: Array, df2: Array, noncentrality: Array) -> NDArray[np.bool_]:
    """Whether P(F' <= limit) is below 1e-16.

    The numerator is at least (Z + sqrt(noncentrality))^2, the denominator at most its upper 1e-17 quantile.
    """
    widest = 2 * special.gammainccinv(df2 / 2, 1e-17)
    return np.asarray(np.sqrt(noncentrality) - np.sqrt(limit * df1 / df2 * widest) > 8.5)


def _mean_over_denominator(limit: Array, df1: Array, df2: Array, noncentrality: Array) -> Array:
    s, weights = _nodes_of_s(df2)
    below = chi_square_below((limit * df1)[:, None] * s**2, df1[:, None], noncentrality[:, None])
    return np.asarray(((1 - below) * weights).sum(axis=1))


def _mean_over_numerator(limit: Array, df1: Array, df2: Array, noncentrality: Array) -> Array:
    """The mean of P(denominator < numerator / limit) over U, the root of the numerator, whose SD is at most about 1.

    The density of U is u (u / root)^(df1/2 - 1) exp(-(u^2 + root^2) / 2) I(u root), root that of the noncentrality and
    I the Bessel function of order df1/2 - 1 (Johnson, Kotz and Balakrishnan, section 29.4, for the numerator itself).
    """
    nodes, weights = _gauss_legendre()
    root, order = np.sqrt(noncentrality)[:, None], (df1 / 2 - 1)[:, None]
    middle = np.sqrt(noncentrality + np.maximum(df1 - 1, 0.0))[:, None]
    beyond = (middle**2 - root**2) / (middle + root) + 9.5 * nodes  # u less the root, to all its digits
    u = root + beyond
    with np.errstate(all="ignore"):
        log_density = np.log(u) - beyond**2 / 2 + order * np.log1p(beyond / root) + _log_of_bessel(order, root * u)
        density = np.where(u > 0, np.exp(log_density), 0.0) * 9.5 * weights
        below = special.gammainc((df2 / 2)[:, None], u**2 * (df2 / (2 * limit * df1))[:, None])
    return np.asarray((np.where(u > 0, below, 0.0) * density).sum(axis=1))


def _log_of_bessel(order: Array, z: Array) -> Array:
    """ln(e^-z I(z)) of the modified Bessel function of an order above -1, within 1e-10 for z above 100.

    Debye's expansion for large orders (DLMF 10.41.3, with the polynomials of 10.41.10), in which the order stands only
    beside z: it holds as well for small orders. That of I with the sign of its order changed differs by e^(-2 z).
    """
    order = np.abs(order)
    slope = np.hypot(order, z)
    p, each = (order / slope) ** 2, 1 / slope
    one = (3 - 5 * p) / 24
    two = (81 + p * (-462 + 385 * p)) / 1152
    three = (30375 + p * (-369603 + p * (765765 - 425425 * p))) / 414720
    four = (4465125 + p * (-94121676 + p * (349922430 + p * (-446185740 + 185910725 * p)))) / 39813120
    series = np.log1p(each * (one + each * (two + each * (three + each * four))))
    exponent = order**2 / (slope + z) + order * np.log(z / (order + slope))  # less z, to all its digits
    return np.asarray(exponent + np.log(each / (2 * np.pi)) / 2 + series)
