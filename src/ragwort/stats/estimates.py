"""What data say: means and scatter, the correlation of clusters and of repeated measurements.

Arrays in, plain numbers out; nothing is missing in what comes in.

Sources: Donner and Koval, "The estimation of intraclass correlation in the analysis of family data", Biometrics 36
(1980), pages 19-25 (the one-way ANOVA estimator with clusters of different sizes). Box, "Some theorems on quadratic
forms applied in the study of analysis of variance problems, II", Annals of Mathematical Statistics 25 (1954), pages
484-498, and Greenhouse and Geisser, "On methods in the analysis of profile data", Psychometrika 24 (1959), pages
95-112 (sphericity).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array

if TYPE_CHECKING:
    from numpy.typing import NDArray

Codes: TypeAlias = "NDArray[np.int64]"  # which group each row belongs to
QUANTILES = (0.0, 0.25, 0.5, 0.75, 1.0)


def mean_and_sd(values: Array) -> tuple[float, float]:
    """The mean and the SD (divided by n - 1) of two or more values."""
    return float(np.mean(values)), float(np.std(values, ddof=1))


def quantiles(values: Array) -> tuple[float, ...]:
    """Smallest, lower quartile, median, upper quartile, largest; linear between values."""
    return tuple(float(each) for each in np.quantile(values, QUANTILES))


def correlation(x: Array, y: Array) -> float:
    """Pearson's r of two columns; `nan` where one of them does not vary."""
    x, y = x - x.mean(), y - y.mean()
    scatter = math.sqrt(float(x @ x) * float(y @ y))
    return float(x @ y) / scatter if scatter > 0 else math.nan


def r_squared(outcome: Array, predictors: Array) -> float:
    """The share of the variance that a linear model of the columns of `predictors` explains.

    Raises `ValueError` where a column follows from the others, or nothing varies.
    """
    y, x = outcome - outcome.mean(), predictors - predictors.mean(axis=0)
    scales = np.sqrt((x**2).sum(axis=0))
    total = float(y @ y)
    if total <= 0 or np.any(scales <= 0):
        raise ValueError("every column must vary")
    fitted, _, rank, _ = np.linalg.lstsq(x / scales, y, rcond=1e-10)
    if rank < x.shape[1]:
        raise ValueError("a predictor follows from the others")
    rest = y - (x / scales) @ fitted
    return max(1 - float(rest @ rest) / total, 0.0)


@dataclass(frozen=True)
class Clusters:
    """How alike people of one cluster are, and how large clusters are."""

    count: int
    icc: float  # may be negative: clusters then differ less than chance alone would make them
    mean_size: float
    cv: float  # SD of the sizes over their mean; 0 with one cluster
    sd: float  # of people within an arm, whatever their cluster


def clusters_of(values: Array, cluster: Codes, arm: Codes | None = None) -> Clusters:
    """The one-way ANOVA estimator of the ICC, within arms where there are several.

    (MSB - MSW) / (MSB + (m0 - 1) MSW) with m0 = (N - Σ m_i² / N_arm) / (clusters - arms), the size that stands for
    unequal ones; each cluster belongs to one arm. Raises `ValueError` where there are too few clusters or people.
    """
    arms = np.zeros(len(values), dtype=int) if arm is None else arm
    between = within = total = weight = 0.0
    sizes: list[int] = []
    for each in np.unique(arms):
        of_arm = arms == each
        _, codes = np.unique(cluster[of_arm], return_inverse=True)
        counts = np.bincount(codes)
        means = np.bincount(codes, values[of_arm]) / counts
        middle = float(values[of_arm].mean())
        between += float(counts @ (means - middle) ** 2)
        within += float(np.sum((values[of_arm] - means[codes]) ** 2))
        total += float(np.sum((values[of_arm] - middle) ** 2))
        weight += float(counts @ counts) / len(codes)
        sizes += counts.tolist()
    number, people, groups = len(sizes), len(values), len(np.unique(arms))
    if number - groups < 1 or people - number < 1:
        raise ValueError("an ICC needs two clusters or more in an arm, and two people or more in some cluster")
    ms_between, ms_within = between / (number - groups), within / (people - number)
    typical = (people - weight) / (number - groups)
    scale = ms_between + (typical - 1) * ms_within
    if scale <= 0:
        raise ValueError("an ICC needs an outcome that varies")
    mean_size = people / number
    cv = float(np.std(sizes, ddof=1)) / mean_size if number > 1 else 0.0
    sd = math.sqrt(total / (people - groups))
    return Clusters(number, (ms_between - ms_within) / scale, mean_size, cv, sd)


@dataclass(frozen=True)
class Repeated:
    """How measurements of the same people hang together."""

    correlation: float  # the average of all pairs of measurements
    sphericity: float  # the epsilon of Box, Greenhouse and Geisser
    sd: float  # of one measurement within a group: the root of the average variance


def repeated_of(values: Array, group: Codes | None = None) -> Repeated:
    """From people (rows) by measurements (columns), within groups where there are several.

    Raises `ValueError` where there are too few people, or a measurement does not vary.
    """
    groups = np.zeros(len(values), dtype=int) if group is None else group
    centred = np.array(values, dtype=float)
    names = np.unique(groups)
    for each in names:
        centred[groups == each] -= centred[groups == each].mean(axis=0)
    if len(values) - len(names) < 1:
        raise ValueError("repeated measurements need two people or more in a group")
    covariance = centred.T @ centred / (len(values) - len(names))
    spread = np.sqrt(np.diag(covariance))
    if np.any(spread <= 0):
        raise ValueError("each measurement must vary from person to person")
    correlations = covariance / np.outer(spread, spread)
    above = np.triu_indices(len(spread), 1)
    average = float(np.mean(correlations[above]))
    return Repeated(average, _epsilon(covariance), math.sqrt(float(np.mean(spread**2))))


def _epsilon(covariance: Array) -> float:
    """1 where all differences of two measurements scatter alike, down to 1 / (m - 1).

    Raises `ValueError` where no difference scatters at all, but for rounding.
    """
    size = len(covariance)
    centre = np.eye(size) - 1.0 / size
    doubly = centre @ covariance @ centre
    if np.trace(doubly) <= 1e-12 * np.trace(covariance):
        raise ValueError("measurements that differ by a constant only leave no sphericity to be estimated")
    return float(np.trace(doubly) ** 2 / ((size - 1) * np.sum(doubly**2)))


def f_of_cells(cells: Array, sd: float, term: Sequence[int]) -> float:
    """f of a term of crossed factors: the SD of its effects over all cells, over the SD within cells.

    `cells` holds the mean of each cell, one axis a factor; `term` names axes from 0 on. Cells count alike, as in
    Cohen (1988), sections 8.2.1 and 8.3.
    """
    effects = np.array(cells, dtype=float)
    for axis in range(effects.ndim):
        mean = effects.mean(axis=axis, keepdims=True)
        effects = effects - mean if axis in term else mean
    return math.sqrt(float(np.mean(effects**2))) / sd
