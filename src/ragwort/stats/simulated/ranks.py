"""Tests by ranks. Source: Lehmann, *Nonparametrics* (revised ed., 1998), sections 3.1 and 4.2."""

from __future__ import annotations

from dataclasses import replace

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.means import Groups, OneSample, analyse_one_mean
from ragwort.stats.simulated.population import Population


def analyse_signed_ranks(data: OneSample, level: Level) -> Found:
    """Wilcoxon's signed-rank test by its normal approximation; the estimate and its interval are those of the mean."""
    there = np.ones(data.values.shape, dtype=bool) if data.kept is None else data.kept
    n = there.sum(axis=1).astype(float)
    far = np.where(there, np.abs(data.values), np.inf)  # what was lost ranks last and is not counted
    order = np.argsort(far, axis=1)
    ranks = np.empty_like(far)
    np.put_along_axis(ranks, order, np.broadcast_to(np.arange(1.0, far.shape[1] + 1), far.shape), axis=1)
    positive = (ranks * (there & (data.values > 0))).sum(axis=1)
    n = np.where(n > 0, n, np.nan)
    error = np.sqrt(n * (n + 1) * (2 * n + 1) / 24)
    ranked = level.z(positive - n * (n + 1) / 4, error)
    return replace(analyse_one_mean(data.values, data.kept, None, level), p=ranked.p, statistic=ranked.statistic)


def draw_ordered(
    population: Population, count: int, sizes: tuple[int, ...], shares: tuple[tuple[float, ...], ...]
) -> Groups:
    """Ordered categories, 0 the lowest, as outcomes of two groups; who takes no part answers as the first group."""
    drawn = []
    for n, own in zip(sizes, shares, strict=True):
        mixed = np.array(own) + population.idle * (np.array(shares[0]) - np.array(own))
        uniform = population.rng.random((count, n))
        drawn.append(np.searchsorted(np.cumsum(mixed)[:-1], uniform, side="right").astype(np.float64))
    middle = (len(shares[0]) - 1) / 2
    kept = tuple(population.kept((each - middle) / max(middle, 1.0)) for each in drawn)
    return Groups((drawn[0], drawn[1]), kept)


def analyse_rank_sum(data: Groups, level: Level) -> Found:
    """The Wilcoxon-Mann-Whitney test corrected for ties; the estimate is the chance of a larger one."""
    parts = []
    for values, kept in zip(data.values, data.kept, strict=True):
        parts.append(np.where(kept, values, np.nan) if kept is not None else values)
    n1, n2 = (np.isfinite(each).sum(axis=1).astype(float) for each in parts)
    both = np.concatenate(parts, axis=1)
    ranks, ties = _mid_ranks(both)
    first = np.where(np.isfinite(parts[0]), ranks[:, : parts[0].shape[1]], 0.0).sum(axis=1)
    undone = (n1 < 1) | (n2 < 1)
    total, product = n1 + n2, np.where(undone, np.nan, n1 * n2)
    chance = 1 - (first - n1 * (n1 + 1) / 2) / product
    correction = 1 - ties / np.maximum(total**3 - total, 1)
    error = np.sqrt((total + 1) / (12 * product) * correction)
    found = level.z(chance - 0.5, error)
    return Found(found.p, chance, found.statistic)


def _mid_ranks(values: Array) -> tuple[Array, Array]:
    """Ranks with ties shared, by row, and the sum of t cubed less t over ties; NaN ranks last and ties with nothing."""
    order = np.argsort(values, axis=1, kind="stable")
    held = np.take_along_axis(values, order, axis=1)
    place = np.broadcast_to(np.arange(values.shape[1]), values.shape)
    new = np.ones(values.shape, dtype=bool)
    new[:, 1:] = held[:, 1:] != held[:, :-1]
    start = np.maximum.accumulate(np.where(new, place, 0), axis=1)
    last = np.ones(values.shape, dtype=bool)
    last[:, :-1] = new[:, 1:]
    end = np.minimum.accumulate(np.where(last, place, values.shape[1])[:, ::-1], axis=1)[:, ::-1]
    ranks = np.empty(values.shape)
    np.put_along_axis(ranks, order, (start + end) / 2 + 1, axis=1)
    size = end - start + 1.0
    ties = np.where(np.isfinite(held), size**2 - 1, 0.0).sum(axis=1)
    return ranks, np.asarray(ties)
