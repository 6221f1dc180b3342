"""Two arms of whole clusters.

All members of all studies of an arm stand in one row, cluster after cluster, study after study, so that uneven
clusters cost nothing. Source: Donner and Klar, *Design and Analysis of Cluster Randomization Trials in Health Research*
(2000), chapter 6 (tests on cluster means).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.counts import Shares, analyse_two_shares
from ragwort.stats.simulated.early import people
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.means import Moments, pooled_t
from ragwort.stats.simulated.population import Population

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Whole = NDArray[np.int64]


def cluster_sizes(rng: np.random.Generator, count: int, clusters: int, mean: float, cv: float) -> Whole:
    """Cluster sizes (count x clusters), whole and at least 1: all near the mean, or scattered as a gamma variable."""
    if cv == 0:
        return np.full((count, clusters), max(round(mean), 1), dtype=np.int64)
    drawn = np.round(rng.gamma(1 / cv**2, mean * cv**2, (count, clusters)))
    return np.asarray(np.maximum(drawn, 1).astype(np.int64))


@dataclass(frozen=True)
class Arm:
    """One arm in every study: how large its clusters are (studies x clusters), and their members' outcomes."""

    sizes: Whole
    values: Array  # of all members, in a row
    there: Array | None  # 1 for who is left, 0 for who is lost; None where all are left

    def _by_cluster(self, values: Array) -> Array:
        """Sums over the members of each cluster (studies x clusters)."""
        flat = self.sizes.ravel()
        starts = np.concatenate([[0], np.cumsum(flat)[:-1]])
        return np.asarray(np.add.reduceat(values, starts).reshape(self.sizes.shape))

    @property
    def left(self) -> Array:
        """How many of each cluster are left."""
        return self.sizes.astype(float) if self.there is None else self._by_cluster(self.there)

    @property
    def sums(self) -> Array:
        """Sums of the outcomes of those who are left."""
        return self._by_cluster(self.values if self.there is None else self.values * self.there)

    @property
    def members(self) -> Moments:
        """Of all members of a study, as if they did not come in clusters."""
        held = self.values if self.there is None else self.values * self.there
        n, total, squares = self.left.sum(axis=1), self.sums.sum(axis=1), self._by_cluster(held**2).sum(axis=1)
        mean = total / n.clip(1)
        return Moments(n, mean, np.maximum(squares - n * mean**2, 0) / np.maximum(n - 1, 1))

    def study(self, number: int) -> tuple[Array, Array]:
        """Cluster and outcome of each member of one study; a lost outcome is NaN."""
        ends = np.cumsum(self.sizes.sum(axis=1))
        part = slice(int(ends[number - 1]) if number else 0, int(ends[number]))
        values = self.values[part] if self.there is None else np.where(self.there[part] > 0, self.values[part], np.nan)
        return np.repeat(np.arange(self.sizes.shape[1]), self.sizes[number]), values

    def until(self, share: float) -> Arm:
        """Of each study the first clusters. See `early.InOrder`."""
        clusters = self.sizes.shape[1]
        there = np.broadcast_to(np.arange(clusters) < people(share, clusters), self.sizes.shape)
        members = np.repeat(there.ravel(), self.sizes.ravel())
        kept = None if self.there is None else self.there[members]
        return Arm(self.sizes[:, : people(share, clusters)], self.values[members], kept)


