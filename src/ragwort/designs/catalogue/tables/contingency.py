"""Two categorical variables crossed in a table."""

from __future__ import annotations

import math
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import all_alike, need_whole
from ragwort.designs.assumption import ALPHA, DROPOUT, POWER, TOTAL
from ragwort.designs.catalogue.tables.common import DF, ChiSquare, ChiSquarePlan, W, as_rows, shares, w_and_df
from ragwort.designs.design import Values, Way, elementwise, register
from ragwort.designs.drawn_out import table_with
from ragwort.designs.formula import Claim, Expression, Frac, Root, power_of_chi_square, row
from ragwort.designs.phrases import MOST_NAMED, Naming, Saying, degrees, numbered, or_more
from ragwort.designs.protocol import FROM_CHI, InProtocol
from ragwort.designs.refusals import RequestError
from ragwort.designs.works import NONCENTRAL_CHI_SQUARE
from ragwort.stats.effects import w_of_table

MOST_EXPECTED = 12  # cells whose shares a paragraph gives


@register
class ChiSquareTable(ChiSquare):
    """Two categorical variables crossed in a table."""

    id = "chi-square-table"
    title = "Contingency table: chi-square test"
    summary = "Are two categorical variables associated, or do proportions differ between several groups?"
    in_protocol = InProtocol(
        "The association between {variables.1} and {variables.2} will be tested",
        "chi-square test",
        FROM_CHI,
        sided=False,
        cites=NONCENTRAL_CHI_SQUARE,
    )
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
        W,
        shares(
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
        DF,
    )
    ways = ((Way("w and df", ("w", "df")), Way("a table", ("table",))),)
    elementwise = elementwise("w")
    starting = {"table": [[0.3, 0.2], [0.2, 0.3]]}
    data_assumptions = (
        "Observations are independent, and each is in one cell.",
        "Expected counts are 5 or more in every cell.",
    )
    approximation = "The calculation is an approximation for large samples, poor where an expected count is under 5."

    @override
    def effect_names(self) -> frozenset[str]:
        """A table still says how many rows and columns there are."""
        return frozenset({"w"})

    @override
    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """W as a two by two table with equal margins."""
        if "w" not in values or "w" in way.names:
            return w_and_df(self, values)
        more, less = round(0.25 + min(values["w"], 1) / 4, 4), round(0.25 - min(values["w"], 1) / 4, 4)
        return {"table": [[more, less], [less, more]]}

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """A table of as many rows and columns, with the same margins."""
        table = table_with(effect, values["table"]) if "table" in values else []
        return {"table": table} if table else {}

    @override
    def comparison(self, values: Values, find: str) -> ChiSquarePlan:
        if "table" not in values:
            return self._plan(values, find, None, None, math.nan, 1e300).replace(crossed=True)
        table = np.array(values["table"], dtype=float)
        need_whole("table", float(table.sum()), "The shares of the table")
        null = np.outer(table.sum(axis=1), table.sum(axis=0))
        if null.min() <= 0:
            raise RequestError("table", "A row or a column of the table is empty: leave it out.")
        w = w_of_table(table)
        rows, columns = table.shape
        plan = self._plan(
            values, find, w, (rows - 1) * (columns - 1), float(null.min()), math.sqrt(min(rows, columns) - 1)
        )
        even = rows if all_alike(table.sum(axis=1)) else 0
        return plan.replace(even=even, crossed=True, null=as_rows(null), planned=as_rows(table))

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        """Both variables, and the categories of each."""
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

    @override
    def parts(self, values: Values, total: int) -> tuple[str, tuple[int, ...]]:
        """In each row, such as an arm; the largest remainders are rounded up."""
        if "table" not in values:
            return super().parts(values, total)
        exact = np.array(values["table"], dtype=float).sum(axis=1) * total
        whole = np.floor(exact + 1e-9).astype(int)
        first = np.argsort(-(exact - whole), kind="stable")[: total - int(whole.sum())]
        whole[first] += 1
        return "rows", tuple(int(each) for each in whole)

    @override
    def expected_in_words(self, values: Values) -> str:
        """The shares of each row, where there are few."""
        table = values.get("table") or [[]]
        if len(table) * len(table[0]) > MOST_EXPECTED or not table[0]:
            return ""
        rows = [
            ", ".join(f"{100 * share / sum(row):.3g}% {{columns.{at}}}" for at, share in enumerate(row, start=1))
            for row in table
        ]
        return "; ".join(f"{shares} with {{rows.{at}}}" for at, shares in enumerate(rows, start=1))

    @override
    def saying(self, values: Values, find: str) -> Saying:
        shown = f"w = {{w}}{or_more(find)}"
        if "table" not in values:
            shown = f"{shown}, {degrees(values.get('df'))}"
        return Saying(
            "{n}", f"an association between {{variables.1}} and {{variables.2}} ({shown})", "a chi-square test"
        )

    @override
    def claim(self, values: Values) -> Claim:
        where = "πᵢⱼ is the share of a cell in the population, πᵢ. and π.ⱼ are those of its row and its column."
        return Claim("πᵢⱼ = πᵢ. π.ⱼ in every cell", "πᵢⱼ ≠ πᵢ. π.ⱼ in some cell", (where,))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 7."""
        w = row("w = ", Root(row("Σ ", Frac("(πᵢⱼ − πᵢ. π.ⱼ)²", "πᵢ. π.ⱼ"))))
        return w, "λ = w² n,   ν = (rows − 1)(columns − 1)", power_of_chi_square()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the chi-square test of a contingency table: under the planned proportions its "
            "statistic approximately follows a noncentral chi-square distribution with noncentrality λ = w² · n."
        )
