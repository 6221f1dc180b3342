"""One study drawn at random and analysed as an analyst would, many times over.

Each function draws `count` studies with the generator `rng` and returns which of them reject (a boolean array of
length `count`). The tests are the textbook ones, written out here on the drawn data; they share with the power
formulas only the central quantiles of normal, t, F and chi-square.

Sources: Altman, *Practical Statistics for Medical Research* (1991), chapters 9 to 12; Searle, *Linear Models* (1971),
section 3.6 (F tests of linear hypotheses); Donner and Klar (2000), chapter 6 (tests on cluster means).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from ragwort.stats.lazily import np, special
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.statistic import Sides, upper_tail

if TYPE_CHECKING:
    from numpy.typing import NDArray

Rejected: TypeAlias = "NDArray[np.bool_]"
Counts: TypeAlias = "NDArray[np.int64]"
Rng: TypeAlias = "np.random.Generator"


@dataclass(frozen=True)
class Level:
    """The alpha of a test and the sides it looks at."""

    alpha: float
    sides: Sides

    def beyond(self, statistic: Array, limit: Number) -> Rejected:
        """Which statistics lie beyond a positive limit, on the sides looked at."""
        above, below = statistic >= limit, statistic <= -limit
        return np.asarray({"two": above | below, "greater": above, "less": below}[self.sides])

    def t(self, statistic: Array, df: Number) -> Rejected:
        """Rejections of a t test."""
        return self.beyond(statistic, -special.stdtrit(df, upper_tail(self.alpha, self.sides)))

    def z(self, statistic: Array) -> Rejected:
        """Rejections of a z test."""
        return self.beyond(statistic, -special.ndtri(upper_tail(self.alpha, self.sides)))

    def f(self, statistic: Array, df1: float, df2: float) -> Rejected:
        """Rejections of an F test."""
        return np.asarray(statistic >= special.fdtri(df1, df2, 1 - self.alpha))


# --- means ---


def one_mean(rng: Rng, count: int, n: int, mean: float, sd: float, known: bool, level: Level) -> Rejected:
    """One sample of values, or of differences within pairs, against 0."""
    values = rng.normal(mean, sd, (count, n))
    centre = values.mean(axis=1)
    if known:
        return level.z(centre / (sd / np.sqrt(n)))
    return level.t(centre / (values.std(axis=1, ddof=1) / np.sqrt(n)), n - 1)


def two_means(
    rng: Rng, count: int, sizes: tuple[int, int], difference: float, sds: tuple[float, float], test: str, level: Level
) -> Rejected:
    """Two groups: `equal` (pooled t), `unequal` (Welch) or `known` (z)."""
    first, second = (rng.normal(0, sd, (count, n)) for n, sd in zip(sizes, sds, strict=True))
    (n1, n2), gap = sizes, difference + second.mean(axis=1) - first.mean(axis=1)
    if test == "known":
        return level.z(gap / np.sqrt(sds[0] ** 2 / n1 + sds[1] ** 2 / n2))
    v1, v2 = first.var(axis=1, ddof=1), second.var(axis=1, ddof=1)
    if test == "equal":
        pooled = ((n1 - 1) * v1 + (n2 - 1) * v2) / (n1 + n2 - 2)
        return level.t(gap / np.sqrt(pooled * (1 / n1 + 1 / n2)), n1 + n2 - 2)
    part1, part2 = v1 / n1, v2 / n2
    df = (part1 + part2) ** 2 / (part1**2 / (n1 - 1) + part2**2 / (n2 - 1))
    return level.t(gap / np.sqrt(part1 + part2), df)


def contrasts(rng: Rng, count: int, sizes: Array, means: Array, basis: Array, level: Level) -> Rejected:
    """Groups or cells with these means and SD 1: the F test that the contrasts (rows of `basis`) are all 0."""
    total, cells = int(sizes.sum()), len(sizes)
    averages = means + rng.normal(size=(count, cells)) / np.sqrt(sizes)
    within = rng.chisquare(total - cells, count) / (total - cells)  # the pooled variance of normal data
    found = averages @ basis.T
    spread = np.linalg.inv((basis / sizes) @ basis.T)
    statistic = np.einsum("ci,ij,cj->c", found, spread, found) / len(basis) / within
    return level.f(statistic, len(basis), total - cells)


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


def repeated(rng: Rng, count: int, sizes: Array, f: float, visits: Visits, level: Level) -> Rejected:
    """Groups measured several times; the effect is a straight line over time, or among groups, or in both.

    Averages and contrasts over time are independent of each other; with a sphericity under 1 the first contrast over
    time, which carries the effect, scatters more than the rest.
    """
    k, m, total = len(sizes), visits.measurements, int(sizes.sum())
    groups = centred_basis(k, 1)[0] * np.sqrt(k) if k > 1 else np.ones(1)
    if visits.term == "between":
        scatter = np.sqrt((1 + (m - 1) * visits.correlation) / m)
        basis = centred_basis(k, k - 1)
        return contrasts(rng, count, sizes, groups * f / scatter, basis, level)
    over_time = np.zeros(m - 1)
    over_time[0] = f * np.sqrt(m)
    uneven = np.sqrt((1 / visits.sphericity - 1) / max(m - 2, 1))
    shares = np.full(m - 1, 1 - uneven)
    shares[0] = 1 + (m - 2) * uneven
    sd = np.sqrt((1 - visits.correlation) * np.maximum(shares, 0))
    pattern = groups if visits.term == "interaction" else np.ones(k)
    means = pattern[:, None] * over_time + rng.normal(size=(count, k, m - 1)) * sd / np.sqrt(sizes)[:, None]
    errors = (rng.chisquare(total - k, (count, m - 1)) * sd**2).sum(axis=1)
    average = np.einsum("k,ckt->ct", sizes / total, means)
    if visits.term == "within":
        squares, rank = total * (average**2).sum(axis=1), 1
    else:
        squares = np.einsum("k,ckt->c", sizes, (means - average[:, None, :]) ** 2)
        rank = k - 1
    df1, df2 = rank * (m - 1), (total - k) * (m - 1)
    statistic = (squares / df1) / (errors / df2)
    return level.f(statistic, df1 * visits.sphericity, df2 * visits.sphericity)


# --- relations ---


def correlation_pairs(rng: Rng, count: int, n: int, rho: float) -> Array:
    """Sample correlations of two jointly normal outcomes."""
    x, noise = rng.normal(size=(2, count, n))
    y = rho * x + np.sqrt(1 - rho**2) * noise
    x, y = x - x.mean(axis=1, keepdims=True), y - y.mean(axis=1, keepdims=True)
    return np.asarray((x * y).sum(axis=1) / np.sqrt((x**2).sum(axis=1) * (y**2).sum(axis=1)))


def regression(rng: Rng, count: int, n: int, predictors: int, tested: int, root: float) -> tuple[Array, Array, Array]:
    """Fixed predictors: the tested part's coordinates (count x tested), and both sums of squares.

    `root` is the signed square root of f squared: how far the effect moves the mean, along the first tested direction.
    """
    x = rng.normal(size=(n, predictors))
    others, own = np.column_stack([np.ones(n), x[:, tested:]]), x[:, :tested]
    outer = np.linalg.qr(np.column_stack([others, own]))[0]
    directions = outer[:, others.shape[1] :]
    y = root * np.sqrt(n) * directions[:, 0] + rng.normal(size=(count, n))
    found = y @ directions
    fitted = y @ outer
    return found, (found**2).sum(axis=1), (y**2).sum(axis=1) - (fitted**2).sum(axis=1)


# --- counts ---


def chi_square_fit(rng: Rng, count: int, n: int, shares: Array, null: Array, level: Level) -> Rejected:
    """Counts in categories against known shares."""
    counts = rng.multinomial(n, shares, count)
    statistic = ((counts - n * null) ** 2 / (n * null)).sum(axis=1)
    return np.asarray(statistic >= special.chdtri(len(null) - 1, level.alpha))


def chi_square_table(rng: Rng, count: int, n: int, table: Array, level: Level) -> Rejected:
    """A contingency table against the product of its own margins; an empty row or column adds nothing."""
    drawn = rng.multinomial(n, table.ravel(), count).reshape(count, *table.shape)
    expected = drawn.sum(axis=2, keepdims=True) * drawn.sum(axis=1, keepdims=True) / n
    parts = np.divide((drawn - expected) ** 2, expected, out=np.zeros_like(expected), where=expected > 0)
    df = (table.shape[0] - 1) * (table.shape[1] - 1)
    return np.asarray(parts.sum(axis=(1, 2)) >= special.chdtri(df, level.alpha))


def one_proportion(rng: Rng, count: int, n: int, p: float, null: float, method: str, level: Level) -> Rejected:
    """A count against a known share: `exact` by summed probabilities, `score` or `arcsine`."""
    yes = rng.binomial(n, p, count)
    if method == "exact":
        tail = upper_tail(level.alpha, level.sides) * (1 + 1e-12)
        above = np.where(yes > 0, special.bdtrc(yes - 1, n, null), 1.0) <= tail
        below = special.bdtr(yes, n, null) <= tail
        return np.asarray({"two": above | below, "greater": above, "less": below}[level.sides])
    share = yes / n
    if method == "score":
        return level.z((share - null) / np.sqrt(null * (1 - null) / n))
    return level.z(2 * np.sqrt(n) * (np.arcsin(np.sqrt(share)) - np.arcsin(np.sqrt(null))))


def two_proportions(
    rng: Rng, count: int, sizes: tuple[int, int], p: tuple[float, float], method: str, level: Level
) -> Rejected:
    """Two counts: `pooled`, `unpooled`, `arcsine` or `fisher`."""
    (n1, n2), (x1, x2) = sizes, (rng.binomial(n, share, count) for n, share in zip(sizes, p, strict=True))
    if method == "fisher":
        return _fisher(x1, x2, n1, n2, level)
    p1, p2 = x1 / n1, x2 / n2
    if method == "arcsine":
        h = 2 * np.arcsin(np.sqrt(p2)) - 2 * np.arcsin(np.sqrt(p1))
        return level.z(h * np.sqrt(n1 * n2 / (n1 + n2)))
    return level.z(_standardised(p2 - p1, _variance(p1, p2, n1, n2, method)))


def _variance(p1: Array, p2: Array, n1: float, n2: float, method: str) -> Array:
    if method == "unpooled":
        return np.asarray(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2)
    mean = (n1 * p1 + n2 * p2) / (n1 + n2)
    return np.asarray(mean * (1 - mean) * (1 / n1 + 1 / n2))


def _standardised(gap: Array, variance: Array) -> Array:
    """The statistic; 0 where nothing varies and nothing differs."""
    return np.divide(gap, np.sqrt(variance), out=np.where(gap == 0, 0.0, np.sign(gap) * 1e300), where=variance > 0)


def _fisher(x1: Counts, x2: Counts, n1: int, n2: int, level: Level) -> Rejected:
    """Fisher's test of each study, each pair of counts looked up once."""
    pairs, place = np.unique(np.column_stack([x1, x2]), axis=0, return_inverse=True)
    p = np.array([_fisher_p(int(a), int(b), n1, n2, level.sides) for a, b in pairs])
    return np.asarray((p <= level.alpha * (1 + 1e-12))[place.ravel()])


