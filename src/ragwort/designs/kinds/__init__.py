"""The kinds of comparison. A design of a known kind is its declaration and a short method or two.

    statistic.py       one statistic with one distribution: t, z, F, chi-square, r
    two_variances.py   the same, where power may fall as one group grows alone (Welch)
    counts.py          whole counts decide, so that power goes up and down with the sample size

The search, the pictures and the report ask which kind a plan is of, never which design.
"""

from ragwort.designs.kinds.counts import CountsPlan
from ragwort.designs.kinds.statistic import StatisticPlan
from ragwort.designs.kinds.two_variances import TwoVariancesPlan

__all__ = ["CountsPlan", "StatisticPlan", "TwoVariancesPlan"]
