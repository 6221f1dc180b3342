"""One contrast among the means of groups. Source: Searle, *Linear Models* (1971), section 3.6."""

from __future__ import annotations

from dataclasses import replace

from ragwort.base.lazily import np
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.means import Groups


def analyse_contrast(data: Groups, coefficients: tuple[float, ...], comparisons: int, level: Level) -> Found:
    """The t test with the scatter pooled over all groups; p-values and intervals allow for all `comparisons`."""
    found = data.moments
    estimate = np.sum([c * each.mean for c, each in zip(coefficients, found, strict=True)], axis=0)
    n = np.stack([each.n for each in found])
    within = np.sum([np.where(each.n > 1, (each.n - 1) * each.variance, 0.0) for each in found], axis=0)
    df = n.sum(axis=0) - len(found)
    undone = np.any(n < 1, axis=0) | (df < 1)
    variance = within / np.where(undone, np.nan, df)
    spread = np.sum([c**2 / np.maximum(each.n, 1) for c, each in zip(coefficients, found, strict=True)], axis=0)
    one = replace(level, alpha=level.alpha / comparisons)
    tested = one.t(estimate, np.sqrt(variance * spread), np.where(undone, np.nan, df))
    return replace(tested, p=np.minimum(tested.p * comparisons, 1.0))