def _fisher_p(x1: int, x2: int, n1: int, n2: int, sides: Sides) -> float:
    margin = x1 + x2
    counts = np.arange(max(0, margin - n1), min(margin, n2) + 1)
    logs = _log_choose(n2, counts) + _log_choose(n1, margin - counts)
    pmf = np.exp(logs - _log_choose(n1 + n2, np.array(margin)))
    at = x2 - int(counts[0])
    if sides == "two":
        return float(pmf[pmf <= pmf[at] * (1 + 1e-7)].sum())
    return float(pmf[at:].sum() if sides == "greater" else pmf[: at + 1].sum())


def _log_choose(n: int, k: Counts) -> Array:
    return np.asarray(special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1))


# --- clusters ---


def cluster_sizes(rng: Rng, count: int, clusters: int, mean: float, cv: float) -> Array:
    """Cluster sizes (count x clusters), whole and at least 1: all near the mean, or scattered as a gamma variable."""
    if cv == 0:
        return np.full((count, clusters), max(round(mean), 1))
    return np.asarray(np.maximum(np.round(rng.gamma(1 / cv**2, mean * cv**2, (count, clusters))), 1))


def cluster_means(
    rng: Rng, sizes: tuple[Array, Array], difference: float, sd: float, icc: float, test: str, level: Level
) -> Rejected:
    """Two arms of clusters (arrays count x clusters): the difference of the arms' means.

    `t` weighs clusters by size and takes the scatter among them: pooled where all are equally large, otherwise arm by
    arm, each cluster's deviation with its own weight. `z` takes SD, ICC and sizes as known.
    """
    means, known, found, pooled = [], [], [], []
    for arm, shift in zip(sizes, (0.0, difference), strict=True):
        variance = sd**2 * (icc + (1 - icc) / arm)
        own = shift + rng.normal(size=arm.shape) * np.sqrt(variance)
        weights = arm / arm.sum(axis=1, keepdims=True)
        mean = (weights * own).sum(axis=1)
        clusters = arm.shape[1]
        means.append(mean)
        known.append((weights**2 * variance).sum(axis=1))
        found.append(clusters / (clusters - 1) * (weights**2 * (own - mean[:, None]) ** 2).sum(axis=1))
        pooled.append(((own - mean[:, None]) ** 2).sum(axis=1))
    gap, (k1, k2) = means[1] - means[0], (arm.shape[1] for arm in sizes)
    if test == "z":
        return level.z(gap / np.sqrt(known[0] + known[1]))
    even = bool(np.ptp(sizes[0]) == 0 and np.ptp(sizes[1]) == 0)
    squares = (pooled[0] + pooled[1]) / (k1 + k2 - 2) * (1 / k1 + 1 / k2) if even else found[0] + found[1]
    return level.t(gap / np.sqrt(squares), k1 + k2 - 2)


