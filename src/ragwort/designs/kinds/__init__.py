"""The kinds of comparison. A design of a known kind is its declaration and a short method or two.

    statistic.py       one statistic with one distribution: t, z, F, chi-square, r
    two_variances.py   the same, where power may fall as one group grows alone (Welch)
    edged.py           the same, where the null hypothesis may have its edge at a margin
    equivalence.py     two one-sided tests between two margins
    counts.py          whole counts decide, so that power goes up and down with the sample size
    precision.py       no hypothesis: an interval that is to be narrow enough
    calendar.py        people enter one after another and are watched until something happens

The search, the pictures and the report ask which kind a plan is of, never which design.
"""

from ragwort.designs.kinds.calendar import CalendarPlan
from ragwort.designs.kinds.counts import CountsPlan
from ragwort.designs.kinds.edged import EdgedPlan
from ragwort.designs.kinds.equivalence import EquivalencePlan, TwoTestsPlan
from ragwort.designs.kinds.precision import PrecisionPlan
from ragwort.designs.kinds.statistic import StatisticPlan
from ragwort.designs.kinds.unequal_variances import UnequalVariancesPlan


def has_margin(plan: object) -> bool:
    """Whether the null hypothesis of a plan has its edge at a margin."""
    return isinstance(plan, EquivalencePlan) or (isinstance(plan, EdgedPlan) and bool(plan.margin_kind))


__all__ = [
    "CalendarPlan",
    "CountsPlan",
    "EdgedPlan",
    "EquivalencePlan",
    "PrecisionPlan",
    "StatisticPlan",
    "TwoTestsPlan",
    "UnequalVariancesPlan",
    "has_margin",
]
