"""Counts: one or two proportions, categories and tables.

Sources: Altman, *Practical Statistics for Medical Research* (1991), chapter 10; Newcombe, *Statistics in Medicine* 17
(1998), pages 857-872 (intervals for one proportion).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, TypeAlias

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array, Number
from ragwort.stats.restricted import restricted_shares
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Population
from ragwort.stats.statistic import Sides

if TYPE_CHECKING:
    from numpy.typing import NDArray

Counts: TypeAlias = "NDArray[np.int64]"


@dataclass(frozen=True)
class Shares:
    """How many of each group have the outcome, of how many (arrays by study), and how many were lost."""

    yes: tuple[Counts, ...]
    of: tuple[Counts, ...]
    enrolled: tuple[int, ...]

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant: 1 with the outcome, 0 without, NaN where lost."""
        outcomes, which = [], []
        for group, (yes, of, n) in enumerate(zip(self.yes, self.of, self.enrolled, strict=True)):
            marks = np.full(n, np.nan)
            marks[: of[number]] = 0.0
            marks[: yes[number]] = 1.0
            outcomes.append(np.random.default_rng(number).permutation(marks))
            which.append(np.full(n, group))
        return {"group": np.concatenate(which), "outcome": np.concatenate(outcomes)}

    def unrolled(self) -> Answers:
        """In a random order, which is always the same for the same counts."""
        rng = np.random.default_rng([int(each.sum()) for each in (*self.yes, *self.of)])
        both = zip(self.yes, self.of, self.enrolled, strict=True)
        return Answers(tuple(_one_by_one(rng, *each) for each in both))


@dataclass(frozen=True)
class Answers:
    """The same person by person, in the order in which they came: 1 or 0 (studies x participants), NaN where lost."""

    groups: tuple[Array, ...]

    def until(self, share: float) -> Shares:
        """Counts of those who are there by then. See `early.InOrder`."""
        there = [prefix(each, share) for each in self.groups]
        yes = tuple(np.nansum(each, axis=1).astype(int) for each in there)
        of = tuple(np.isfinite(each).sum(axis=1) for each in there)
        return Shares(yes, of, tuple(each.shape[1] for each in there))


def _one_by_one(rng: np.random.Generator, yes: Counts, of: Counts, n: int) -> Array:
    """A random order of each study's people."""
    place = np.argsort(rng.random((len(yes), n)), axis=1)
    return np.where(place < yes[:, None], 1.0, np.where(place < of[:, None], 0.0, np.nan))


def seen_shares(groups: Sequence[Array]) -> Shares:
    """Of one real study, from zeros and ones."""
    yes, of = tuple(np.array([each.sum()]) for each in groups), tuple(np.array([len(each)]) for each in groups)
    return Shares(yes, of, tuple(len(each) for each in groups))


def draw_shares(population: Population, count: int, sizes: tuple[int, ...], p: tuple[float, ...]) -> Shares:
    """Counts of the outcome; who takes no part has it as often as the first group."""
    yes, of = [], []
    for n, share in zip(sizes, p, strict=True):
        own = share + population.idle * (p[0] - share)
        drawn = population.rng.binomial(n, own, count)
        left, without = _left(population, drawn, 1.0), _left(population, n - drawn, 0.0)
        yes.append(left)
        of.append(left + without)
    return Shares(tuple(yes), tuple(of), sizes)


def _left(population: Population, people: Counts, outcome: float) -> Counts:
    """How many are left of people with this outcome (1 or 0), which counts as one SD above or below."""
    if not population.lost:
        return people
    risk = float(population.risk(np.array(outcome * 2 - 1.0)))
    return np.asarray(population.rng.binomial(people, 1 - risk))


