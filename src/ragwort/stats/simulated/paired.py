"""Yes or no within pairs, tested by McNemar's test.

Source: Fleiss, Levin and Paik, *Statistical Methods for Rates and Proportions* (3rd ed., 2003), section 13.1.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from ragwort.base.lazily import np, special
from ragwort.stats.noncentral import Array
from ragwort.stats.simulated.early import prefix
from ragwort.stats.simulated.found import Found, Level
from ragwort.stats.simulated.population import Population

if TYPE_CHECKING:
    from numpy.typing import NDArray

_FIRST, _SECOND = (1.0, 0.0, 1.0, 0.0), (0.0, 1.0, 1.0, 0.0)  # the two answers in each cell


@dataclass(frozen=True)
class Table:
    """Pairs by their answers (studies x yes-no, no-yes, yes-yes, no-no), and how many were enrolled."""

    cells: NDArray[np.int64]
    enrolled: int

    def study(self, number: int) -> dict[str, Array]:
        """One of the studies, pair by pair: 1 for yes, 0 for no, NaN where lost."""
        order = np.random.default_rng(number).permutation(self.enrolled)
        found = {}
        for name, answers in (("first", _FIRST), ("second", _SECOND)):
            own = np.full(self.enrolled, np.nan)
            there = np.repeat(answers, self.cells[number])
            own[: len(there)] = there
            found[name] = own[order]
        return found

    def unrolled(self) -> Answered:
        """In a random order, which is always the same for the same counts."""
        rng = np.random.default_rng(self.cells.sum(axis=0).tolist())
        place = np.argsort(rng.random((len(self.cells), self.enrolled)), axis=1)
        ends = np.cumsum(self.cells, axis=1)
        return Answered((place[:, :, None] >= ends[:, None, :]).sum(axis=2))


@dataclass(frozen=True)
class Answered:
    """The same pair by pair, in the order in which they came: the cell of each, one beyond the last where lost."""

    cells: NDArray[np.int64]  # studies x pairs

    def until(self, share: float) -> Table:
        """Counts of those who are there by then. See `early.InOrder`."""
        there = prefix(self.cells, share)
        counts = np.stack([(there == cell).sum(axis=1) for cell in range(len(_FIRST))], axis=1)
        return Table(counts, there.shape[1])


def draw_table(population: Population, count: int, n: int, shares: tuple[float, float, float, float]) -> Table:
    """Tables of pairs; who is lost may depend on the second answer."""
    exact = np.array(shares) / sum(shares)
    cells = population.rng.multinomial(n, exact, count)
    if population.lost:
        risks = [float(population.risk(np.array(2 * answer - 1.0))) for answer in _SECOND]
        cells = np.stack([population.rng.binomial(cells[:, at], 1 - risk) for at, risk in enumerate(risks)], axis=1)
    return Table(cells, n)


def analyse_table(data: Table, method: str, level: Level) -> Found:
    """`asymptotic` (without a correction) or `exact`. The estimate is the difference, with Wald's interval."""
    down, up = (data.cells[:, at].astype(float) for at in (0, 1))
    n = data.cells.sum(axis=1).astype(float)
    n = np.where(n > 0, n, np.nan)
    both, estimate = down + up, (up - down) / n
    plain = level.z(estimate, np.sqrt(np.maximum(both / n - estimate**2, 0.0) / n))
    statistic = np.divide(up - down, np.sqrt(both), out=np.zeros(both.shape), where=both > 0)
    if method == "exact":
        above = np.where(up > 0, special.betainc(np.maximum(up, 1), down + 1, 0.5), 1.0)
        below = np.where(down > 0, special.betainc(np.maximum(down, 1), up + 1, 0.5), 1.0)
        p = level.p_of(above, below)
    else:
        p = level.p_of(special.ndtr(-statistic), special.ndtr(statistic))
    return Found(np.where(np.isfinite(n), p, np.nan), estimate, statistic, plain.low, plain.high)
