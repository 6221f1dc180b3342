"""Two treatments in two periods and two sequences, tested as an analyst would.

Source: Jones and Kenward, *Design and Analysis of Cross-Over Trials* (3rd ed., 2014), section 2.4.
"""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.base.lazily import np
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.means import moments
from ragwort.stats.simulated.population import Kept, Population

_PERIOD, _PEOPLE = 0.5, 1.0  # shift of the second period, and SD between participants, in SDs within: no test sees them


@dataclass(frozen=True)
class Periods:
    """Outcomes of both periods (studies x participants each) by sequence; the first has the first treatment first."""

    first: tuple[Array, Array]
    second: tuple[Array, Array]
    kept: tuple[Kept, Kept]

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, participant by participant: sequence, both outcomes; lost ones are NaN."""
        rows = []
        for sequence, (first, second, kept) in enumerate(zip(self.first, self.second, self.kept, strict=True)):
            there = np.ones(first.shape[1], bool) if kept is None else kept[number]
            which = np.full(first.shape[1], float(sequence))
            rows.append((which, *(np.where(there, each[number], np.nan) for each in (first, second))))
        group, period1, period2 = (np.concatenate(column) for column in zip(*rows, strict=True))
        return {"group": group, "period 1": period1, "period 2": period2}


def draw_periods(population: Population, count: int, sizes: tuple[int, ...], effect: float, sd: float) -> Periods:
    """Each participant has a level of his or her own, and outcomes that scatter around it in both periods."""
    drawn, kept = [], []
    for sequence, n in enumerate(sizes):
        level = _PEOPLE * population.rng.standard_normal((count, n))
        taken = population.taken(effect / sd, (count, n))
        noise = [population.shape.noise(population.rng, (count, n)) for _ in range(2)]
        treated = [level + noise[period] + _PERIOD * period + taken * (period != sequence) for period in range(2)]
        first, second = (population.shape.cut(each) for each in treated)
        drawn.append((sd * first, sd * second))
        kept.append(population.kept(noise[1]))
    (first1, second1), (first2, second2) = drawn
    return Periods((first1, first2), (second1, second2), (kept[0], kept[1]))


def analyse_crossover(data: Periods, edge: float, level: Level) -> Found:
    """The t test of half the period differences of the two sequences; the estimate is the effect less the edge."""
    halves = [(second - first) / 2 for first, second in zip(data.first, data.second, strict=True)]
    one, two = (moments(half, kept) for half, kept in zip(halves, data.kept, strict=True))
    df = one.n + two.n - 2
    enough = (one.n > 0) & (two.n > 0) & (df > 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        pooled = ((one.n - 1) * one.variance + (two.n - 1) * two.variance) / np.where(enough, df, np.nan)
        error = np.sqrt(pooled * (1 / one.n + 1 / two.n))
    return level.t(one.mean - two.mean - edge, error, df)
