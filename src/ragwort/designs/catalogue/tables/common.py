"""What both chi-square designs share: w, degrees of freedom, shares that add up to 1."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import Assumption, rounded
from ragwort.designs.design import Derived, Values
from ragwort.designs.kinds import StatisticPlan
from ragwort.designs.refusals import RequestError, plain_number, refuse_where
from ragwort.designs.remarks import General
from ragwort.designs.sampling import OneSample
from ragwort.designs.sizes import Sizes
from ragwort.stats import simulated
from ragwort.stats.noncentral import Number
from ragwort.stats.simulated import counts
from ragwort.stats.statistic import ChiSquareTest, Test

if TYPE_CHECKING:
    from numpy.typing import NDArray

W = Assumption(
    "w",
    "Effect size w",
    "number",
    "Effect",
    "How far the expected proportions are from those without an effect. Take it from the proportions where you can.",
    symbol="w",
    low=0,
    usual="0.1 small, 0.3 medium, 0.5 large (Cohen, 1988, section 7.2.3), as a last resort",
)
DF = Assumption(
    "df",
    "Degrees of freedom",
    "count",
    "Structure",
    "Categories less one; for a table (rows − 1) × (columns − 1). Worked out where proportions are given.",
    low=1,
    high=1_000_000,
)


APPROXIMATE = General("The chi-square test is approximate; its power may be off by a few points in small samples.")


@dataclass(frozen=True)
class ChiSquarePlan(StatisticPlan):
    """A chi-square test; `effect` is w. `smallest_share` is the smallest proportion expected without an effect."""

    df: int
    smallest_share: float = math.nan
    largest_w: float = 1e300
    even: int = 0  # categories, or rows of a table, that are equally large; 0 where they are not
    crossed: bool = False  # a table, whose margins are estimated
    null: tuple[tuple[float, ...], ...] = ()  # proportions without an effect, row by row, where they are known
    planned: tuple[tuple[float, ...], ...] = ()  # and with the planned one

    effect_scale = 0.1
    signed = False

    @override
    def furthest(self, up: bool) -> float:
        return self.largest_w

    @override
    def test(self, groups: Sizes) -> Test:
        """Cohen (1988), section 7.2, with noncentrality w² · n."""
        return ChiSquareTest(np.asarray(self.effect) ** 2 * groups[0], self.df)

    @override
    def draw(self, sizes: tuple[int, ...], population: simulated.Population, count: int) -> counts.Categories:
        """With the proportions planned, drawn out to this w; even ones where none are given."""
        return counts.draw_categories(population, count, sizes[0], self.both_shares()[1])

    def both_shares(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Proportions without an effect and with this one, row by row."""
        null = np.array(self.null or np.full((1 + self.crossed, self.df + 1), 1.0))
        null = null / null.sum()
        apart = np.array(self.planned) - null if self.planned else _some_direction(null)
        apart = apart / np.sqrt((apart**2 / null).sum())
        shares = np.maximum(null + float(self.effect) * apart, 0.0)
        return null, shares / shares.sum()

    @override
    def analyse(self, data: counts.Categories, way: str = "") -> simulated.Found:
        if self.crossed:
            return counts.analyse_table(data, self.level)
        return counts.analyse_fit(data, self.both_shares()[0].ravel(), self.level)

    @override
    def effect_report(self) -> dict[str, Number]:
        return {"w": self.effect}

    @override
    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """Per category or row, where they are planned to be equally large."""
        return {"per_group": math.ceil(groups[0, 0] / self.even)} if self.even else {}

    @override
    def notes(self, groups: Sizes) -> list[str]:
        found: list[str] = [APPROXIMATE]
        if self.smallest_share * groups[0, 0] < 5:
            expected = plain_number(round(self.smallest_share * groups[0, 0], 2))
            found.append(f"An expected count is {expected}, under 5: the approximation is poor there.")
        return found


def _some_direction(null: NDArray[np.float64]) -> NDArray[np.float64]:
    """Deviations that leave the sum, and the margins of a table, as they are: along the cells, opposite by row."""
    line = np.linspace(1, -1, null.shape[1])
    signs = np.linspace(1, -1, null.shape[0]) if null.shape[0] > 1 else np.ones(1)
    pattern = signs[:, None] * line
    return np.asarray(null * (pattern - (null * pattern).sum()))


class ChiSquare(OneSample):
    """What both chi-square designs share."""

    stands_alone = frozenset({"w", "df"})  # must agree with the proportions
    derived = (Derived("Effect", "w", "w"), Derived("Sample", "df", "degrees of freedom"))

    def _plan(
        self, values: Values, find: str, w: float | None, df: int | None, share: float, largest: float
    ) -> ChiSquarePlan:
        """The plan; `w` and `df` are what the proportions say, None where there are none."""
        effect = 0.0 if find == "effect" else stated(values, "w", w, "the proportions make it")
        if df is not None and values.get("df", df) != df:
            raise RequestError("df", f"df is {values['df']}, but the proportions have {df} degrees of freedom.")
        known = df if df is not None else values.get("df")
        if known is None:
            raise RequestError("df", f"{self.id} needs df beside w: the degrees of freedom are missing.")
        refuse_where(
            effect > largest * (1 + 1e-12),
            "w",
            lambda: f"w can be at most {plain_number(largest)} here, not {plain_number(effect)}.",
        )
        basis = self.basis({**values, "w": effect}, find)
        return ChiSquarePlan(**basis, df=int(known), smallest_share=share, largest_w=largest)


def w_and_df(design: ChiSquare, values: Values) -> dict[str, Any]:
    """w and the degrees of freedom of the proportions given."""
    plan = design.plan({"alpha": 0.05, "power": 0.8, **values}, "n")
    assert isinstance(plan, ChiSquarePlan)
    return {"w": rounded(float(plan.effect)), "df": plan.df}


def as_rows(proportions: NDArray[np.float64]) -> tuple[tuple[float, ...], ...]:
    return tuple(tuple(float(each) for each in row) for row in np.atleast_2d(proportions))


def shares(name: str, label: str, help: str, kind: Any = "list", **names: Any) -> Assumption:
    return Assumption(name, label, kind, "Effect", help, low=0, high=1, shortest=2, adds_to_one=True, **names)
