"""Routes to the fit of a structural equation model."""

from __future__ import annotations

import math

from ragwort.base.lazily import np, special
from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import THUMB, Finding, Inputs, Route, chosen, count, number, two_digits

_REFERENCE = 0.05  # of close fit
_CLOSE = {"close": 0.04, "fair": 0.08, "poor": 0.1}


def _rmsea(x: Inputs) -> Finding:
    value = rounded(x["rmsea"])
    return Finding({"rmsea": value}, f"RMSEA {value:g}")


def _chi_square(x: Inputs) -> Finding:
    """The RMSEA of a fitted model with its 90% interval: Browne and Cudeck (1993), equations 12 and 14."""
    statistic, df, people = x["chi_square"], int(x["df_model"]), x["n"]
    scale = df * (people - 1)
    value = rounded(math.sqrt(max(statistic - df, 0.0) / scale))
    low, high = (math.sqrt(_noncentrality(statistic, df, below) / scale) for below in (0.95, 0.05))
    words = f"90% interval of the RMSEA: {two_digits(low)} to {two_digits(high)}"
    if low <= _REFERENCE <= high:
        words += f"; it includes {_REFERENCE:g}, so it has no lower limit to plan on"
        return Finding({"rmsea": value, "df": df}, f"RMSEA {two_digits(value)}", words)
    near = rounded(low if low > _REFERENCE else high)
    return Finding({"rmsea": value, "df": df}, f"RMSEA {two_digits(value)}", words, {"rmsea": near, "df": df})


def _noncentrality(statistic: float, df: int, below: float) -> float:
    """The noncentrality that leaves this chance below the statistic; 0 where even that leaves less."""
    if special.chdtr(df, statistic) <= below:
        return 0.0
    return float(np.maximum(special.chndtrinc(statistic, df, below), 0.0))


def _thumb(x: Inputs) -> Finding:
    value = _CLOSE[x["fit"]]
    return Finding({"rmsea": value}, f"RMSEA {value:g}", remark=THUMB)


MODEL_FIT = (
    Route("rmsea", "published RMSEA", (number("rmsea", "RMSEA", low=0, high=10),), _rmsea),
    Route(
        "chi_square",
        "published chi-square of a model",
        (
            number("chi_square", "Chi-square", low=0, high=1e6),
            count("df_model", "Degrees of freedom", low=1),
            count("n", "People"),
        ),
        _chi_square,
    ),
    Route(
        "convention",
        "rule of thumb",
        (chosen("fit", "Fit", fair="fair, RMSEA 0.08", poor="poor, RMSEA 0.10", close="close, RMSEA 0.04"),),
        _thumb,
        last_resort=True,
    ),
)
