"""Counts in categories: goodness of fit and contingency tables.

Source: Cohen, *Statistical Power Analysis for the Behavioral Sciences* (2nd ed., 1988), chapter 7; Johnson, Kotz and
Balakrishnan, *Continuous Univariate Distributions* 2 (2nd ed., 1995), chapter 29.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ragwort.designs import evidence
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL, Assumption
from ragwort.designs.design import Derived, Plan, Values, Way, register, rounded
from ragwort.designs.refusals import RequestError, number_text, percent_text
from ragwort.designs.sampling import OneSample, statistic_details
from ragwort.designs.saying import MOST_LISTED, MOST_NAMED, Naming, Saying, degrees, numbered, or_more
from ragwort.designs.sizes import OneGroup, Sizes
from ragwort.stats import studies
from ragwort.stats.noncentral import Number
from ragwort.stats.statistic import ChiSquareTest, Test

_W = Assumption(
    "w",
    "Effect size w",
    "number",
    "Effect",
    "How far the expected proportions are from those without an effect. Take it from the proportions where you can.",
    symbol="w",
    low=0,
    usual="0.1 small, 0.3 medium, 0.5 large (Cohen, 1988, section 7.2.3), as a last resort",
)
_DF = Assumption(
    "df",
    "Degrees of freedom",
    "count",
    "Structure",
    "Categories less one; for a table (rows − 1) × (columns − 1). Worked out where proportions are given.",
    low=1,
    high=1_000_000,
)
_REFERENCES = (
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988. Chapter 7.",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 2. 2nd ed. New York: Wiley; 1995. "
    "Chapter 29.",
)


@dataclass(frozen=True)
class ChiSquarePlan(Plan):
    """A chi-square test; `effect` is w. `smallest_share` is the smallest proportion expected without an effect."""

    df: int
    smallest_share: float = math.nan
    largest_w: float = 1e300
    even: int = 0  # categories, or rows of a table, that are equally large; 0 where they are not
    crossed: bool = False  # a table, whose margins are estimated
    null: tuple[tuple[float, ...], ...] = ()  # proportions without an effect, row by row, where they are known
    planned: tuple[tuple[float, ...], ...] = ()  # and with the planned one

    @property
    def effect_limit(self) -> float:
        """See `Plan.effect_limit`."""
        return self.largest_w

    @property
    def effect_scale(self) -> float:
        """See `Plan.effect_scale`."""
        return 0.1

    def test(self, groups: Sizes) -> Test:
        """See `Plan.test`; Cohen (1988), section 7.2, with noncentrality w² · n."""
        return ChiSquareTest(np.asarray(self.effect) ** 2 * groups[0], self.df)

    def simulate(self, sizes: tuple[int, ...], rng: np.random.Generator, count: int) -> studies.Rejected:
        """See `Plan.simulate`: with the proportions planned, drawn out to this w; even ones where none are given."""
        null = np.array(self.null or np.full((1 + self.crossed, self.df + 1), 1.0))
        null = null / null.sum()
        apart = np.array(self.planned) - null if self.planned else _some_direction(null)
        apart = apart / np.sqrt((apart**2 / null).sum())
        shares = np.maximum(null + float(self.effect) * apart, 0.0)
        shares = shares / shares.sum()
        if self.crossed:
            return studies.chi_square_table(rng, count, sizes[0], shares, self.level)
        return studies.chi_square_fit(rng, count, sizes[0], shares.ravel(), null.ravel(), self.level)

    def effect_report(self) -> dict[str, Number]:
        """See `Plan.effect_report`."""
        return {"w": self.effect}

    def details(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.details`."""
        return statistic_details(self, groups)

    def further_sizes(self, groups: Sizes) -> dict[str, Any]:
        """See `Plan.further_sizes`: per category or row, where they are planned to be equally large."""
        return {"per_group": math.ceil(groups[0, 0] / self.even)} if self.even else {}

    def notes(self, groups: Sizes) -> list[str]:
        """See `Plan.notes`."""
        found = [
            "The chi-square test is approximate; its power may be off by a few points in small samples (simulated "
            "with 91 participants in 4 categories: 0.76 where the formula says 0.80)."
        ]
        if self.smallest_share * groups[0, 0] < 5:
            expected = number_text(round(self.smallest_share * groups[0, 0], 2))
            found.append(f"An expected count is {expected}, under 5: the approximation is poor there.")
        return found


