"""Exact sampling distributions that are no textbook family: Pearson's r in a bivariate normal population.

Source: Hotelling, "New light on the correlation coefficient and its transforms", Journal of the Royal Statistical
Society B 15 (1953), pages 193-232, equation 25 (the density with a Gaussian hypergeometric function).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Limits, Sides, upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray


@cache
def _nodes_and_weights() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Of Gauss and Legendre's rule."""
    nodes, weights = special.roots_legendre(96)
    return nodes, weights


@dataclass(frozen=True)
class CorrelationTest:
    """Pearson's r in samples of `n` (4 or more) where the correlation is `null_rho`, and where it is `rho`."""

    rho: Number
    null_rho: float
    n: Number
    distribution: str = "r"

    @property
    def noncentrality(self) -> Number:
        """How far the effect moves the statistic: the correlation itself."""
        return self.rho

    def limits(self, alpha: Number, sides: Sides) -> Limits:
        """See `Test.limits`, on the scale of r; not mirror images unless the null hypothesis is 0."""
        tail = upper_tail(alpha, sides)
        upper = _quantile_above(tail, self.null_rho, self.n) if sides != "less" else None
        lower = -_quantile_above(tail, -self.null_rho, self.n) if sides != "greater" else None
        return lower, upper

    def critical_value(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.critical_value`."""
        lower, upper = self.limits(alpha, sides)
        return lower if upper is None else upper

    def power(self, alpha: Number, sides: Sides) -> Number:
        """See `Test.power`; within 1e-7."""
        lower, upper = self.limits(alpha, sides)
        above = 0.0 if upper is None else r_above(upper, self.rho, self.n)
        below = 0.0 if lower is None else r_above(-lower, -np.asarray(self.rho), self.n)
        return above + below

    def reported(self, alpha: Number, sides: Sides) -> dict[str, Number]:
        """See `Test.reported`: both limits where they are not mirror images."""
        lower, upper = self.limits(alpha, sides)
        if lower is not None and upper is not None and self.null_rho != 0:
            return {"critical_lower": lower, "critical_upper": upper, "actual_alpha": float(alpha)}
        return {"critical_value": lower if upper is None else upper, "actual_alpha": float(alpha)}

    def null_density(self, x: Array) -> Array:
        """See `Test.null_density`."""
        return _density(x, self.null_rho, self.n)

    def effect_density(self, x: Array) -> Array:
        """See `Test.effect_density`."""
        return _density(x, self.rho, self.n)


def _density(r: Array, rho: Number, n: Number) -> Array:
    inside = np.clip(r, -1 + 1e-12, 1 - 1e-12)
    return np.asarray(np.exp(_log_density(np.arctanh(inside), rho, n)) / (1 - inside**2))


def _log_density(z: Array, rho: Number, n: Number) -> Array:
    """The log density of atanh r at z."""
    r = np.tanh(z)
    log_free = 2 * (np.log(2.0) - np.logaddexp(z, -z))  # ln(1 - r^2), without loss near 1
    constant = np.log(n - 2) + special.gammaln(n - 1) - special.gammaln(n - 0.5) - 0.5 * np.log(2 * np.pi)
    series = special.hyp2f1(0.5, 0.5, n - 0.5, (1 + rho * r) / 2)
    shape = (n - 1) / 2 * np.log1p(-(rho**2)) + (n - 2) / 2 * log_free - (n - 1.5) * np.log1p(-rho * r)
    return np.asarray(constant + shape + np.log(series))


def r_above(limit: Number, rho: Number, n: Number) -> Array:
    """P(R > limit) for a correlation `rho` and samples of `n`; arrays broadcast.

    Gauss-Legendre on both sides of the limit, on Fisher's scale; their sum normalises, so that rounding in the
    constant of the density cancels.
    """
    z0, rho, n = np.broadcast_arrays(np.arctanh(np.asarray(limit, dtype=float)), rho, np.asarray(n, dtype=float))
    centre, width = np.arctanh(rho), _width(n)
    low, high = centre - width, centre + width
    z0 = np.clip(z0, low, high)
    above, below = _integral(z0, high, rho, n), _integral(low, z0, rho, n)
    return np.asarray(above / (above + below))


def _width(n: Array) -> Array:
    """Beyond this distance on Fisher's scale less than 1e-13 of the distribution is left."""
    return 8 / np.sqrt(n - 3) + 24 / (n - 2)


def _integral(low: Array, high: Array, rho: Array, n: Array) -> Array:
    half = (high - low)[..., None] / 2
    nodes, weights = _nodes_and_weights()
    z = low[..., None] + half * (1 + nodes)
    return np.asarray((np.exp(_log_density(z, rho[..., None], n[..., None])) * weights * half).sum(axis=-1))


def _quantile_above(tail: Number, null_rho: float, n: Number) -> Array:
    """The limit that r exceeds with probability `tail` when the correlation is `null_rho`."""
    n = np.asarray(n, dtype=float)
    if null_rho == 0:
        t = -special.stdtrit(n - 2, tail)
        return np.asarray(t / np.sqrt(n - 2 + t**2))
    centre, width = np.arctanh(null_rho), _width(n)
    low, high = centre - width, centre + width
    z = np.clip(centre - special.ndtri(tail) / np.sqrt(n - 3), low, high)
    smallest = np.full(z.shape, np.inf)
    for _ in range(60):
        excess = r_above(np.tanh(z), null_rho, n) - tail
        low, high = np.where(excess > 0, z, low), np.where(excess > 0, high, z)
        step = excess / np.exp(_log_density(z, null_rho, n))
        small = np.abs(step) < 1e-9 * np.maximum(np.abs(z), 1.0)
        if np.all((np.abs(step) < 1e-13) | (small & (np.abs(step) >= smallest / 2))):
            break  # there, or as near as the rounding of the integral lets it come
        smallest = np.minimum(smallest, np.abs(step))
        inside = (z + step >= low) & (z + step <= high)
        z = np.where(inside, z + step, (low + high) / 2)
    return np.asarray(np.tanh(z))