def _cluster_shares(rng: Rng, share: float, icc: float, shape: tuple[int, ...]) -> Array:
    """The share of each cluster: a beta variable with this mean, whose spread makes the ICC."""
    if icc == 0:
        return np.full(shape, share)
    if icc == 1:
        return rng.binomial(1, share, shape).astype(float)
    return rng.beta(share * (1 - icc) / icc, (1 - share) * (1 - icc) / icc, shape)


def cluster_proportions(
    rng: Rng, sizes: tuple[Array, Array], p: tuple[float, float], icc: float, method: str, level: Level
) -> Rejected:
    """Two arms of clusters whose shares are beta variables; the variance is inflated by the known design effect."""
    shares, people, inflation = [], [], []
    for arm, share in zip(sizes, p, strict=True):
        own = _cluster_shares(rng, share, icc, arm.shape)
        total = arm.sum(axis=1)
        shares.append(rng.binomial(arm.astype(np.int64), own).sum(axis=1) / total)
        people.append(total)
        inflation.append(1 + icc * ((arm**2).sum(axis=1) / total - 1))
    design_effect = (inflation[0] + inflation[1]) / 2
    variance = _variance(shares[0], shares[1], people[0], people[1], method) * design_effect
    return level.z(_standardised(shares[1] - shares[0], variance))
