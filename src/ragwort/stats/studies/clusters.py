"""Two arms of whole clusters.

All members of all studies of an arm stand in one row, cluster after cluster, study after study, so that uneven
clusters cost nothing. Source: Donner and Klar, *Design and Analysis of Cluster Randomization Trials in Health Research*
(2000), chapter 6 (tests on cluster means).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ragwort.stats.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.studies.counts import Shares, analyse_two_shares
from ragwort.stats.studies.found import Found, Level
from ragwort.stats.studies.means import Moments, pooled_t
from ragwort.stats.studies.world import World

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


@dataclass(frozen=True)
class Arms:
    """Both arms."""

    arms: tuple[Arm, Arm]

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


def draw_measured(world: World, sizes: tuple[Whole, Whole], difference: float, sd: float, icc: float) -> Arms:
    """Measured outcomes; `sd` is the total SD, of which `icc` lies between clusters."""
    arms = []
    for arm, shift, scale in zip(sizes, (0.0, difference / sd), world.sds((1.0, 1.0)), strict=True):
        total = int(arm.sum())
        between = np.repeat(world.rng.standard_normal(arm.size), arm.ravel()) * np.sqrt(icc)
        own = world.shape.noise(world.rng, (total,)) * np.sqrt(1 - icc)
        centre = world.taken(shift, (total,)) if shift else 0.0
        values = world.shape.cut(centre + scale * (between + own))
        arms.append(Arm(arm, sd * values, _left(world, values)))
    return Arms((arms[0], arms[1]))


def _left(world: World, values: Array) -> Array | None:
    kept = world.kept(values)
    return None if kept is None else kept.astype(float)


def draw_yes_no(world: World, sizes: tuple[Whole, Whole], p: tuple[float, float], icc: float) -> Arms:
    """Yes or no; the share of each cluster is a beta variable whose spread makes the ICC."""
    arms = []
    for arm, share in zip(sizes, p, strict=True):
        own = cluster_shares(world.rng, share, icc, arm.shape)
        own = own if world.idle == 0 or share == p[0] else own + world.idle * (p[0] - share)
        chance = np.repeat(own.ravel(), arm.ravel())
        values = (world.rng.random(chance.shape) < chance).astype(float)
        arms.append(Arm(arm, values, _left(world, 2 * values - 1)))
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

    `t` weighs clusters by size and takes the scatter among them: pooled where all are equally large, otherwise arm by
    arm, each cluster's deviation with its own weight. `z` takes SD, ICC and sizes as known. `individuals` is the
    analysis that forgets the clusters.
    """
    if test == "individuals":
        first, second = (arm.members for arm in data.arms)
        return pooled_t(second.mean - first.mean, first, second, level)
    means, known, found, squares, clusters = zip(*(_scatter(arm, sd, icc) for arm in data.arms), strict=True)
    gap = means[1] - means[0]
    if test == "z":
        return level.z(gap, np.sqrt(known[0] + known[1]))
    df = clusters[0] + clusters[1] - 2
    even = all(np.ptp(arm.left) == 0 for arm in data.arms)
    error = squares_error(squares, clusters) if even else found[0] + found[1]
    return level.t(gap, np.sqrt(np.where(df > 0, error, np.nan)), float(df[0]) if np.all(df == df[0]) else df)


def squares_error(squares: tuple[Array, ...], clusters: tuple[Array, ...]) -> Array:
    """The squared error of a difference of arms of equal clusters."""
    (s1, s2), (k1, k2) = squares, clusters
    return (s1 + s2) / np.maximum(k1 + k2 - 2, 1) * (1 / k1 + 1 / k2)


def _scatter(arm: Arm, sd: float, icc: float) -> tuple[Array, Array, Array, Array, Array]:
    """Of one arm: its mean, the error that is known, the one found, the squares of cluster means, its clusters."""
    left = arm.left
    weights = left / left.sum(axis=1, keepdims=True).clip(1)
    own = arm.sums / np.maximum(left, 1)
    mean = (weights * own).sum(axis=1)
    clusters = (left > 0).sum(axis=1).astype(float)
    variance = sd**2 * (icc + (1 - icc) / np.maximum(left, 1))
    apart = np.where(left > 0, own - mean[:, None], 0.0)
    found = clusters / np.maximum(clusters - 1, 1) * (weights**2 * apart**2).sum(axis=1)
    return mean, (weights**2 * variance).sum(axis=1), found, (apart**2).sum(axis=1), clusters


def analyse_yes_no(data: Arms, icc: float, method: str, level: Level) -> Found:
    """The difference of the arms' shares, its variance inflated by the known design effect.

    `individuals` forgets the clusters.
    """
    left = [arm.left for arm in data.arms]
    people = tuple(each.sum(axis=1) for each in left)
    yes = tuple(arm.sums.sum(axis=1) for arm in data.arms)
    enrolled = tuple(int(arm.sizes[0].sum()) for arm in data.arms)
    counts = Shares(yes, people, (enrolled[0], enrolled[1]))
    if method == "individuals":
        return analyse_two_shares(counts, "pooled", level)
    effects = [1 + icc * ((each**2).sum(axis=1) / total.clip(1) - 1) for each, total in zip(left, people, strict=True)]
    return analyse_two_shares(counts, method, level, (effects[0] + effects[1]) / 2)
