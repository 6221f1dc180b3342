"""McNemar's test as a plan: normal, and exact."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base import patience
from ragwort.base.lazily import np
from ragwort.designs.kinds import CountsPlan, StatisticPlan
from ragwort.designs.kinds.counts import horizon
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.remarks import normal_approximation
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.discordant import SEARCHED, exact_power
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import paired
from ragwort.stats.statistic import NormalTest

if TYPE_CHECKING:
    from numpy.typing import NDArray

_FEW = 10  # discordant pairs expected, under which the normal approximation is poor
_AT_ONCE = 64  # sizes
_NOISE = 1e-12  # an effect of rounding alone
_PLACES = 2001  # effects looked at for one that can be had


@dataclass(frozen=True)
class PairedShares(Plan):
    """`effect` is the difference of the proportions; `correlation` is None where discordant pairs are stated."""

    proportion10: float  # of the pairs that disagree the other way; stated
    proportion1: float
    correlation: float | None
    proportion11: float | None  # of the pairs with a yes under both, where that is stated

    effect_scale = 0.01
    estimated = "difference of proportions"

    def cells(self) -> tuple[Number, Number]:
        """The shares of pairs with yes then no, and with no then yes."""
        if self.correlation is None:
            return self.proportion10 + 0 * np.asarray(self.effect), self.proportion10 + self.effect
        p1, p2 = self.proportion1, self.proportion1 + self.effect
        both = p1 * p2 + self.correlation * np.sqrt(np.maximum(p1 * (1 - p1) * p2 * (1 - p2), 0.0))
        return p1 - both, p2 - both

    @override
    def nearest(self, up: bool) -> float | None:
        """Also none at all needs cells that are not below 0."""
        if self.correlation is None:
            beyond = 2 * self.proportion10 - 1  # by how much as many pairs the other way would be too many
            return 0.0 if beyond <= 0 else None if up else -beyond
        if self.is_possible(0.0):
            return 0.0
        there = [effect for effect in np.linspace(0.0, self._end(up), _PLACES) if self.is_possible(effect)]
        return self._edge(float(there[0]), 0.0) if there else None

    @override
    def furthest(self, up: bool) -> float:
        """Where no cell of the table lies below 0."""
        if self.correlation is None:
            return max(1 - 2 * self.proportion10, 0.0) if up else -self.proportion10
        near = self.nearest(up)
        return 0.0 if near is None else self._edge(near, self._end(up))

    def _end(self, up: bool) -> float:
        return 1 - self.proportion1 if up else -self.proportion1

    def _edge(self, reached: float, end: float) -> float:
        """The last effect that can be had on the way from one that can to one that cannot."""
        for _ in range(60):
            middle = (reached + end) / 2
            reached, end = (middle, end) if self.is_possible(middle) else (reached, middle)
        return reached if abs(reached) > _NOISE else 0.0

    def is_possible(self, effect: float) -> bool:
        """Whether no cell of the table lies below 0 then."""
        there = self.replace(effect=effect)
        p10, p01 = there.cells()
        p11 = self.proportion1 - float(p10)
        return min(float(p10), float(p01), p11, 1 - p11 - float(p10) - float(p01)) >= 0

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> paired.Table:
        p10, p01 = (float(cell) for cell in self.cells())
        rest = 1 - p10 - p01
        yes = self.proportion1 - p10 if self.correlation is not None else self._yes_twice(rest)
        return paired.draw_table(population, count, sizes[0], (p10, p01, yes, max(rest - yes, 0.0)))

    def _yes_twice(self, agree: float) -> float:
        """Of the pairs that agree those with a yes: half of them where nothing is said."""
        return agree / 2 if self.proportion11 is None else min(self.proportion11, agree)

    @property
    @override
    def truth(self) -> float:
        """The difference of the proportions."""
        return float(self.effect)

    @override
    def interval(self, groups: Sizes) -> Interval:
        p10, p01 = self.cells()
        error = np.sqrt(np.maximum(p10 + p01 - (p01 - p10) ** 2, 0.0) / groups[0])
        return self.confidence.around("difference", "points", p01 - p10, self.confidence.z * error)

    @override
    def effect_report(self) -> dict[str, Number]:
        p10, p01 = self.cells()
        found: dict[str, Number] = {"proportion01": p01, "risk_difference": self.effect}
        if self.correlation is not None:
            found = {"proportion2": self.proportion1 + self.effect, **found}
        if self.proportion11 is not None:
            margins = {"proportion1": self.proportion11 + p10, "proportion2": self.proportion11 + p01}
            found = {**found, "proportion10": p10, **margins}
        return found if np.any(np.asarray(p10) == 0) else {**found, "odds_ratio": p01 / p10}


@dataclass(frozen=True)
class PairedPlan(PairedShares, StatisticPlan):
    """McNemar's test as a normal approximation."""

    single = ("correlation",)

    @override
    def test(self, groups: Sizes) -> NormalTest:
        """Fleiss, Levin and Paik (2003), section 13.1."""
        p10, p01 = self.cells()
        apart, both = p01 - p10, p01 + p10
        away, spread = np.sqrt(groups[0] / both) * apart, np.sqrt(np.maximum(both - apart**2, 0.0) / both)
        return NormalTest(away, spread, mean=np.sqrt(groups[0]) * apart, null_variance=both)

    @override
    def analyse(self, data: paired.Table, way: str = "") -> simulated.Found:
        return paired.analyse_table(data, "asymptotic", self.level)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        expected = float(np.ravel(groups[0] * sum(self.cells()))[0])
        poor = f"here: {expected:.3g} discordant pairs are expected" if expected < _FEW else ""
        return [normal_approximation(poor)]


