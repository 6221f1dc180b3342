"""Routes to the probability of superiority, or to ordered categories in two groups."""

from __future__ import annotations

import math

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.means import IN_GROUPS, TWO_GROUPS
from ragwort.designs.evidence.route import Finding, Inputs, Route, number, two_digits
from ragwort.designs.refusals import RequestError


def _chance(x: Inputs) -> Finding:
    """A published U as the probability of superiority."""
    if x["u"] > x["n1"] * x["n2"]:
        raise RequestError("u", f"U is at most {x['n1'] * x['n2']} with these numbers of people.")
    chance = x["u"] / (x["n1"] * x["n2"])
    if chance in (0, 1):
        raise RequestError("u", "All of one group lie above the other: no chance to plan on.")
    return Finding({"probability": rounded(chance)}, f"chance {two_digits(chance)}")


def _categories(x: Inputs) -> Finding:
    """Two rows of counts as the shares of ordered categories."""
    counts = x["counts"]
    if len(counts) != 2:
        raise RequestError("counts", f"There are {len(counts)} rows: two are needed, one for each group.")
    totals = [math.fsum(row) for row in counts]
    if min(totals) <= 0:
        raise RequestError("counts", "A group has nobody in it: each needs a count above 0.")
    first, second = ([each / total for each in row] for row, total in zip(counts, totals, strict=True))
    if first == second:
        raise RequestError("counts", "Both groups have the same shares: there is no effect to plan on.")
    said = f"{sum(totals):g} people in {len(first)} ordered categories"
    return Finding({"proportions1": first, "proportions2": second}, said)


TWO_RANKS = (
    *(route for route in TWO_GROUPS if route.name != "worthwhile" and not route.last_resort),
    Route("u", "published U", (number("u", "U of group 2", low=0), *IN_GROUPS), _chance),
    Route(
        "categories",
        "counts of ordered categories",
        (number("counts", "Counts: a row a group, lowest first", "table", low=0, shortest=2),),
        _categories,
        readings=("ordered_in_two_groups",),
    ),
    *(route for route in TWO_GROUPS if route.last_resort),
)
