"""Shares of several categories against known ones."""

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
from ragwort.designs.drawn_out import shares_with
from ragwort.designs.formula import Claim, Expression, Frac, Root, power_of_chi_square, row
from ragwort.designs.phrases import MOST_LISTED, MOST_NAMED, Naming, Saying, degrees, numbered, or_more
from ragwort.designs.protocol import FROM_CHI, InProtocol
from ragwort.designs.refusals import RequestError, plain_percent
from ragwort.designs.works import NONCENTRAL_CHI_SQUARE
from ragwort.stats.effects import w_of_fit


@register
class ChiSquareFit(ChiSquare):
    """The shares of several categories against known ones."""

    id = "chi-square-fit"
    title = "Chi-square goodness-of-fit test"
    summary = "Do the proportions of several categories differ from proportions that are known beforehand?"
    in_protocol = InProtocol(
        "The distribution of {outcome} over the categories will be compared with the known proportions",
        "chi-square goodness-of-fit test",
        FROM_CHI,
        sided=False,
        cites=NONCENTRAL_CHI_SQUARE,
    )
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
        "categories against known shares",
    )
    buys = "All categories at once, against shares that are known."
    assumptions = (
        W,
        shares(
            "null_proportions",
            "Known shares",
            "The shares without an effect, adding up to 1: 0.25, 0.25, 0.5.",
            row_names="categories",
        ),
        shares(
            "proportions",
            "Expected shares",
            "The shares that you expect, adding up to 1, in the same order.",
            row_names="categories",
        ),
        ALPHA,
        POWER,
        TOTAL,
        DROPOUT,
        DF,
    )
    ways = ((Way("w and df", ("w", "df")), Way("shares", ("null_proportions", "proportions"))),)
    elementwise = elementwise("w")
    starting = {"null_proportions": [0.25, 0.25, 0.25, 0.25], "proportions": [0.4, 0.2, 0.2, 0.2]}
    data_assumptions = (
        "Observations are independent, and each is in one category.",
        "Expected counts are 5 or more in every category.",
    )
    approximation = "The calculation is an approximation for large samples, poor where an expected count is under 5."

    @override
    def effect_names(self) -> frozenset[str]:
        """The known shares stay known when the effect is found."""
        return frozenset({"w", "proportions"})

    @override
    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """W as two categories of equal known shares."""
        if "w" not in values or "w" in way.names:
            return w_and_df(self, values)
        half = min(values["w"], 0.98) / 2
        return {"null_proportions": [0.5, 0.5], "proportions": [round(0.5 + half, 4), round(0.5 - half, 4)]}

    @override
    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """The known shares are what they are."""
        known, shares = values.get("null_proportions"), values.get("proportions")
        if not known or not shares or len(known) != len(shares):
            return {}
        return {"null_proportions": known, "proportions": shares_with(effect, shares, known)}

    @override
    def comparison(self, values: Values, find: str) -> ChiSquarePlan:
        if "null_proportions" not in values:
            return self._plan(values, find, None, None, math.nan, 1e300)
        null = np.array(values["null_proportions"], dtype=float)
        need_whole("null_proportions", float(null.sum()), "Known shares")
        if null.min() <= 0:
            raise RequestError("null_proportions", "Every known share must be above 0.")
        share, df = float(null.min()), len(null) - 1
        largest = math.sqrt(1 / share - 1)
        if "proportions" not in values:
            return self._plan(values, find, None, df, share, largest).replace(null=as_rows(null))
        planned = np.array(values["proportions"], dtype=float)
        if len(planned) != len(null):
            raise RequestError("proportions", f"There are {len(null)} known shares but {len(planned)} expected ones.")
        need_whole("proportions", float(planned.sum()), "Expected shares")
        w = w_of_fit(list(planned), list(null))
        plan = self._plan(values, find, w, df, share, largest)
        even = len(null) if all_alike(null) else 0
        return plan.replace(even=even, null=as_rows(null), planned=as_rows(planned))

    @override
    def names(self, values: Values) -> tuple[Naming, ...]:
        count = min(len(values.get("null_proportions") or ()), MOST_NAMED)
        return (Naming("categories", "Categories", numbered("category", count)),) if count else ()

    @override
    def saying(self, values: Values, find: str) -> Saying:
        null, planned = values.get("null_proportions"), values.get("proportions")
        shown = f"w = {{w}}{or_more(find)}"
        if null is None:
            shown = f"{shown}, {degrees(values.get('df'))}"
        elif planned is not None and find != "effect" and len(null) == len(planned) <= MOST_LISTED:
            pairs = enumerate(zip(planned, null, strict=True), start=1)
            each = [f"{{categories.{at}}}: {plain_percent(p)} instead of {plain_percent(q)}" for at, (p, q) in pairs]
            shown = f"{', '.join(each)}; {shown}"
        return Saying("{n}", f"proportions other than the known ones ({shown})", "a chi-square test of fit")

    @override
    def claim(self, values: Values) -> Claim:
        where = "πⱼ is the share of category j in the population, π₀ⱼ its share under the null hypothesis."
        return Claim("πⱼ = π₀ⱼ in every category j", "πⱼ ≠ π₀ⱼ in some category", (where,))

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """Cohen (1988), chapter 7."""
        w = row("w = ", Root(row("Σ ", Frac("(πⱼ − π₀ⱼ)²", "π₀ⱼ"))))
        return w, "λ = w² n,   ν = number of categories − 1", power_of_chi_square()

    @override
    def method_text(self, values: Values) -> str:
        return (
            "for the chi-square test of goodness of fit: under the planned shares its statistic "
            "approximately follows a noncentral chi-square distribution with noncentrality λ = w² · n."
        )