@dataclass(frozen=True)
class ExactPairedPlan(CountsPlan, PairedShares):
    """The exact binomial test of the pairs that disagree, averaged over how many do."""

    n_rule: str

    @property
    @override
    def last_step(self) -> int:
        return SEARCHED

    @override
    def power(self, groups: Sizes) -> NDArray[np.float64]:
        p10, p01 = self.cells()
        return self._of(groups, p10 + p01, p01)

    @override
    def actual_alpha(self, groups: Sizes) -> NDArray[np.float64]:
        """With as many pairs that disagree, equally often either way."""
        p10, p01 = self.cells()
        return self._of(groups, p10 + p01, (p10 + p01) / 2)

    def _of(self, groups: Sizes, disagree: Number, p01: Number) -> NDArray[np.float64]:
        n, both, up = np.broadcast_arrays(groups[0], disagree, p01)
        rows = zip(n.ravel(), both.ravel(), up.ravel(), strict=True)
        found = [exact_power(int(size), float(a), float(b), float(self.alpha), self.sides) for size, a, b in rows]
        return np.array(found).reshape(n.shape)

    @override
    def details(self, groups: Sizes) -> dict[str, Any]:
        return {"actual_alpha": float(self.actual_alpha(groups)[0])}

    @override
    def analyse(self, data: paired.Table, way: str = "") -> simulated.Found:
        return paired.analyse_table(data, "exact", self.level)

    @override
    def first_and_steady(self) -> tuple[int, int] | None:
        """Size by size."""
        first = next((n for n, power in self._along(self.counting.lowest, SEARCHED) if power >= self.target), None)
        if first is None:
            return None
        end = horizon(self.power_along, self.target, max(2 * first, first + 200))
        missed = [n for n, power in self._along(first, end) if power < self.target]
        return first, (missed[-1] + 1 if missed else first)

    def _along(self, first: int, last: int) -> Any:
        for start in range(first, last + 1, _AT_ONCE):
            patience.check()
            steps = np.arange(start, min(start + _AT_ONCE, last + 1))
            yield from zip(steps.tolist(), self.power_along(steps).tolist(), strict=True)

    @override
    def notes(self, groups: Sizes) -> list[str]:
        return []
