"""One mean, pairs, two means: drawn, and tested by t or z.

Source: Altman, *Practical Statistics for Medical Research* (1991), chapter 9.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Kept, Population


@dataclass(frozen=True)
class Moments:
    """Size, mean and variance of a group in each study; NaN where too few are left."""

    n: Array
    mean: Array
    variance: Array

    @property
    def squared_error(self) -> Array:
        """Of the mean."""
        return self.variance / self.n


def moments(values: Array, kept: Kept = None) -> Moments:
    """Of values (studies x participants), of whom some may be lost."""
    if kept is None:
        n = np.full(len(values), float(values.shape[1]))
        mean = values.mean(axis=1)
        squares = np.einsum("ij,ij->i", values, values) - n * mean**2
    else:
        n = kept.sum(axis=1).astype(float)
        held = np.where(kept, values, 0.0)
        mean = _over(held.sum(axis=1), n)
        squares = ((held - mean[:, None]) ** 2 * kept).sum(axis=1)
    return Moments(n, mean, _over(np.maximum(squares, 0.0), n - 1))


def _over(total: Array, count: Array) -> Array:
    return np.asarray(np.divide(total, count, out=np.full(total.shape, np.nan), where=count > 0))


@dataclass(frozen=True)
class Groups:
    """Outcomes of groups of participants: for each group an array (studies x participants), in the outcome's unit."""

    values: tuple[Array, ...]
    kept: tuple[Kept, ...]

    @property
    def moments(self) -> tuple[Moments, ...]:
        """Of each group."""
        return tuple(moments(*both) for both in zip(self.values, self.kept, strict=True))

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant; a lost outcome is NaN."""
        outcomes = [_held(values, kept, number) for values, kept in zip(self.values, self.kept, strict=True)]
        which = [np.full(len(each), group) for group, each in enumerate(outcomes)]
        return {"group": np.concatenate(which), "outcome": np.concatenate(outcomes)}

    def until(self, share: float) -> Groups:
        """See `early.InOrder`."""
        return Groups(*(tuple(prefix(each, share) for each in of) for of in (self.values, self.kept)))


def _held(values: Array, kept: Kept, number: int) -> Array:
    return values[number] if kept is None else np.where(kept[number], values[number], np.nan)


def draw_groups(
    population: Population,
    count: int,
    sizes: tuple[int, ...],
    effects: tuple[float, ...],
    sds: tuple[float, ...],
    base: float,
) -> Groups:
    """Groups that differ from `base` by `effects`, with their SDs; those with no effect have nothing to miss."""
    unit, drawn = sds[0], []
    for n, effect, sd in zip(sizes, effects, population.sds(sds), strict=True):
        centre = population.taken(effect / unit, (count, n)) if effect else 0.0
        drawn.append(population.outcomes(centre, sd / unit, (count, n)))
    kept = tuple(population.kept(values) for values in drawn)
    return Groups(tuple(base + unit * values for values in drawn), kept)


def analyse_two_means(data: Groups, test: str, sds: tuple[float, float], level: Level) -> Found:
    """Two groups: `equal` (pooled t), `unequal` (Welch) or `known` (z, with the SDs that are known)."""
    first, second = data.moments
    gap = second.mean - first.mean
    if test == "known":
        return level.z(gap, np.sqrt(sds[0] ** 2 / first.n + sds[1] ** 2 / second.n))
    return pooled_t(gap, first, second, level) if test == "equal" else welch_t(gap, first, second, level)


def pooled_t(gap: Array, first: Moments, second: Moments, level: Level) -> Found:
    """Student's t test."""
    df = first.n + second.n - 2
    pooled = ((first.n - 1) * first.variance + (second.n - 1) * second.variance) / df
    return level.t(gap, np.sqrt(pooled * (1 / first.n + 1 / second.n)), _same(df))


def _same(df: Array) -> Number:
    """Degrees of freedom as one number where they are, so that their quantile is worked out once."""
    return float(df[0]) if len(df) and np.all(df == df[0]) else df


def welch_t(gap: Array, first: Moments, second: Moments, level: Level) -> Found:
    """Welch's t test with Satterthwaite's degrees of freedom."""
    part1, part2 = first.squared_error, second.squared_error
    with np.errstate(invalid="ignore"):
        df = (part1 + part2) ** 2 / (part1**2 / (first.n - 1) + part2**2 / (second.n - 1))
    return level.t(gap, np.sqrt(part1 + part2), df)


def analyse_one_mean(values: Array, kept: Kept, sd: float | None, level: Level) -> Found:
    """Values against 0: the t test, or the z test with the SD that is known."""
    found = moments(values, kept)
    if sd is not None:
        return level.z(found.mean, sd / np.sqrt(found.n))
    return level.t(found.mean, np.sqrt(found.squared_error), _same(found.n - 1))


@dataclass(frozen=True)
class OneSample:
    """Outcomes of one group (studies x participants), as distances from the reference, which is kept beside."""

    values: Array
    kept: Kept
    reference: float

    def study(self, number: int) -> dict[str, Array]:
        """See `Groups.study`."""
        return {"outcome": self.reference + _held(self.values, self.kept, number)}

    def until(self, share: float) -> OneSample:
        """See `early.InOrder`."""
        return replace(self, values=prefix(self.values, share), kept=prefix(self.kept, share))


@dataclass(frozen=True)
class Pairs:
    """Two outcomes of each pair (studies x pairs each)."""

    first: Array
    second: Array
    kept: Kept
    reference: float  # the mean difference without an effect

    @property
    def differences(self) -> Array:
        """Beyond the reference."""
        return self.second - self.first - self.reference

    def study(self, number: int) -> dict[str, Array]:
        """See `Groups.study`."""
        both = (_held(values, self.kept, number) for values in (self.first, self.second))
        return dict(zip(("first", "second"), both, strict=True))

    def until(self, share: float) -> Pairs:
        """See `early.InOrder`."""
        first, second, kept = (prefix(each, share) for each in (self.first, self.second, self.kept))
        return replace(self, first=first, second=second, kept=kept)


def draw_pairs(
    population: Population, count: int, n: int, difference: float, reference: float, scatter: tuple[float, float, float]
) -> Pairs:
    """Pairs with a mean difference; `scatter` is the SD of the first, of the second, and their correlation."""
    sd1, sd2, correlation = scatter
    one = population.shape.noise(population.rng, (count, n))
    own = population.shape.noise(population.rng, (count, n))
    other = sd2 / sd1 * (correlation * one + np.sqrt(1 - correlation**2) * own)
    shift = (population.taken(difference, (count, n)) + reference) / sd1
    first, second = population.shape.cut(one), population.shape.cut(other + shift)
    return Pairs(sd1 * first, sd1 * second, population.kept(first), reference)