def _some_direction(null: NDArray[np.float64]) -> NDArray[np.float64]:
    """Deviations that leave the sum, and the margins of a table, as they are: along the cells, opposite by row."""
    line = np.linspace(1, -1, null.shape[1])
    signs = np.linspace(1, -1, null.shape[0]) if null.shape[0] > 1 else np.ones(1)
    pattern = signs[:, None] * line
    return np.asarray(null * (pattern - (null * pattern).sum()))


class _ChiSquare(OneSample):
    """What both chi-square designs share."""

    stands_alone = frozenset({"w", "df"})  # must agree with the proportions
    references = _REFERENCES
    derived = (Derived("Effect", "w", "w"), Derived("Sample", "df", "degrees of freedom"))

    def _plan(
        self, values: Values, find: str, w: float | None, df: int | None, share: float, largest: float
    ) -> ChiSquarePlan:
        """The plan; `w` and `df` are what the proportions say, None where there are none."""
        effect = 0.0
        if find != "effect":
            effect = w if w is not None else float(values["w"])
            if w is not None and "w" in values and abs(values["w"] - w) > 1e-9 * max(w, 1e-300):
                raise RequestError(
                    "w", f"w is given as {number_text(values['w'])}, but the proportions make it {w:.6g}."
                )
        if df is not None and values.get("df", df) != df:
            raise RequestError("df", f"df is {values['df']}, but the proportions have {df} degrees of freedom.")
        known = df if df is not None else values.get("df")
        if known is None:
            raise RequestError("df", f"{self.id} needs df beside w: the degrees of freedom are missing.")
        if effect > largest * (1 + 1e-12):
            raise RequestError("w", f"w can be at most {number_text(largest)} here, not {number_text(effect)}.")
        return ChiSquarePlan(
            alpha=values["alpha"],
            target=values["power"],
            sides="greater",
            effect=effect,
            counting=OneGroup(1),
            df=int(known),
            smallest_share=share,
            largest_w=largest,
        )


def _w_and_df(design: _ChiSquare, values: Values) -> dict[str, Any]:
    """w and the degrees of freedom of the proportions given."""
    plan = design.plan({"alpha": 0.05, "power": 0.8, **values}, "n")
    assert isinstance(plan, ChiSquarePlan)
    return {"w": rounded(float(plan.effect)), "df": plan.df}


def _rows(proportions: NDArray[np.float64]) -> tuple[tuple[float, ...], ...]:
    return tuple(tuple(float(each) for each in row) for row in np.atleast_2d(proportions))


def _need_sum_of_one(name: str, total: float) -> None:
    if abs(total - 1) > 1e-9:
        over = "over" if total > 1 else "under"
        raise RequestError(name, f"{name} must add up to 1; they add up to {total:.10g}, {abs(total - 1):.3g} {over}.")


def _shares(name: str, label: str, help: str, kind: Any = "list", **names: Any) -> Assumption:
    return Assumption(name, label, kind, "Effect", help, low=0, high=1, shortest=2, adds_to_one=True, **names)


