"""Variances of one group and of two, tested as an analyst would.

Source: Armitage, Berry and Matthews, *Statistical Methods in Medical Research* (4th ed., 2002), sections 5.1 and 5.2.
"""

from __future__ import annotations

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.means import Groups, OneSample, moments
from ragwort.stats.variance_tests import OneVarianceTest, TwoVariancesTest


def analyse_one_variance(data: OneSample, null_sd: float, level: Level) -> Found:
    """The chi-square test of one variance. The estimate is the SD, its interval from chi-square's limits."""
    found = moments(data.values, data.kept)
    df = np.where(found.n > 1, found.n - 1, np.nan)
    statistic = df * found.variance / null_sd**2
    p = level.p_of(special.chdtrc(df, statistic), special.chdtr(df, statistic))
    sd = np.sqrt(found.variance)
    lower, upper = OneVarianceTest(1.0, df).limits(2 * level.tail, "two")
    return Found(p, sd, statistic, sd * np.sqrt(df / upper), sd * np.sqrt(df / lower))


def analyse_two_variances(data: Groups, scale: float, squared: bool, level: Level) -> Found:
    """The F test of two variances. The estimate is their ratio, or `scale` times its root where it is not `squared`."""
    first, second = data.moments
    df1, df2 = (np.where(each.n > 1, each.n - 1.0, np.nan) for each in (second, first))
    with np.errstate(divide="ignore", invalid="ignore"):
        statistic = np.asarray(second.variance / first.variance, dtype=float)
    above, below = (np.asarray(tail(df1, df2, statistic), dtype=np.float64) for tail in (special.fdtrc, special.fdtr))
    p = level.p_of(above, below)
    lower, upper = TwoVariancesTest(1.0, df1, df2).limits(2 * level.tail, "two")
    ends = (_shown(statistic / upper, scale, squared), _shown(statistic / lower, scale, squared))
    return Found(p, _shown(statistic, scale, squared), statistic, *ends)


def _shown(ratio: Array, scale: float, squared: bool) -> Array:
    return ratio if squared else scale * np.sqrt(ratio)
