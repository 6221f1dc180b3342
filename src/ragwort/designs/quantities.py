"""The quantities that conversions start from, with their bounds."""

from __future__ import annotations

from typing import Any

from ragwort.designs.assumption import Assumption, Kind


def number(name: str, kind: Kind = "number", **bounds: Any) -> Assumption:
    return Assumption(name, name, kind, "Effect", "", **bounds)


_OPEN_ONE: dict[str, Any] = {"low": -1, "high": 1, "open_low": True, "open_high": True}
_SHARE: dict[str, Any] = {"low": 0, "high": 1}
_UNDER_ONE: dict[str, Any] = {"low": 0, "high": 1, "open_high": True}
_ABOVE_ZERO: dict[str, Any] = {"low": 0, "open_low": True}
NAMES: dict[str, Assumption] = {
    **{
        name: number(name)
        for name in ("mean1", "mean2", "mean", "null_mean", "difference", "t", "d", "g", "slope", "h")
    },
    **{name: number(name, **_ABOVE_ZERO) for name in ("sd", "sd1", "sd2", "sd_difference", "odds_ratio", "risk_ratio")},
    **{name: number(name, **_ABOVE_ZERO) for name in ("sd_predictor", "sd_residual")},
    **{name: number(name, "count", low=2) for name in ("n", "n1", "n2", "n_pairs", "rows", "columns")},
    **{name: number(name, low=1) for name in ("df", "df1", "df2")},
    **{name: number(name, low=0) for name in ("F", "f", "f_squared", "w", "chi_square")},
    **{name: number(name, **_OPEN_ONE) for name in ("r", "partial_r")},
    **{
        name: number(name, **_UNDER_ONE) for name in ("eta_squared", "r_squared", "r_squared_full", "r_squared_reduced")
    },
    "r_squared_predictors": number("r_squared_predictors", **_UNDER_ONE),
    **{name: number(name, **_SHARE) for name in ("proportion1", "proportion2", "phi", "cramers_v")},
    "correlation": number("correlation", low=-1, high=1),
    "risk_difference": number("risk_difference", low=-1, high=1),
    "means": number("means", "list", shortest=2),
    "sizes": number("sizes", "list", shortest=2, low=0, open_low=True),
    "table": number("table", "table", shortest=2, **_SHARE),
    "counts": number("counts", "table", shortest=2, low=0),
    "proportions": number("proportions", "list", shortest=2, **_SHARE),
    "null_proportions": number("null_proportions", "list", shortest=2, low=0, high=1, open_low=True),
    "probability": number("probability", low=0, high=1, open_low=True, open_high=True),
    **{name: number(name, **_OPEN_ONE) for name in ("rho1", "rho2")},
    **{name: number(name, **_ABOVE_ZERO) for name in ("median1", "median2", "sd_log", "cv")},
    **{name: number(name, low=0, high=1, open_low=True, open_high=True) for name in ("survival1", "survival2")},
    "size": Assumption("size", "size", "number", "Effect", ""),
}
