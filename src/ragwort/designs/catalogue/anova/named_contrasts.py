"""Contrasts that have a name, for any number of groups."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any

from ragwort.designs.design import Offer, Values

MOST_GROUPS = 40  # for which they are offered: of more nobody reads the coefficients


def groups_of(values: Values) -> int:
    """How many groups the coefficients are for: as many as there are, or as there are means."""
    return len(values.get("coefficients") or values.get("means") or ())


def last_against_first(groups: int) -> list[float]:
    """`-1, 0, 1`."""
    return [-1.0, *[0.0] * (groups - 2), 1.0]


def second_against_first(groups: int) -> list[float]:
    """`-1, 1, 0`: one of the comparisons of each with a control."""
    return [-1.0, 1.0, *[0.0] * (groups - 2)]


def first_against_others(groups: int) -> list[float]:
    """`-1, 0.5, 0.5`."""
    return [-1.0, *[1 / (groups - 1)] * (groups - 1)]


def first_against_all(groups: int) -> list[float]:
    """`0.75, -0.25, -0.25, -0.25`: a mean less the mean of all means."""
    return [1 - 1 / groups, *[-1 / groups] * (groups - 1)]


def straight_line(groups: int) -> list[float]:
    """`-3, -1, 1, 3`: the trend over groups that are equally far apart, in the smallest whole numbers.

    Fisher RA, Yates F. Statistical Tables. 6th ed. Edinburgh: Oliver and Boyd; 1963. Table XXIII.
    """
    return _smallest([2 * at - groups + 1 for at in range(groups)])


def bend(groups: int) -> list[float]:
    """`1, -2, 1`: the curvature over groups that are equally far apart, at right angles to `straight_line`.

    Fisher RA, Yates F. Statistical Tables. 6th ed. Edinburgh: Oliver and Boyd; 1963. Table XXIII.
    """
    return _smallest([3 * (2 * at - groups + 1) ** 2 - groups**2 + 1 for at in range(groups)])


def trend_of(coefficients: Sequence[float]) -> str:
    """`linear trend` or `quadratic trend` where that is what they are, up to a factor.

    Of three groups -1, 0, 1 is as well the last against the first: nothing is said of it.
    """
    groups = len(coefficients)
    for name, made, fewest in (("linear trend", straight_line, 4), ("quadratic trend", bend, 3)):
        if fewest <= groups <= MOST_GROUPS and _are_along(coefficients, made(groups)):
            return name
    return ""


def _are_along(these: Sequence[float], those: Sequence[float]) -> bool:
    """Whether one list is a multiple of the other."""
    factor = these[0] / those[0]
    largest = max(map(abs, these))
    return factor != 0 and all(
        math.isclose(this, factor * that, rel_tol=1e-9, abs_tol=1e-9 * largest)
        for this, that in zip(these, those, strict=True)
    )


def _smallest(coefficients: Sequence[int]) -> list[float]:
    return [each / math.gcd(*coefficients) for each in coefficients]


def _offer(
    label: str, made: Callable[[int], list[float]], fewest: int = 2, comparisons: Callable[[int], int] | None = None
) -> Offer:
    def values(given: Values) -> dict[str, Any]:
        groups = groups_of(given)
        if not fewest <= groups <= MOST_GROUPS:
            return {}
        shared = {"comparisons": comparisons(groups)} if comparisons is not None else {}
        return {"coefficients": made(groups), **shared}

    return Offer(label, values)


NAMED_CONTRASTS = (
    _offer("The last against the first", last_against_first),
    _offer("Each against the first, sharing alpha", second_against_first, 3, lambda groups: groups - 1),
    _offer("Each against the mean of all, sharing alpha", first_against_all, 3, lambda groups: groups),
    _offer("The first against the mean of the others", first_against_others, 3),
    _offer("Linear trend", straight_line, 3),
    _offer("Quadratic trend", bend, 3),
)