@dataclass(frozen=True)
class Arms:
    """Both arms."""

    arms: tuple[Arm, Arm]

    def moved(self, edge: float) -> Arms:
        """The second arm's outcomes less the edge of a null hypothesis."""
        one, two = self.arms
        return self if not edge else Arms((one, replace(two, values=two.values - edge)))

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant."""
        group, cluster, outcome, before = [], [], [], 0
        for which, arm in enumerate(self.arms):
            own, values = arm.study(number)
            group.append(np.full(len(own), which))
            cluster.append(own + before)
            outcome.append(values)
            before += arm.sizes.shape[1]
        names = ("group", "cluster", "outcome")
        return dict(zip(names, (np.concatenate(each) for each in (group, cluster, outcome)), strict=True))

    def until(self, share: float) -> Arms:
        """See `early.InOrder`."""
        first, second = (arm.until(share) for arm in self.arms)
        return Arms((first, second))


def seen_arms(groups: Sequence[Array]) -> Arms:
    """The arms of one real study, each as rows of cluster (a number) and outcome."""
    arms = []
    for rows in groups:
        order = np.argsort(rows[:, 0], kind="stable")
        sizes = np.unique(rows[:, 0], return_counts=True)[1]
        arms.append(Arm(sizes[None, :].astype(np.int64), rows[order, 1], None))
    return Arms((arms[0], arms[1]))


def draw_measured(population: Population, sizes: tuple[Whole, Whole], difference: float, sd: float, icc: float) -> Arms:
    """Measured outcomes; `sd` is the total SD, of which `icc` lies between clusters."""
    arms = []
    for arm, shift, scale in zip(sizes, (0.0, difference / sd), population.sds((1.0, 1.0)), strict=True):
        total = int(arm.sum())
        between = np.repeat(population.rng.standard_normal(arm.size), arm.ravel()) * np.sqrt(icc)
        own = population.shape.noise(population.rng, (total,)) * np.sqrt(1 - icc)
        centre = population.taken(shift, (total,)) if shift else 0.0
        values = population.shape.cut(centre + scale * (between + own))
        arms.append(Arm(arm, sd * values, _left(population, values)))
    return Arms((arms[0], arms[1]))


def _left(population: Population, values: Array) -> Array | None:
    kept = population.kept(values)
    return None if kept is None else kept.astype(float)


def draw_yes_no(population: Population, sizes: tuple[Whole, Whole], p: tuple[float, float], icc: float) -> Arms:
    """Yes or no; the share of each cluster is a beta variable whose spread makes the ICC."""
    arms = []
    for arm, share in zip(sizes, p, strict=True):
        own = cluster_shares(population.rng, share, icc, arm.shape)
        own = own if population.idle == 0 or share == p[0] else own + population.idle * (p[0] - share)
        chance = np.repeat(own.ravel(), arm.ravel())
        values = (population.rng.random(chance.shape) < chance).astype(float)
        arms.append(Arm(arm, values, _left(population, 2 * values - 1)))
    return Arms((arms[0], arms[1]))


def cluster_shares(rng: np.random.Generator, share: float, icc: float, shape: tuple[int, ...]) -> Array:
    """The share of each cluster."""
    if icc == 0:
        return np.full(shape, share)
    if icc == 1:
        return rng.binomial(1, share, shape).astype(float)
    return rng.beta(share * (1 - icc) / icc, (1 - share) * (1 - icc) / icc, shape)


def analyse_measured(data: Arms, sd: float, icc: float, test: str, level: Level) -> Found:
    """The difference of the arms' means.

    `t` is the t test on cluster means, each weighted by the inverse of its variance at the planned ICC; how large these
    variances are is taken from their scatter, pooled over the arms. `z` weighs clusters by size and takes SD and ICC
    as known. `individuals` is the analysis that forgets the clusters.
    """
    if test == "individuals":
        first, second = (arm.members for arm in data.arms)
        return pooled_t(second.mean - first.mean, first, second, level)
    arms = [_ClusterMeans.of(arm, icc, by_size=test == "z") for arm in data.arms]
    gap = arms[1].mean - arms[0].mean
    if test == "z":
        return level.z(gap, sd * np.sqrt(arms[0].error + arms[1].error))
    df = arms[0].clusters + arms[1].clusters - 2
    scale = (arms[0].squares + arms[1].squares) / np.maximum(df, 1)
    error = np.where(df > 0, scale * (arms[0].error + arms[1].error), np.nan)
    return level.t(gap, np.sqrt(error), float(df[0]) if np.all(df == df[0]) else df)


@dataclass(frozen=True)
class _ClusterMeans:
    """Of one arm in every study, for people that vary by 1 in all."""

    mean: Array  # weighted, of the cluster means
    error: Array  # its variance
    squares: Array  # of the cluster means around it, each over its variance
    clusters: Array  # that have somebody left

    @classmethod
    def of(cls, arm: Arm, icc: float, by_size: bool) -> _ClusterMeans:
        """Weighted by the size of a cluster, or by the inverse of the variance of its mean."""
        left = arm.left
        there = np.maximum(left, 1)
        variance = icc + (1 - icc) / there
        weights = np.where(left > 0, there if by_size else 1 / variance, 0.0)
        weights = weights / weights.sum(axis=1, keepdims=True).clip(1e-300)
        own = arm.sums / there
        mean = (weights * own).sum(axis=1)
        apart = np.where(left > 0, own - mean[:, None], 0.0)
        error = (weights**2 * variance).sum(axis=1)
        return cls(mean, error, (apart**2 / variance).sum(axis=1), (left > 0).sum(axis=1).astype(float))


def analyse_yes_no(data: Arms, icc: float, method: str, test: str, level: Level) -> Found:
    """The difference of the arms' shares.

    `t` takes the scatter among the shares of clusters, as `analyse_measured` does; `z` the variance of a share,
    inflated by the known design effect. `individuals` forgets the clusters.
    """
    if test == "t" and method != "individuals":
        return analyse_measured(data, 1.0, icc, test, level)
    left = [arm.left for arm in data.arms]
    people = tuple(each.sum(axis=1) for each in left)
    yes = tuple(arm.sums.sum(axis=1) for arm in data.arms)
    enrolled = tuple(int(arm.sizes[0].sum()) for arm in data.arms)
    counts = Shares(yes, people, (enrolled[0], enrolled[1]))
    if method == "individuals":
        return analyse_two_shares(counts, "pooled", level)
    effects = [1 + icc * ((each**2).sum(axis=1) / total.clip(1) - 1) for each, total in zip(left, people, strict=True)]
    return analyse_two_shares(counts, method, level, (effects[0] + effects[1]) / 2)
