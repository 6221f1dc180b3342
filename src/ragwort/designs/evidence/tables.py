"""Routes to a table of shares, or to w."""

from __future__ import annotations

import math
from typing import Any

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import (
    LEVEL,
    SIZE,
    THUMB,
    Finding,
    Inputs,
    Route,
    chosen,
    converted,
    count,
    interval_words,
    number,
)
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import chi_square_noncentrality_interval


def _w_interval(w: float, df: int, people: float) -> tuple[str, float]:
    """The interval in words, and its lower limit: √(λ / N)."""
    low, high = (math.sqrt(each / people) for each in chi_square_noncentrality_interval(w**2 * people, df, LEVEL))
    return interval_words("w", low, high), low


def _w(w: float, df: int, people: float | None = None) -> Finding:
    """w with its degrees of freedom; with its interval where people are known."""
    values: dict[str, Any] = {"w": rounded(w), "df": df}
    if people is None:
        return Finding(values, f"w = {rounded(w):g}")
    words, low = _w_interval(w, df, people)
    return Finding(values, f"w = {rounded(w):g}", words, {"w": rounded(low), "df": df} if low > 0 else {})


def _table(x: Inputs) -> Finding:
    counts = x["counts"]
    total = sum(each for row in counts for each in row)
    if total <= 0:
        raise RequestError("counts", "The table is empty: type the counts, row by row.")
    w = converted("w", counts=counts)
    df = (len(counts) - 1) * (len(counts[0]) - 1)
    people = total if x["counted"] == "counts" else x.get("n")
    found = _w(w, df, people)
    values = {"table": [[each / total for each in row] for row in counts]}
    return Finding(values, f"w = {w:.2f}", found.interval, found.lower)


def _df(x: Inputs) -> int:
    return int((x["rows"] - 1) * (x["columns"] - 1))


_N = count("n", "People")
_N_IF_KNOWN = count("n", "People", required=False)
_ROWS = (count("rows", "Rows"), count("columns", "Columns"))
TABLE = (
    Route(
        "counts",
        "a table of counts or percentages",
        (
            number("counts", "Table", "table", low=0, shortest=2),
            chosen("counted", "The numbers are", counts="counts of people", percentages="percentages"),
        ),
        _table,
        readings=("cross_table",),
    ),
    Route(
        "chi_square",
        "published χ² statistic",
        (number("chi_square", "χ²", low=0, high=1e6), _N, *_ROWS),
        lambda x: _w(converted("w", chi_square=x["chi_square"], n=x["n"]), _df(x), x["n"]),
    ),
    Route(
        "cramers_v",
        "published Cramér's V",
        (number("cramers_v", "V", low=0, high=1), *_ROWS, _N_IF_KNOWN),
        lambda x: _w(
            converted("w", cramers_v=x["cramers_v"], rows=x["rows"], columns=x["columns"]), _df(x), x.get("n")
        ),
    ),
    Route(
        "phi",
        "published φ of a 2 × 2 table",
        (number("phi", "φ", low=0, high=1), _N_IF_KNOWN),
        lambda x: _w(x["phi"], 1, x.get("n")),
    ),
    Route(
        "convention",
        "rule of thumb",
        (SIZE, *_ROWS),
        lambda x: Finding(
            {"w": converted("w", size=x["size"]), "df": _df(x)},
            f"w = {converted('w', size=x['size']):g}",
            remark=THUMB,
        ),
        last_resort=True,
    ),
)

# --- one row of categories against known shares ---


def _fit(x: Inputs) -> Finding:
    counts = x["counts"]
    total, size = math.fsum(counts), len(counts)
    if total <= 0:
        raise RequestError("counts", "All counts are 0: type how many there are of each category.")
    known = x.get("null_proportions") or [1 / size] * size
    if len(known) != size:
        raise RequestError("null_proportions", f"There are {size} counts but {len(known)} known shares.")
    shares = [each / total for each in counts]
    w = converted("w", null_proportions=known, proportions=shares)
    found = _w(w, size - 1, total)
    return Finding(
        {"null_proportions": known, "proportions": shares}, f"w = {rounded(w):g}", found.interval, found.lower
    )


_CATEGORIES = count("categories", "Categories")
FIT = (
    Route(
        "counts",
        "counts of each category",
        (
            number("counts", "Counts", "list", shortest=2, low=0),
            number(
                "null_proportions",
                "Known shares; equal ones where empty",
                "list",
                required=False,
                shortest=2,
                low=0,
                high=1,
                open_low=True,
            ),
        ),
        _fit,
        readings=("one_category",),
    ),
    Route(
        "chi_square",
        "published χ² statistic",
        (number("chi_square", "χ²", low=0, high=1e6), _N, _CATEGORIES),
        lambda x: _w(converted("w", chi_square=x["chi_square"], n=x["n"]), x["categories"] - 1, x["n"]),
    ),
    Route(
        "convention",
        "rule of thumb",
        (SIZE, _CATEGORIES),
        lambda x: Finding(
            {"w": converted("w", size=x["size"]), "df": x["categories"] - 1},
            f"w = {converted('w', size=x['size']):g}",
            remark=THUMB,
        ),
        last_resort=True,
    ),
)
