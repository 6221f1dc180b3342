"""Path models with omitted paths, fitted by maximum likelihood, and the test of their fit.

In a model that goes through its variables one by one, each may depend on those before it. Where paths are omitted the
likelihood ratio against the model with all of them is, variable by variable, that of two regressions, so that maximum
likelihood needs no iteration: Bollen, *Structural Equations with Latent Variables* (1989), chapter 4.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, chi_square_below
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Kept, Population


@dataclass(frozen=True)
class Variables:
    """Measured variables (studies x participants x variables), in SDs."""

    values: Array
    kept: Kept

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; lost ones are NaN."""
        there = np.ones(self.values.shape[1], bool) if self.kept is None else self.kept[number]
        own = np.where(there[:, None], self.values[number], np.nan)
        return {f"variable {at + 1}": own[:, at] for at in range(own.shape[1])}


def omitted(df: int) -> tuple[int, int]:
    """A model with `df` omitted paths: the first variables, between which all are, and how many the next one omits."""
    block = (1 + math.isqrt(1 + 8 * df)) // 2
    return block, df - block * (block - 1) // 2


def draw_variables(population: Population, count: int, n: int, df: int, misfit: float) -> Variables:
    """Normal variables; within the block each two go together, so that the model misfits by `misfit` (its F)."""
    block, more = omitted(df)
    pairs = block // 2
    rho = math.sqrt(-math.expm1(-misfit / pairs))
    values = population.shape.noise(population.rng, (count, n, block + (more > 0)))
    first, second = values[:, :, : 2 * pairs : 2], values[:, :, 1 : 2 * pairs : 2]
    values[:, :, 1 : 2 * pairs : 2] = rho * first + math.sqrt(1 - rho**2) * second
    values = population.shape.cut(values)
    return Variables(values, population.kept(values[:, :, 0]))


def analyse_fit(data: Variables, df: int, null_rmsea: float, level: Level) -> Found:
    """The likelihood ratio test of the model against a fit of `null_rmsea`; the estimate is the RMSEA, from 0 up."""
    block, more = omitted(df)
    n = _people(data)
    fitted = _misfit(data, block, more)
    with np.errstate(invalid="ignore", divide="ignore"):
        enough = np.where(n > data.values.shape[2], n - 1, np.nan)
        statistic = enough * fitted
        below = chi_square_below(statistic, df, enough * df * null_rmsea**2)
        estimate = np.sqrt(np.maximum(fitted / df - 1 / enough, 0.0))
    return Found(level.p_of(1 - below, below), estimate, statistic)


def _people(data: Variables) -> Array:
    studies, n, _ = data.values.shape
    return np.full(studies, float(n)) if data.kept is None else data.kept.sum(axis=1).astype(float)


def _misfit(data: Variables, block: int, more: int) -> Array:
    """The fitted F: minus the log determinant of the block's correlations, and what the omitted paths would explain."""
    scatter = _scatter(data)
    found = -_log_det(_correlations(scatter[:, :block, :block]))
    if not more:
        return np.asarray(found)
    kept = [*range(more, block), block]
    full = _log_det(scatter) - _log_det(scatter[:, :block, :block])
    reduced = _log_det(scatter[:, kept][:, :, kept]) - _log_det(scatter[:, kept[:-1]][:, :, kept[:-1]])
    return np.asarray(found + reduced - full)


def _scatter(data: Variables) -> Array:
    """Sums of squares and products of each study, of those who are left."""
    values = data.values
    there = np.ones(values.shape[:2]) if data.kept is None else data.kept.astype(float)
    means = np.einsum("cn,cnv->cv", there, values) / np.maximum(there.sum(axis=1), 1)[:, None]
    centred = (values - means[:, None, :]) * there[:, :, None]
    return np.asarray(np.einsum("cnv,cnw->cvw", centred, centred, optimize=True))


def _correlations(scatter: Array) -> Array:
    spread = np.sqrt(np.einsum("cvv->cv", scatter))
    return np.asarray(scatter / (spread[:, :, None] * spread[:, None, :]))


def _log_det(matrices: Array) -> Array:
    return np.asarray(np.linalg.slogdet(matrices)[1])
