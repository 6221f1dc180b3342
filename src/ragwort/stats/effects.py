"""Effect sizes and how they turn into each other. Plain formulas on floats; what may go in is checked elsewhere.

Sources: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988): d (2.2), r (3.1), h (6.2), w
(7.2), f (8.2), f squared (9.2). Hedges, "Distribution theory for Glass's estimator of effect size and related
estimators", Journal of Educational Statistics 6 (1981), pages 107-128 (g and its correction). Chinn, "A simple method
for converting an odds ratio to effect size", Statistics in Medicine 19 (2000), pages 3127-3131 (d and odds ratio).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from ragwort.base.lazily import np, special
from ragwort.base.patience import check
from ragwort.stats.noncentral import Number, f_above, t_above

if TYPE_CHECKING:
    from numpy.typing import ArrayLike


def pooled_sd(sd1: Number, sd2: Number, n1: float | None = None, n2: float | None = None) -> Number:
    """The SD of two groups together; with equal weight where no sizes are given. Arrays broadcast."""
    if n1 is None or n2 is None:
        return np.sqrt((sd1**2 + sd2**2) / 2)
    return np.sqrt(((n1 - 1) * sd1**2 + (n2 - 1) * sd2**2) / (n1 + n2 - 2))


def sd_of_differences(sd1: Number, sd2: Number, correlation: Number) -> Number:
    """The SD of second minus first within pairs; 0 where nothing scatters. Arrays broadcast."""
    return np.sqrt(np.maximum(sd1**2 + sd2**2 - 2 * correlation * sd1 * sd2, 0.0))


def hedges_factor(df: float) -> float:
    """g / d: Hedges (1981), the approximation of equation 6."""
    return 1 - 3 / (4 * df - 1)


def f_of_means(means: Sequence[float], sd: float, sizes: Sequence[float] | None = None) -> float:
    """f: the SD of the means, weighted by group size where given, over the SD within groups."""
    values = np.asarray(means, dtype=float)
    weights = np.ones(len(values)) if sizes is None else np.asarray(sizes, dtype=float)
    centre = np.average(values, weights=weights)
    return math.sqrt(float(np.average((values - centre) ** 2, weights=weights))) / sd


def w_of_table(table: ArrayLike) -> float:
    """w of joint proportions, or of counts, against the product of their margins."""
    cells = np.asarray(table, dtype=float)
    cells = cells / cells.sum()
    null = np.outer(cells.sum(axis=1), cells.sum(axis=0))
    return math.sqrt(float(((cells - null) ** 2 / null).sum()))


def w_of_fit(proportions: Sequence[float], null_proportions: Sequence[float]) -> float:
    """w of shares against known ones."""
    null = np.asarray(null_proportions, dtype=float)
    return math.sqrt(float(((np.asarray(proportions, dtype=float) - null) ** 2 / null).sum()))


def h_of(proportion1: Number, proportion2: Number) -> Number:
    """Cohen's h, proportion 2 against proportion 1 (Cohen 1988, section 6.2); arrays broadcast."""
    return 2 * np.arcsin(np.sqrt(proportion2)) - 2 * np.arcsin(np.sqrt(proportion1))


def chance_of_larger(d: float) -> float:
    """P(Y2 > Y1) of normal outcomes that are d SDs apart: Phi(d / sqrt 2). McGraw and Wong, Psychological Bulletin 111
    (1992), pages 361-365."""
    return float(special.ndtr(d / np.sqrt(2)))


def d_of_chance(probability: float) -> float:
    """The d that makes this chance of a larger outcome."""
    return float(np.sqrt(2) * special.ndtri(probability))


def overlap(d: float) -> float:
    """The share of two normal distributions, d SDs apart, that they have in common: 2 Phi(-|d| / 2). Inman and
    Bradley, Communications in Statistics 18 (1989), pages 3851-3874."""
    return float(2 * special.ndtr(-abs(d) / 2))


def odds(proportion: Number) -> Number:
    """p / (1 - p)."""
    return proportion / (1 - proportion)


def wilson_interval(yes: int, n: int, level: float) -> tuple[float, float]:
    """The score interval of a proportion: Wilson, "Probable inference, the law of succession, and statistical
    inference", Journal of the American Statistical Association 22 (1927), pages 209-212.
    """
    from scipy import special

    z, p = -float(special.ndtri((1 - level) / 2)), yes / n
    middle, reach = p + z**2 / (2 * n), z * math.sqrt(p * (1 - p) / n + z**2 / (4 * n**2))
    return (middle - reach) / (1 + z**2 / n), (middle + reach) / (1 + z**2 / n)


def noncentrality_interval(t: float, df: float, level: float) -> tuple[float, float]:
    """The noncentralities for which `t` is at the edge of the central `level` of the noncentral t.

    Steiger and Fouladi, "Noncentrality interval estimation and the evaluation of statistical models", in *What If There
    Were No Significance Tests?* (1997), pages 221-257.
    """
    tail = (1 - level) / 2

    def above(shift: float) -> float:
        return float(t_above(t, df, shift))

    return _rising_root(above, tail, t), _rising_root(above, 1 - tail, t)


def f_noncentrality_interval(f: float, df1: float, df2: float, level: float) -> tuple[float, float]:
    """The noncentralities (λ) for which `f` is at the edge of the central `level` of the noncentral F; from 0 up.

    Steiger, "Beyond the F test: effect size confidence intervals and tests of close fit in the analysis of variance
    and contrast analysis", Psychological Methods 9 (2004), pages 164-182.
    """
    return _from_zero(lambda shift: float(f_above(f, df1, df2, shift)), f * df1, level)


def chi_square_noncentrality_interval(chi_square: float, df: float, level: float) -> tuple[float, float]:
    """As `f_noncentrality_interval`, of the noncentral chi-square."""
    from scipy import special

    return _from_zero(lambda shift: 1 - float(special.chndtr(chi_square, df, shift)), chi_square, level)


def _from_zero(above: Callable[[float], float], start: float, level: float) -> tuple[float, float]:
    """Both limits of a noncentrality that cannot be negative: 0 where even that makes the statistic too large."""
    low, high = (
        0.0 if above(0.0) >= tail else _rising_root(lambda x: above(max(x, 0.0)), tail, start)
        for tail in ((1 - level) / 2, (1 + level) / 2)
    )
    return low, high


def _rising_root(function: Callable[[float], float], target: float, start: float) -> float:
    """Where a rising function takes the value `target`, by widening and halving; exact to the last digits."""
    with np.errstate(all="ignore"):  # at extreme values the integrals leave what can be held
        return _root_around(function, target, start)


def _root_around(function: Callable[[float], float], target: float, start: float) -> float:
    low = high = start
    step = first = max(1.0, abs(start) / 1000)
    while function(low) > target and math.isfinite(low):
        check()
        low, step = low - step, step * 2
    step = first
    while function(high) < target and math.isfinite(high):
        check()
        high, step = high + step, step * 2
    while high - low > 1e-13 * max(1.0, abs(low), abs(high)):
        middle = (low + high) / 2
        check()
        if middle in (low, high):
            break
        low, high = (middle, high) if function(middle) < target else (low, middle)
    return (low + high) / 2
