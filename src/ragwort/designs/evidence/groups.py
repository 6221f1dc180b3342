"""Routes to f: several groups, crossed factors, repeated measurements."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import (
    F_STATISTIC,
    LEVEL,
    SIZE,
    THUMB,
    WORTH,
    Finding,
    Inputs,
    Route,
    chosen,
    converted,
    count,
    interval_words,
    measured,
    number,
    single,
    spread,
    thumb,
)
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import f_noncentrality_interval, f_of_means
from ragwort.stats.estimates import f_of_cells

UNEQUAL = "f is that of groups of one size, as planned; its interval is that of the sizes the data have."
EVEN = "The interval takes people as spread evenly over the cells."


def _f_with_interval(
    f: float, statistic: float, df1: float, df2: float, scale: float, others: dict[str, Any] | None = None
) -> Finding:
    """f, and its interval where `scale` is λ / f² of the data."""
    same = others or {}
    low, high = (math.sqrt(each / scale) for each in f_noncentrality_interval(statistic, df1, df2, LEVEL))
    lower = {"f": rounded(low), **same} if low > 0 else {}
    return Finding({"f": rounded(f), **same}, f"f = {rounded(f):g}", interval_words("f", low, high), lower)


def _published_f(x: Inputs) -> Finding:
    """With as many cells as the term has df and one more, people are df1 + df2 + 1."""
    f = converted("f", F=x["F"], df1=x["df1"], df2=x["df2"])
    return _f_with_interval(f, x["F"], x["df1"], x["df2"], x["df1"] + x["df2"] + 1)


def _partial_f(x: Inputs) -> Finding:
    f = converted("f", F=x["F"], df1=x["df1"], df2=x["df2"])
    if "n" not in x:
        return Finding({"f": rounded(f)}, f"f = {rounded(f):g}")
    if x["n"] <= x["df1"] + x["df2"]:
        raise RequestError("n", f"{x['n']} people leave fewer than {x['df2']:g} denominator df.")
    return _f_with_interval(f, x["F"], x["df1"], x["df2"], x["n"])


def _means(x: Inputs) -> Finding:
    f = f_of_means(x["means"], x["sd"])
    values = {"means": [rounded(each) for each in x["means"]], "sd": rounded(x["sd"]), "groups": len(x["means"])}
    if "sizes" not in x:
        return Finding(values, f"f = {rounded(f):g}")
    sizes, df1 = x["sizes"], len(x["means"]) - 1
    if len(sizes) != len(x["means"]):
        raise RequestError("sizes", f"There are {len(x['means'])} means but {len(sizes)} numbers of people.")
    people = math.fsum(sizes)
    statistic = people * f_of_means(x["means"], x["sd"], sizes) ** 2 / df1
    found = _f_with_interval(f, statistic, df1, people - df1 - 1, people, {"groups": len(x["means"])})
    remark = UNEQUAL if len(set(sizes)) > 1 else ""
    return Finding(values, f"f = {rounded(f):g}", found.interval, found.lower, remark)


_ETA = number("eta_squared", "η²", low=0, high=1, open_high=True)
_MEANS_OF_GROUPS = (
    number("means", "Means of the groups", "list", shortest=2),
    spread("sd", "SD within groups"),
    number("sizes", "People in each group", "list", required=False, shortest=2, low=2, whole=True),
)


def _worth(x: Inputs) -> Finding:
    return Finding({"contrast": x["contrast"]}, f"contrast {x['contrast']:g}", remark=WORTH)


def _contrast_of_means(x: Inputs) -> Finding:
    values = {"means": [rounded(each) for each in x["means"]], "sd": rounded(x["sd"])}
    return Finding(values, f"{len(x['means'])} means, SD {values['sd']:g}")


def _contrast_in_sds(x: Inputs) -> Finding:
    d = converted("d", size=x["size"])
    values = {"contrast": rounded(d * x["sd"]), "sd": rounded(x["sd"])}
    return Finding(values, f"{d:g} SDs", remark=THUMB)


CONTRAST = (
    Route("worthwhile", "smallest worthwhile contrast", (measured("contrast", "Value of the contrast"),), _worth),
    Route("means", "means and SD of the groups", _MEANS_OF_GROUPS[:2], _contrast_of_means),
    Route("convention", "rule of thumb", (SIZE, spread("sd", "SD within groups")), _contrast_in_sds, last_resort=True),
)
SEVERAL_GROUPS = (
    Route("means", "means and SD of the groups", _MEANS_OF_GROUPS, _means, readings=("several_groups",)),
    Route("F", "published F statistic", F_STATISTIC, _published_f),
    Route("eta_squared", "published η²", (_ETA,), single("f", "f", "f")),
    thumb("f", "f", "f"),
)

# --- crossed factors ---

_TERMS = {"first": (0,), "second": (1,), "both": (0, 1)}


def _cells(x: Inputs) -> Finding:
    """f of a term from cell means; with the people of each cell alike, its interval too."""
    term, rows, columns = _TERMS[x["question"]], len(x["cells"]), len(x["cells"][0])
    f = f_of_cells(x["cells"], x["sd"], term)
    others = {"levels": [rows, columns], "term": [axis + 1 for axis in term]}
    if "n" not in x:
        return Finding({"f": rounded(f), **others}, f"f = {rounded(f):g}")
    people, df1 = x["n"], math.prod(((rows, columns)[axis] - 1) for axis in term)
    df2 = people - rows * columns
    if df2 < 1:
        raise RequestError("n", f"{rows * columns} cells need more than {rows * columns} people, not {people}.")
    return replace(_f_with_interval(f, people * f**2 / df1, df1, df2, people, others), remark=EVEN)


FACTORS = (
    Route(
        "cells",
        "cell means of two factors",
        (
            number("cells", "Cell means: a row a level of the first", "table", shortest=2),
            spread("sd", "SD within cells"),
            count("n", "Total people", required=False),
            chosen("question", "Effect of", both="their interaction", first="the first factor", second="the second"),
        ),
        _cells,
        readings=("two_factors",),
    ),
    Route(
        "F",
        "published F of the term",
        (*F_STATISTIC, count("n", "Total people", required=False)),
        _partial_f,
    ),
    Route("eta_squared", "published partial η²", (_ETA,), single("f", "f", "f")),
    thumb("f", "f", "f"),
)

# --- repeated measurements ---

_QUESTIONS = {"between": (0,), "within": (1,), "interaction": (0, 1)}
_QUESTION = chosen(
    "term",
    "Question",
    within="change over time",
    interaction="group by time",
    between="difference of groups",
)
_RHO = number("correlation", "Correlation over time", low=-1, high=1, open_low=True, open_high=True)


def _scale(x: Inputs, measurements: int) -> float:
    """λ / f² for each person: m / (1 + (m - 1)ρ) between, m / (1 - ρ) within."""
    rho = x["correlation"]
    if 1 + (measurements - 1) * rho <= 0:
        raise RequestError("correlation", f"With {measurements} measurements it must be above -1/{measurements - 1}.")
    return float(measurements / (1 + (measurements - 1) * rho if x["term"] == "between" else 1 - rho))


def _repeated_f(x: Inputs) -> Finding:
    scale = x["n"] * _scale(x, x["measurements"])
    others = {"term": x["term"], "measurements": x["measurements"], "correlation": x["correlation"]}
    f = math.sqrt(x["F"] * x["df1"] / scale)
    return _f_with_interval(f, x["F"], x["df1"], x["df2"], scale, others)


def _means_over_time(x: Inputs) -> Finding:
    cells = x["cells"]
    groups, measurements = len(cells), len(cells[0])
    if measurements < 2:
        raise RequestError("cells", "Give the mean of each measurement: two or more in a row, one row a group.")
    if groups < 2 and x["term"] != "within":
        raise RequestError("term", "This question needs two groups or more: a row of means for each.")
    f = f_of_cells(cells, x["sd"], _QUESTIONS[x["term"]])
    others = {
        "term": x["term"],
        "groups": groups,
        "measurements": measurements,
        "correlation": rounded(x["correlation"]),
        "sphericity": rounded(min(max(x.get("sphericity", 1.0), 1 / (measurements - 1)), 1.0)),
    }
    _scale(x, measurements)
    return Finding({"f": rounded(f), **others}, f"f = {rounded(f):g}")


REPEATED = (
    Route(
        "cells",
        "means over time",
        (
            number("cells", "Means: a row a group", "table", shortest=1),
            spread("sd", "SD of one measurement"),
            _RHO,
            number("sphericity", "Sphericity ε", required=False, low=0, high=1, open_low=True),
            _QUESTION,
        ),
        _means_over_time,
        readings=("repeated_across", "repeated_down"),
    ),
    Route(
        "F",
        "published F statistic",
        (*F_STATISTIC, count("n", "Total people"), count("measurements", "Measurements"), _RHO, _QUESTION),
        _repeated_f,
    ),
    thumb("f", "f", "f"),
)
