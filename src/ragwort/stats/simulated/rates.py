"""Counts of events per unit of time in two groups, compared on the logarithm of their rates.

Sources: Armitage, Berry and Matthews, *Statistical Methods in Medical Research* (4th ed., 2002), section 5.4 (two
rates); Zhu and Lakkis, Statistics in Medicine 33 (2014), pages 376-387 (overdispersed counts).
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np, special
from ragwort.stats import poisson
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Kept, Population


@dataclass(frozen=True)
class Events:
    """Events of each participant of two groups (studies x participants each), all watched equally long."""

    counts: tuple[Array, Array]
    kept: tuple[Kept, Kept]

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; a lost count is NaN."""
        found, which = [], []
        for group, (counts, kept) in enumerate(zip(self.counts, self.kept, strict=True)):
            own = counts[number]
            found.append(own if kept is None else np.where(kept[number], own, np.nan))
            which.append(np.full(len(own), float(group)))
        return {"group": np.concatenate(which), "outcome": np.concatenate(found)}

    def until(self, share: float) -> Events:
        """See `early.InOrder`."""
        (one, two), (left, there) = (tuple(prefix(each, share) for each in of) for of in (self.counts, self.kept))
        return Events((one, two), (left, there))


def draw_events(
    population: Population, count: int, sizes: tuple[int, ...], means: tuple[float, float], dispersion: float
) -> Events:
    """Poisson counts, or negative binomial ones with variance m + dispersion m squared."""
    drawn = []
    for n, mean in zip(sizes, means, strict=True):
        centre = means[0] + population.taken(mean - means[0], (count, n))
        if dispersion > 0:
            centre = centre * population.rng.gamma(1 / dispersion, dispersion, (count, n))
        drawn.append(population.rng.poisson(np.broadcast_to(centre, (count, n))).astype(np.float64))
    spread = np.sqrt(means[0] + dispersion * means[0] ** 2)
    kept = tuple(population.kept((each - means[0]) / spread) for each in drawn)
    return Events((drawn[0], drawn[1]), (kept[0], kept[1]))


def analyse_events(data: Events, dispersion: float, method: str, level: Level) -> Found:
    """The Wald test of the log rate ratio with the planned dispersion; a group without events counts half a one."""
    n1, n2 = (_people(*both) for both in zip(data.counts, data.kept, strict=True))
    m1, m2 = (_mean(*both) for both in zip(data.counts, data.kept, strict=True))
    gap = np.log(m2 / m1)
    own = (1 / m1 + dispersion) / n1 + (1 / m2 + dispersion) / n2
    plain = level.z(gap, np.sqrt(own))
    if method == "unpooled":
        return plain
    both = (n1 * m1 + n2 * m2) / (n1 + n2)
    found = level.z(gap, np.sqrt((1 / both + dispersion) * (1 / n1 + 1 / n2)))
    return Found(found.p, gap, found.statistic, plain.low, plain.high)


def _people(counts: Array, kept: Kept) -> Array:
    there = np.full(len(counts), float(counts.shape[1])) if kept is None else kept.sum(axis=1).astype(float)
    return np.where(there > 0, there, np.nan)


def _mean(counts: Array, kept: Kept) -> Array:
    total = (counts if kept is None else np.where(kept, counts, 0)).sum(axis=1)
    return np.asarray(np.maximum(total, 0.5) / _people(counts, kept))


@dataclass(frozen=True)
class OneGroupsEvents:
    """Events of each participant of one group (studies x participants), all watched equally long."""

    counts: Array
    kept: Kept

    def study(self, number: int) -> dict[str, Array]:
        """See `Events.study`."""
        own = self.counts[number]
        return {"outcome": own if self.kept is None else np.where(self.kept[number], own, np.nan)}


def draw_one_group(population: Population, count: int, n: int, mean: float) -> OneGroupsEvents:
    """Poisson counts."""
    drawn = population.rng.poisson(mean, (count, n)).astype(np.float64)
    return OneGroupsEvents(drawn, population.kept((drawn - mean) / np.sqrt(mean)))


def analyse_one_rate(data: OneGroupsEvents, null: float, exposure: float, method: str, level: Level) -> Found:
    """Events against a known rate, `exact` or by the `score` test; the exact interval is Garwood's.

    Garwood, Biometrika 28 (1936), pages 437-442.
    """
    time = _people(data.counts, data.kept) * exposure
    events = (data.counts if data.kept is None else np.where(data.kept, data.counts, 0)).sum(axis=1)
    rate = events / time
    if method == "score":
        found = level.z(rate - null, np.sqrt(null / time))
        reach = -special.ndtri(level.tail) * np.sqrt(rate / time)
        return Found(found.p, rate, found.statistic, rate - reach, rate + reach)
    p = level.p_of(poisson.at_or_above(events, null * time), poisson.at_or_below(events, null * time))
    low = np.where(events > 0, special.chdtri(2 * np.maximum(events, 1), 1 - level.tail) / 2, 0.0) / time
    high = special.chdtri(2 * (events + 1), level.tail) / 2 / time
    return Found(p, rate, np.full(rate.shape, np.nan), low, high)