@register
class ChiSquareFit(_ChiSquare):
    """The shares of several categories against known ones."""

    id = "chi-square-fit"
    title = "Categories against known shares"
    summary = "Do the shares of several categories differ from shares that are known beforehand?"
    evidence = evidence.FIT
    takes = {
        "measured": (
            "category",
            "yes-no",
        ),
        "compared": ("known",),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "chi-square goodness of fit",
        "goodness-of-fit",
        "multinomial",
        "distribution of categories",
        "expected shares",
    )
    buys = "All categories at once, against shares that are known."
    assumptions = (
        _W,
        _shares(
            "null_proportions",
            "Known shares",
            "The shares without an effect, adding up to 1: 0.25, 0.25, 0.5.",
            row_names="categories",
        ),
        _shares(
            "proportions",
            "Expected shares",
            "The shares that you expect, adding up to 1, in the same order.",
            row_names="categories",
        ),
        ALPHA,
        POWER,
        TOTAL,
        DROPOUT,
        _DF,
    )
    ways = ((Way("w and df", ("w", "df")), Way("shares", ("null_proportions", "proportions"))),)
    starting = {"null_proportions": [0.25, 0.25, 0.25, 0.25], "proportions": [0.4, 0.2, 0.2, 0.2]}
    data_assumptions = (
        "Participants are independent of each other, and each is in one category.",
        "Expected counts are 5 or more in every category.",
    )
    approximation = (
        "An approximation for large samples (simulated with 91 participants in 4 categories: 0.764 where the "
        "formula says 0.801), poor where an expected count is under 5."
    )

    def effect_names(self) -> frozenset[str]:
        """See `Design.effect_names`: the known shares stay known when the effect is found."""
        return frozenset({"w", "proportions"})

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`: w as two categories of equal known shares."""
        if "w" not in values or "w" in way.names:
            return _w_and_df(self, values)
        half = min(values["w"], 0.98) / 2
        return {"null_proportions": [0.5, 0.5], "proportions": [round(0.5 + half, 4), round(0.5 - half, 4)]}

    def plan(self, values: Values, find: str) -> ChiSquarePlan:
        """See `Design.plan`."""
        if "null_proportions" not in values:
            return self._plan(values, find, None, None, math.nan, 1e300)
        null = np.array(values["null_proportions"], dtype=float)
        _need_sum_of_one("null_proportions", float(null.sum()))
        if null.min() <= 0:
            raise RequestError("null_proportions", "Every known share must be above 0.")
        share, df = float(null.min()), len(null) - 1
        largest = math.sqrt(1 / share - 1)
        if "proportions" not in values:
            return self._plan(values, find, None, df, share, largest).replace(null=_rows(null))
        planned = np.array(values["proportions"], dtype=float)
        if len(planned) != len(null):
            raise RequestError("proportions", f"There are {len(null)} known shares but {len(planned)} expected ones.")
        _need_sum_of_one("proportions", float(planned.sum()))
        w = math.sqrt(float(((planned - null) ** 2 / null).sum()))
        plan = self._plan(values, find, w, df, share, largest)
        even = len(null) if np.ptp(null) < 1e-9 else 0
        return plan.replace(even=even, null=_rows(null), planned=_rows(planned))

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`."""
        count = min(len(values.get("null_proportions") or ()), MOST_NAMED)
        return (Naming("categories", "Categories", numbered("category", count)),) if count else ()

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        null, planned = values.get("null_proportions"), values.get("proportions")
        shown = f"w {{w}}{or_more(find)}"
        if null is None:
            shown = f"{shown}, {degrees(values.get('df'))}"
        elif planned is not None and find != "effect" and len(null) == len(planned) <= MOST_LISTED:
            pairs = enumerate(zip(planned, null, strict=True), start=1)
            each = [f"{{categories.{at}}}: {percent_text(p)} instead of {percent_text(q)}" for at, (p, q) in pairs]
            shown = f"{', '.join(each)}; {shown}"
        return Saying("{n}", f"shares other than the known ones ({shown})", "a chi-square test of fit")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the chi-square test of goodness of fit: under the planned shares its statistic "
            "approximately follows a noncentral chi-square distribution with noncentrality λ = w² · n."
        )


@register
class ChiSquareTable(_ChiSquare):
    """Two categorical variables crossed in a table."""

    id = "chi-square-table"
    title = "Contingency table"
    summary = "Do two categorical variables go together, or do the shares differ between several groups?"
    evidence = evidence.TABLE
    takes = {
        "measured": (
            "category",
            "yes-no",
        ),
        "compared": (
            "two",
            "several",
            "relation",
        ),
        "same": ("once",),
        "whole": ("no",),
    }
    known_as = (
        "chi-square independence",
        "contingency table",
        "cross tabulation",
        "crosstab",
        "association of categories",
        "homogeneity",
        "cramer",
    )
    buys = "Any number of groups and categories in one test."
    assumptions = (
        _W,
        _shares(
            "table",
            "Expected table",
            "The joint proportions, row by row, adding up to 1 over the whole table: 0.1 0.2; 0.3 0.4.",
            "table",
            row_names="rows",
            column_names="columns",
        ),
        ALPHA,
        POWER,
        TOTAL,
        DROPOUT,
        _DF,
    )
    ways = ((Way("w and df", ("w", "df")), Way("a table", ("table",))),)
    starting = {"table": [[0.3, 0.2], [0.2, 0.3]]}
    data_assumptions = (
        "Participants are independent of each other, and each is in one cell.",
        "Expected counts are 5 or more in every cell.",
    )
    approximation = (
        "An approximation for large samples (simulated with 197 participants in a two by two table: 0.804 "
        "where the formula says 0.802), poor where an expected count is under 5."
    )

    def effect_names(self) -> frozenset[str]:
        """See `Design.effect_names`: a table still says how many rows and columns there are."""
        return frozenset({"w"})

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """See `Design.restate`: w as a two by two table with equal margins."""
        if "w" not in values or "w" in way.names:
            return _w_and_df(self, values)
        more, less = round(0.25 + min(values["w"], 1) / 4, 4), round(0.25 - min(values["w"], 1) / 4, 4)
        return {"table": [[more, less], [less, more]]}

    def plan(self, values: Values, find: str) -> ChiSquarePlan:
        """See `Design.plan`."""
        if "table" not in values:
            return self._plan(values, find, None, None, math.nan, 1e300).replace(crossed=True)
        table = np.array(values["table"], dtype=float)
        _need_sum_of_one("table", float(table.sum()))
        null = np.outer(table.sum(axis=1), table.sum(axis=0))
        if null.min() <= 0:
            raise RequestError("table", "A row or a column of the table is empty: leave it out.")
        w = math.sqrt(float(((table - null) ** 2 / null).sum()))
        rows, columns = table.shape
        plan = self._plan(
            values, find, w, (rows - 1) * (columns - 1), float(null.min()), math.sqrt(min(rows, columns) - 1)
        )
        even = rows if np.ptp(table.sum(axis=1)) < 1e-9 else 0
        return plan.replace(even=even, crossed=True, null=_rows(null), planned=_rows(table))

    def names(self, values: Values) -> tuple[Naming, ...]:
        """See `Design.names`: both variables, and the categories of each."""
        table = values.get("table") or [[]]
        rows, columns = min(len(table), MOST_NAMED), min(len(table[0]), MOST_NAMED)
        both = Naming("variables", "Variables, columns first", ("one variable", "the other"))
        if not columns:
            return (both,)
        return (
            both,
            Naming("columns", "Columns", numbered("column", columns)),
            Naming("rows", "Rows", numbered("row", rows)),
        )

    def saying(self, values: Values, find: str) -> Saying:
        """See `Design.saying`."""
        shown = f"w {{w}}{or_more(find)}"
        if "table" not in values:
            shown = f"{shown}, {degrees(values.get('df'))}"
        return Saying("{n}", f"that {{variables.1}} depends on {{variables.2}} ({shown})", "a chi-square test")

    def method_text(self, values: Values) -> str:
        """See `Design.method_text`."""
        return (
            "Power was computed for the chi-square test of a contingency table: under the planned proportions its "
            "statistic approximately follows a noncentral chi-square distribution with noncentrality λ = w² · n."
        )
