"""Groups or cells compared by an F test, measured once or several times.

Source: Searle, *Linear Models* (1971), section 3.6 (F tests of linear hypotheses).
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level, divided
from ragwort.stats.simulated.means import Groups
from ragwort.stats.simulated.population import Kept, Population


def analyse_contrasts(data: Groups, basis: Array, level: Level) -> Found:
    """The F test that contrasts among the groups' means (rows of `basis`) are all 0."""
    found = data.moments
    n, means = (np.stack([getattr(each, name) for each in found], axis=1) for name in ("n", "mean"))
    within = sum(np.where(each.n > 1, (each.n - 1) * each.variance, 0.0) for each in found)
    return contrast_test(n, means, np.asarray(within), basis, level)


def contrast_test(n: Array, means: Array, within: Array, basis: Array, level: Level) -> Found:
    """The same from sizes and means (studies x groups) and the sum of squares within groups. The estimate is f."""
    left = n.sum(axis=1) - n.shape[1]
    undone = np.any(n < 1, axis=1) | (left < 1)
    apart = np.where(undone[:, None], 0.0, means) @ basis.T
    squares = _squares(apart, np.where(undone[:, None], 1.0, n), basis)
    statistic = divided(squares / len(basis), within / np.maximum(left, 1))
    statistic = np.where(undone, np.nan, statistic)
    estimate = np.sqrt(np.maximum(len(basis) * statistic, 0) / n.sum(axis=1).clip(1))
    return level.f(statistic, float(len(basis)), left, estimate)


def _squares(apart: Array, n: Array, basis: Array) -> Array:
    """The sum of squares of contrasts that were found."""
    if np.all(n == n[0]):
        spread = np.linalg.inv((basis / n[0]) @ basis.T)
        return np.asarray(np.einsum("ci,ij,cj->c", apart, spread, apart))
    spread = np.einsum("ik,ck,jk->cij", basis, 1 / n, basis)
    return np.asarray(np.einsum("ci,ci->c", apart, np.linalg.solve(spread, apart[:, :, None])[:, :, 0]))


def orthonormal(columns: Array) -> Array:
    """Orthonormal rows that span the columns."""
    return np.asarray(np.linalg.qr(columns)[0].T)


def centred_basis(cells: int, dimensions: int) -> Array:
    """Orthonormal contrasts of that many dimensions among the cells, the straight line first."""
    line = np.arange(cells, dtype=float)
    powers = np.vander((line - line.mean()) / cells, dimensions + 1, increasing=True)
    return orthonormal(powers)[1:]


@dataclass(frozen=True)
class Visits:
    """Repeated measurements: how often, how alike, and how unevenly (sphericity)."""

    measurements: int
    correlation: float
    sphericity: float
    term: str


@dataclass(frozen=True)
class Courses:
    """Outcomes over time: for each group an array (studies x participants x visits), in SDs."""

    values: tuple[Array, ...]
    kept: tuple[Kept, ...]

    def study(self, number: int) -> dict[str, Array]:
        """See `Groups.study`: a column for each visit."""
        held = [
            values[number] if kept is None else np.where(kept[number][:, None], values[number], np.nan)
            for values, kept in zip(self.values, self.kept, strict=True)
        ]
        all_of_them = np.concatenate(held)
        group = np.concatenate([np.full(len(each), which) for which, each in enumerate(held)])
        return {"group": group, **{f"visit {i + 1}": all_of_them[:, i] for i in range(all_of_them.shape[1])}}


def draw_courses(population: Population, count: int, sizes: tuple[int, ...], f: float, visits: Visits) -> Courses:
    """Groups measured several times; the effect is a straight line over time, or among groups, or in both.

    With a sphericity under 1 the first contrast over time, which carries the effect, scatters more than the rest.
    """
    k, m = len(sizes), visits.measurements
    groups = centred_basis(k, 1)[0] * np.sqrt(k) if k > 1 else np.ones(1)
    line = centred_basis(m, 1)[0] * np.sqrt(m)
    course = np.ones(m) if visits.term == "between" else line
    pattern = np.ones(k) if visits.term == "within" else groups
    mix, sds = _mixture(visits).T, population.sds((1.0,) * k)
    drawn, kept = [], []
    for n, own, sd in zip(sizes, pattern, sds, strict=True):
        noise = (population.shape.noise(population.rng, (count * n, m)) @ mix).reshape(count, n, m)
        part = population.taken(1.0, (count, n, 1))
        values = population.shape.cut(sd * noise + part * (own * f * course))
        drawn.append(values)
        kept.append(population.kept(values.mean(axis=2)))
    return Courses(tuple(drawn), tuple(kept))


def _mixture(visits: Visits) -> Array:
    """What makes visits with this correlation and sphericity of independent noise: a symmetric root."""
    m = visits.measurements
    uneven = np.sqrt((1 / visits.sphericity - 1) / max(m - 2, 1))
    shares = np.full(m - 1, 1 - uneven)
    shares[0] = 1 + (m - 2) * uneven
    rows = np.vstack([np.full(m, 1 / np.sqrt(m)), centred_basis(m, m - 1)])
    variances = np.r_[1 + (m - 1) * visits.correlation, (1 - visits.correlation) * np.maximum(shares, 0)]
    return np.asarray((rows.T * np.sqrt(variances)) @ rows)


def analyse_courses(data: Courses, visits: Visits, level: Level) -> Found:
    """The F test of groups, of time, or of both together; degrees of freedom by the planned sphericity.

    The estimate is f on the scale of single outcomes.
    """
    k, m = len(data.values), visits.measurements
    if visits.term == "between":
        averages = Groups(tuple(values.mean(axis=2) for values in data.values), data.kept)
        scatter = np.sqrt((1 + (m - 1) * visits.correlation) / m)
        found = analyse_contrasts(averages, centred_basis(k, k - 1), level)
        return Found(found.p, found.estimate * scatter, found.statistic)
    n, means, errors = _over_time(data, centred_basis(m, m - 1))
    total = n.sum(axis=1)
    average = np.einsum("ck,ckt->ct", n, means) / total[:, None]
    if visits.term == "within":
        squares, rank = total * (average**2).sum(axis=1), 1
    else:
        squares = np.einsum("ck,ckt->c", n, (means - average[:, None, :]) ** 2)
        rank = k - 1
    df1, df2 = rank * (m - 1), (total - k) * (m - 1)
    statistic = divided(squares / df1, errors / np.maximum(df2, 1))
    statistic = np.where((n < 1).any(axis=1) | (df2 < 1), np.nan, statistic)
    estimate = np.sqrt(statistic * df1 / total * (1 - visits.correlation) / m)
    return level.f(statistic, df1 * visits.sphericity, df2 * visits.sphericity, estimate)


def _over_time(data: Courses, contrasts: Array) -> tuple[Array, Array, Array]:
    """Sizes (studies x groups), means of the contrasts over time, and their sum of squares within groups."""
    sizes, means, errors = [], [], 0.0
    for values, kept in zip(data.values, data.kept, strict=True):
        along = values @ contrasts.T
        there = np.ones(along.shape[:2]) if kept is None else kept.astype(float)
        n = there.sum(axis=1)
        mean = np.einsum("ci,cit->ct", there, along) / np.maximum(n, 1)[:, None]
        errors = errors + np.einsum("ci,cit->c", there, (along - mean[:, None, :]) ** 2)
        sizes.append(n)
        means.append(mean)
    return np.stack(sizes, axis=1), np.stack(means, axis=1), np.asarray(errors)