def analyse_trend(data: Shares, scores: tuple[float, ...], level: Level) -> Found:
    """Cochran and Armitage's test for trend; the estimate is the slope of the shares over the scores."""
    yes, n = (np.array(each, dtype=float) for each in (data.yes, data.of))
    total = np.where(n.sum(axis=0) > 0, n.sum(axis=0), np.nan)
    apart = np.array(scores)[:, None] - (n * np.array(scores)[:, None]).sum(axis=0) / total
    spread, mean = (n * apart**2).sum(axis=0), yes.sum(axis=0) / total
    share = yes / np.maximum(n, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        slope = (apart * yes).sum(axis=0) / spread
        own = np.sqrt((n * apart**2 * share * (1 - share)).sum(axis=0)) / spread
        found, plain = level.z(slope, np.sqrt(mean * (1 - mean) / spread)), level.z(slope, own)
    return Found(found.p, slope, found.statistic, plain.low, plain.high)


def analyse_one_share(data: Shares, null: float, method: str, level: Level) -> Found:
    """A count against a known share: `exact` by summed probabilities, `score` or `arcsine`.

    The estimate is the share; its interval is Clopper and Pearson's, Wilson's, or made on the arcsine scale.
    """
    yes, n = data.yes[0], np.where(data.of[0] > 0, data.of[0].astype(float), np.nan)
    share = yes / n
    if method == "exact":
        above = np.where(yes > 0, special.betainc(yes.clip(1), n - yes + 1, null), 1.0)
        below = np.where(yes < n, special.betainc(np.maximum(n - yes, 1), yes + 1, 1 - null), 1.0)
        found = Found(level.p_of(above, below), share, np.full(share.shape, np.nan))
        low = np.where(yes > 0, special.betaincinv(yes.clip(1), n - yes + 1, level.tail), 0.0)
        high = np.where(yes < n, special.betaincinv(yes + 1, np.maximum(n - yes, 1), 1 - level.tail), 1.0)
        return found.between(low, high)
    reach = -special.ndtri(level.tail)
    if method == "score":
        found = level.z(share - null, np.sqrt(null * (1 - null) / n))
        centre, width = (share + reach**2 / (2 * n)), reach * np.sqrt(share * (1 - share) / n + reach**2 / (4 * n**2))
        low, high = ((centre + sign * width) / (1 + reach**2 / n) for sign in (-1, 1))
        return Found(found.p, share, found.statistic, low, high)
    angle = 2 * np.arcsin(np.sqrt(share))
    found = level.z(angle - 2 * np.arcsin(np.sqrt(null)), 1 / np.sqrt(n))
    low, high = (np.sin(np.clip(angle + sign * reach / np.sqrt(n), 0, np.pi) / 2) ** 2 for sign in (-1, 1))
    return Found(found.p, share, found.statistic, low, high)


def analyse_apart(data: Shares, method: str, edge: float, level: Level) -> Found:
    """Two counts against a difference of `edge`: `unpooled`, or `score` (Farrington and Manning)."""
    n1, n2 = (np.where(of > 0, of, np.nan) for of in data.of)
    p1, p2 = data.yes[0] / n1, data.yes[1] / n2
    plain = level.z(p2 - p1 - edge, np.sqrt(variance(p1, p2, n1, n2, "unpooled")))
    found = plain
    if method == "score":
        held1, held2 = restricted_shares(p1, p2, n1, n2, edge)
        found = level.z(p2 - p1 - edge, np.sqrt(variance(held1, held2, n1, n2, "unpooled")))
    assert plain.low is not None
    assert plain.high is not None
    return Found(found.p, p2 - p1, found.statistic, plain.low + edge, plain.high + edge)


def analyse_two_shares(data: Shares, method: str, level: Level, inflation: Number = 1.0) -> Found:
    """Two counts: `pooled`, `unpooled`, `arcsine` or `fisher`; `inflation` multiplies the variance.

    The estimate is the difference of the shares, with the interval whose variance is unpooled.
    """
    n1, n2 = (np.where(of > 0, of, np.nan) for of in data.of)
    p1, p2 = data.yes[0] / n1, data.yes[1] / n2
    error = np.sqrt(variance(p1, p2, n1, n2, "unpooled") * inflation)
    plain = level.z(p2 - p1, error)
    low, high = plain.low, plain.high
    if method == "unpooled":
        return plain
    if method == "fisher":
        p = _fisher(data, level.sides)
        return Found(p, p2 - p1, np.full(p.shape, np.nan), low, high)
    if method == "arcsine":
        h = 2 * np.arcsin(np.sqrt(p2)) - 2 * np.arcsin(np.sqrt(p1))
        found = level.z(h, np.sqrt((1 / n1 + 1 / n2) * inflation))
    else:
        found = level.z(p2 - p1, np.sqrt(variance(p1, p2, n1, n2, method) * inflation))
    return Found(found.p, p2 - p1, found.statistic, low, high)


def variance(p1: Array, p2: Array, n1: Array, n2: Array, method: str) -> Array:
    """Of a difference of shares."""
    if method == "unpooled":
        return np.asarray(p1 * (1 - p1) / n1 + p2 * (1 - p2) / n2)
    mean = (n1 * p1 + n2 * p2) / (n1 + n2)
    return np.asarray(mean * (1 - mean) * (1 / n1 + 1 / n2))


def _fisher(data: Shares, sides: Sides) -> Array:
    """Fisher's test of each study, each table looked up once."""
    columns = np.column_stack([*data.yes, *data.of])
    tables, place = np.unique(columns, axis=0, return_inverse=True)
    p = np.array([fisher_p(*(int(each) for each in table), sides) for table in tables])
    return np.asarray(p[place.ravel()])


@lru_cache(maxsize=200_000)
def fisher_p(x1: int, x2: int, n1: int, n2: int, sides: Sides) -> float:
    """The p-value of Fisher's exact test; two-sided by the tables that are no more likely."""
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


@dataclass(frozen=True)
class Categories:
    """Counts in categories or in the cells of a table (studies x rows x columns; one row for a fit)."""

    counts: Counts
    enrolled: int

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant: the row and the column of each, NaN where lost."""
        rows, columns = self.counts[number].shape
        cells = np.repeat(np.arange(rows * columns), self.counts[number].ravel())
        order = np.random.default_rng(number).permutation(self.enrolled)
        place = np.concatenate([cells.astype(float), np.full(self.enrolled - len(cells), np.nan)])[order]
        return {"row": np.floor(place / columns), "column": np.mod(place, columns)}


def draw_categories(population: Population, count: int, n: int, shares: Array) -> Categories:
    """Participants in categories, or in the cells of a table."""
    left = np.full(count, n) if not population.lost else population.rng.binomial(n, 1 - population.lost, count)
    drawn = population.rng.multinomial(left, shares.ravel())
    return Categories(drawn.reshape(count, *np.atleast_2d(shares).shape), n)


def analyse_fit(data: Categories, null: Array, level: Level) -> Found:
    """Counts against known shares. The estimate is w."""
    counts = data.counts[:, 0, :]
    total = counts.sum(axis=1, keepdims=True).clip(1)
    statistic = ((counts - total * null) ** 2 / (total * null)).sum(axis=1)
    return level.chi_square(statistic, float(len(null) - 1), np.sqrt(statistic / total[:, 0]))


def analyse_table(data: Categories, level: Level) -> Found:
    """A contingency table against the product of its own margins; an empty row or column adds nothing."""
    drawn = data.counts
    total = drawn.sum(axis=(1, 2)).clip(1)
    expected = drawn.sum(axis=2, keepdims=True) * drawn.sum(axis=1, keepdims=True) / total[:, None, None]
    parts = np.divide((drawn - expected) ** 2, expected, out=np.zeros_like(expected), where=expected > 0)
    df = (drawn.shape[1] - 1) * (drawn.shape[2] - 1)
    statistic = parts.sum(axis=(1, 2))
    return level.chi_square(statistic, float(df), np.sqrt(statistic / total))
