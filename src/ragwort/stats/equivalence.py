"""Power of two one-sided tests: an estimate must lie above one margin and below another, both beyond chance.

With an estimated SD the power is an integral over that SD: Phillips, Journal of Pharmacokinetics and Biopharmaceutics
18 (1990), pages 137-144; Schuirmann, the same journal 15 (1987), pages 657-680.
"""

from __future__ import annotations

from functools import lru_cache

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number

_NODES = 40  # of each panel
_AT_ONCE = 64  # rows: more would leave the processor's memory
_NEVER = 1e-18  # a chance so small that an SD beyond it does not count
_FEW = 6.0  # degrees of freedom
_WHERE_IT_BENDS = (1e-14, 1e-11, 1e-9, 1e-7, 1e-5, 1e-4, 1e-3, 1e-2, 0.1, 0.5, 0.95)
_REACH = 8.5  # SDs from a limit within which a normal distribution changes


def power_with_known_sd(low: Number, high: Number, alpha: Number) -> Array:
    """Margins less the true effect, both in standard errors; the SD is known."""
    z = -special.ndtri(alpha)
    return np.asarray(np.maximum(special.ndtr(high - z) + special.ndtr(-low - z) - 1, 0.0))


def power_with_estimated_sd(low: Number, high: Number, df: Number, alpha: Number) -> Array:
    """The same with an SD estimated on `df` degrees of freedom; within 1e-12.

    The integral over S, the estimated SD over the true one, of the chance that the estimate lies between both limits,
    in panels that end where the normal distributions change.
    """
    limit = np.asarray(-special.stdtrit(df, alpha), dtype=np.float64)
    low, high, df, t = (np.asarray(each, dtype=np.float64) for each in np.broadcast_arrays(low, high, df, limit))
    if low.ndim != 1 or low.size <= _AT_ONCE:
        return _integrated(low, high, df, t)
    blocks = [slice(start, start + _AT_ONCE) for start in range(0, low.size, _AT_ONCE)]
    return np.concatenate([_integrated(low[each], high[each], df[each], t[each]) for each in blocks])


def _integrated(low: Array, high: Array, df: Array, t: Array) -> Array:
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        largest = np.where(t > 0, (high - low) / (2 * t), np.inf)
        first = np.sqrt(2 * special.gammaincinv(df / 2, _NEVER) / df)
        last = np.minimum(np.sqrt(2 * special.gammainccinv(df / 2, _NEVER) / df), largest)
        far = np.reshape((-_REACH, 0.0, _REACH), (-1, *([1] * low.ndim)))
        shares = np.reshape(_shares(df), (-1, *([1] * low.ndim)))
        middle = np.sqrt(2 * special.gammaincinv(df / 2, shares) / df)
        ends = np.concatenate([first[None], (high - far) / t, (far - low) / t, middle, last[None]])
        ends[np.isnan(ends)] = 0.0  # where the limit is 0, the normal distributions do not depend on the SD
        ends = np.sort(np.clip(ends, first, np.maximum(last, first)), axis=0)
        found = _over_panels(ends, low, high, df, t)
    return np.where(last > first, np.clip(found, 0.0, 1.0), 0.0)


def _shares(df: Array) -> tuple[float, ...]:
    """Where panels end besides: with few degrees of freedom the density bends sharply near zero."""
    return _WHERE_IT_BENDS if np.min(df) < _FEW else (1e-6, 0.05, 0.5, 0.95)


def _over_panels(ends: Array, low: Array, high: Array, df: Array, t: Array) -> Array:
    nodes, weights = _rule()
    half, middle = (ends[1:] - ends[:-1]) / 2, (ends[1:] + ends[:-1]) / 2
    wide = (half > 0).reshape(len(half), -1).any(axis=1)
    half, middle = half[wide], middle[wide]
    s = middle[..., None] + half[..., None] * nodes
    low, high, df, t = (each[..., None] for each in (low, high, df, t))
    between = special.ndtr(high - t * s) - special.ndtr(low + t * s)
    values = np.maximum(between, 0.0) * np.exp(_log_density(s, df))
    return np.asarray((half * (values * weights).sum(axis=-1)).sum(axis=0))


def _log_density(s: Array, df: Array) -> Array:
    """Of S, where df S squared is chi-square; written so that nothing large is taken from something large."""
    half = df / 2
    peak = np.log(2.0) + 0.5 * np.log(half / (2 * np.pi)) - _stirling(half)
    return np.asarray(peak + (df - 1) * np.log(s) - half * (s * s - 1))


def _stirling(x: Array) -> Array:
    """log gamma(x) less Stirling's formula (x - 1/2) log x - x + log(2 pi)/2."""
    series = 1 / (12 * x) - 1 / (360 * x**3) + 1 / (1260 * x**5)
    small = np.minimum(x, 50.0)
    direct = special.gammaln(small) - ((small - 0.5) * np.log(small) - small + 0.5 * np.log(2 * np.pi))
    return np.where(x > 50, series, direct)


@lru_cache(maxsize=1)
def _rule() -> tuple[Array, Array]:
    nodes, weights = np.polynomial.legendre.leggauss(_NODES)
    return nodes, weights
