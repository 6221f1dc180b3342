"""Conversions between effect sizes and statistics: which can be made from which, checked and said in words.

Each conversion is one entry of `ROUTES`: what it gives, what it needs, what it may take besides, and the formula.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ragwort.base.wording import one_of
from ragwort.designs.agreement import need_whole, scatter_within_pairs
from ragwort.designs.quantities import NAMES, number
from ragwort.designs.refusals import RequestError, plain_number, said
from ragwort.stats import effects

Given = dict[str, Any]

CONVENTIONS = {
    "d": (0.2, 0.5, 0.8),
    "f": (0.1, 0.25, 0.4),
    "f_squared": (0.02, 0.15, 0.35),
    "r": (0.1, 0.3, 0.5),
    "w": (0.1, 0.3, 0.5),
    "h": (0.2, 0.5, 0.8),
}
_SIZES = ("small", "medium", "large")
LAST_RESORT = (
    "A size by convention (Cohen, 1988) is a last resort: it says nothing about what would matter in your study."
)


@dataclass(frozen=True)
class Conversion:
    """One way to get `to` from named quantities."""

    to: str
    needs: frozenset[str]
    formula: Callable[[Given], Any]
    may: frozenset[str] = frozenset()

    def fits(self, names: frozenset[str]) -> bool:
        """Whether exactly these quantities can be used."""
        return self.needs <= names <= self.needs | self.may


ROUTES: list[Conversion] = []


def _route(to: str, needs: str, formula: Callable[[Given], Any], may: str = "") -> None:
    ROUTES.append(Conversion(to, frozenset(needs.split()), formula, frozenset(may.split())))


def convert(request: Any) -> dict[str, Any]:
    """One conversion as parsed from JSON -> its answer, or `{"error": {"field", "message"}}`."""
    try:
        return _converted(request)
    except RequestError as error:
        return {"error": {"field": error.field, "message": error.message}}


def _converted(request: Any) -> dict[str, Any]:
    if not isinstance(request, Mapping) or not isinstance(request.get("from"), Mapping):
        raise RequestError("from", 'A conversion is like {"from": {"t": 2.5, "n1": 20, "n2": 22}, "to": "d"}.')
    for key in request:
        if key not in ("from", "to", "level"):
            raise RequestError(str(key), f"A conversion has from, to and level; there is no {said(key)}.")
    targets = sorted({route.to for route in ROUTES})
    to = request.get("to")
    if not isinstance(to, str) or to not in targets:
        raise RequestError("to", f"to must be {one_of(targets)}, not {said(to)}.")
    given = _checked(request["from"])
    if "level" in request:
        level = number("level", low=0, high=1, open_low=True, open_high=True)
        given["level"] = level.check(request["level"])
    route = _find_route(to, given)
    try:
        value = route.formula(given)
    except ArithmeticError:
        value = math.inf
    values = value if isinstance(value, tuple) else (value,)
    if not all(map(math.isfinite, values)):
        raise RequestError("from", f"{to} is not a finite number here: the values are too large or too small.")
    if isinstance(value, tuple):
        return {"to": to, "low": value[0], "high": value[1]}
    return {"to": to, "value": value, **({"notes": [LAST_RESORT]} if "size" in given else {})}


def _checked(given: Mapping[str, Any]) -> Given:
    for name in given:
        if name not in NAMES:
            raise RequestError(str(name), f"Nothing is converted from {said(name)}; known: {', '.join(NAMES)}.")
    if "size" in given and given["size"] not in _SIZES:
        raise RequestError("size", f"size must be {one_of(_SIZES)}, not {said(given['size'])}.")
    return {name: value if name == "size" else NAMES[name].check(value) for name, value in given.items()}


def _find_route(to: str, given: Given) -> Conversion:
    names = frozenset(given) - {"level"}
    routes = [route for route in ROUTES if route.to == to]
    for route in routes:
        if route.fits(names):
            return route
    nearest = max(routes, key=lambda route: (len(route.needs & names), -len(route.needs - names)))
    missing = sorted(nearest.needs - names)
    choices = "; ".join(" ".join(sorted(route.needs)) for route in routes)
    if missing and nearest.needs & names:
        raise RequestError(missing[0], f"{to} from {one_of(sorted(names))} needs {one_of(missing)} too.")
    stated = one_of(sorted(names)) if names else "nothing"
    raise RequestError("from", f"{to} cannot be had from {stated}; it can from: {choices}.")


# --- d, g, t --------------------------------------------------------------------------------------------------


def _df(x: Given) -> float:
    if "df" in x:
        return float(x["df"])
    if "n1" in x:
        return float(x["n1"] + x["n2"] - 2)
    return float(x["n"] - 1 if "n" in x else x["n_pairs"] - 1)


def _root(x: Given) -> float:
    """t / d."""
    if "n1" in x:
        return math.sqrt(x["n1"] * x["n2"] / (x["n1"] + x["n2"]))
    return math.sqrt(x["n"] if "n" in x else x["n_pairs"])


def _d_of_pairs(x: Given) -> float:
    return float(x["difference"] / scatter_within_pairs(x))


def _d_of_g(x: Given) -> float:
    factor = effects.hedges_factor(_df(x))
    if factor == 0:
        raise RequestError("df", "With 1 degree of freedom g is 0 whatever d is: there is no way back.")
    return float(x["g"] / factor)


def _pooled_d(x: Given) -> float:
    sd = float(effects.pooled_sd(x["sd1"], x["sd2"], x.get("n1"), x.get("n2")))
    return float((x["mean2"] - x["mean1"]) / sd)


def _d_of_one_sd(sd: str) -> Callable[[Given], float]:
    return lambda x: float((x["mean2"] - x["mean1"]) / x[sd])


_route("d", "mean1 mean2 sd1 sd2", _pooled_d)
_route("d", "mean1 mean2 sd1 sd2 n1 n2", _pooled_d)
for _sd in ("sd", "sd1", "sd2"):
    _route("d", f"mean1 mean2 {_sd}", _d_of_one_sd(_sd), may="n1 n2")
_route("d", "mean null_mean sd", lambda x: (x["mean"] - x["null_mean"]) / x["sd"], may="n")
_route("d", "difference sd_difference", lambda x: x["difference"] / x["sd_difference"], may="n_pairs")
_route("d", "difference sd1 sd2 correlation", _d_of_pairs, may="n_pairs")
for _sizes in ("n1 n2", "n", "n_pairs"):
    _route("d", f"t {_sizes}", lambda x: x["t"] / _root(x))
    _route("t", f"d {_sizes}", lambda x: x["d"] * _root(x))
_route("d", "r", lambda x: 2 * x["r"] / math.sqrt(1 - x["r"] ** 2))
_route("r", "d", lambda x: x["d"] / math.sqrt(x["d"] ** 2 + 4))
_route("d", "odds_ratio", lambda x: math.log(x["odds_ratio"]) * math.sqrt(3) / math.pi)
_route("odds_ratio", "d", lambda x: math.exp(x["d"] * math.pi / math.sqrt(3)))
for _sizes in ("df", "n1 n2", "n"):
    _route("d", f"g {_sizes}", _d_of_g)
    _route("g", f"d {_sizes}", lambda x: x["d"] * effects.hedges_factor(_df(x)))


# --- f, eta squared, F ----------------------------------------------------------------------------------------


def _f_of_means(x: Given) -> float:
    if "sizes" in x and len(x["sizes"]) != len(x["means"]):
        raise RequestError("sizes", f"There are {len(x['means'])} means but {len(x['sizes'])} sizes.")
    return effects.f_of_means(x["means"], x["sd"], x.get("sizes"))


_route("f", "means sd", _f_of_means, may="sizes")
_route("f", "eta_squared", lambda x: math.sqrt(effects.odds(x["eta_squared"])))
_route("f", "F df1 df2", lambda x: math.sqrt(x["F"] * x["df1"] / x["df2"]))
_route("eta_squared", "f", lambda x: x["f"] ** 2 / (1 + x["f"] ** 2))
_route("eta_squared", "F df1 df2", lambda x: x["F"] * x["df1"] / (x["F"] * x["df1"] + x["df2"]))
_route("F", "f df1 df2", lambda x: x["f"] ** 2 * x["df2"] / x["df1"])
_route("F", "eta_squared df1 df2", lambda x: effects.odds(x["eta_squared"]) * x["df2"] / x["df1"])


# --- regression -----------------------------------------------------------------------------------------------


def _added(x: Given) -> float:
    full, reduced = x["r_squared_full"], x["r_squared_reduced"]
    if reduced > full:
        raise RequestError(
            "r_squared_reduced",
            f"It must be at most r_squared_full, {plain_number(full)}, not {plain_number(reduced)}.",
        )
    return float((full - reduced) / (1 - full))


def _of_slope(x: Given) -> float:
    free = 1 - x.get("r_squared_predictors", 0.0)
    return float((x["slope"] * x["sd_predictor"] / x["sd_residual"]) ** 2 * free)


_route("f_squared", "r_squared", lambda x: effects.odds(x["r_squared"]))
_route("f_squared", "partial_r", lambda x: effects.odds(x["partial_r"] ** 2))
_route("f_squared", "r_squared_full r_squared_reduced", _added)
_route("f_squared", "slope sd_predictor sd_residual", _of_slope, may="r_squared_predictors")
_route("r_squared", "f_squared", lambda x: x["f_squared"] / (1 + x["f_squared"]))
_route("partial_r", "f_squared", lambda x: math.sqrt(x["f_squared"] / (1 + x["f_squared"])))


# --- tables ---------------------------------------------------------------------------------------------------


def _w_of_table(x: Given) -> float:
    name = "table" if "table" in x else "counts"
    table = x[name]
    total = sum(map(sum, table))
    if name == "table":
        need_whole("table", total, "The shares of the table")
    if any(sum(row) == 0 for row in table) or any(sum(column) == 0 for column in zip(*table, strict=True)):
        raise RequestError(name, "A row or a column is empty: leave it out.")
    return effects.w_of_table(table)


def _at_most(w: float, most: float) -> float:
    """w, which in a table cannot be larger than the root of its smaller side less 1. Raises `RequestError`."""
    if w > most * (1 + 1e-12):
        raise RequestError("w", f"w must be at most {plain_number(most)} in such a table, not {plain_number(w)}.")
    return min(w, most)


def _w_of_fit(x: Given) -> float:
    for name, called in (("null_proportions", "Known shares"), ("proportions", "Expected shares")):
        need_whole(name, sum(x[name]), called)
    if len(x["proportions"]) != len(x["null_proportions"]):
        raise RequestError("proportions", "Known and expected shares must be equally many.")
    return effects.w_of_fit(x["proportions"], x["null_proportions"])


def _narrow(x: Given) -> float:
    """w / Cramer's V."""
    return math.sqrt(min(x["rows"], x["columns"]) - 1)


_route("w", "table", _w_of_table)
_route("w", "counts", _w_of_table)
_route("w", "null_proportions proportions", _w_of_fit)
_route("w", "chi_square n", lambda x: math.sqrt(x["chi_square"] / x["n"]))
_route("w", "phi", lambda x: x["phi"])
_route("w", "cramers_v rows columns", lambda x: x["cramers_v"] * _narrow(x))
_route("chi_square", "w n", lambda x: x["w"] ** 2 * x["n"])
_route("cramers_v", "w rows columns", lambda x: _at_most(x["w"], _narrow(x)) / _narrow(x))

# --- chance of the better, overlap, correlations, survival, scatter on a log scale ---

_route("probability", "d", lambda x: effects.chance_of_larger(x["d"]))
_route("d", "probability", lambda x: effects.d_of_chance(x["probability"]))
_route("overlap", "d", lambda x: effects.overlap(x["d"]))
_route("q", "rho1 rho2", lambda x: math.atanh(x["rho2"]) - math.atanh(x["rho1"]))
_route("hazard_ratio", "median1 median2", lambda x: x["median1"] / x["median2"])
_route("hazard_ratio", "survival1 survival2", lambda x: math.log(x["survival2"]) / math.log(x["survival1"]))
_route("cv", "sd_log", lambda x: math.sqrt(math.expm1(x["sd_log"] ** 2)))
_route("sd_log", "cv", lambda x: math.sqrt(math.log1p(x["cv"] ** 2)))
_route("phi", "w", lambda x: _at_most(x["w"], 1.0))


# --- two proportions ------------------------------------------------------------------------------------------


def _proportion2(x: Given) -> float:
    """Proportion 2 from whatever says it."""
    p1 = x["proportion1"]
    if "h" in x:
        angle = math.asin(math.sqrt(p1)) + x["h"] / 2
        if not 0 <= angle <= math.pi / 2:
            raise RequestError("h", f"From {plain_number(p1)} no proportion is {plain_number(x['h'])} away.")
        return math.sin(angle) ** 2
    if "odds_ratio" in x:
        _need_odds("proportion1", p1)
        ratio = x["odds_ratio"] * effects.odds(p1)
        return float(ratio / (1 + ratio))
    for name, p2 in (
        ("risk_ratio", p1 * x.get("risk_ratio", 0.0)),
        ("risk_difference", p1 + x.get("risk_difference", 0.0)),
    ):
        if name in x:
            if not 0 <= p2 <= 1:
                raise RequestError(name, f"It would make proportion2 {plain_number(p2)}, which is not from 0 to 1.")
            return float(p2)
    return float(x["proportion2"])


def _need_odds(name: str, proportion: float) -> None:
    if not 0 < proportion < 1:
        raise RequestError(name, f"An odds ratio needs {name} between 0 and 1, not {plain_number(proportion)}.")


def _odds_ratio(x: Given) -> float:
    p2 = _proportion2(x)
    _need_odds("proportion1", x["proportion1"])
    _need_odds("proportion2", p2)
    return float(effects.odds(p2) / effects.odds(x["proportion1"]))


def _risk_ratio(x: Given) -> float:
    if x["proportion1"] == 0:
        raise RequestError("proportion1", "A risk ratio needs proportion1 above 0.")
    return _proportion2(x) / float(x["proportion1"])


_SAYS_P2 = ("proportion2", "risk_difference", "risk_ratio", "odds_ratio")
for _says in _SAYS_P2:
    for _to, _formula in (
        ("proportion2", _proportion2),
        ("risk_difference", lambda x: _proportion2(x) - x["proportion1"]),
        ("risk_ratio", _risk_ratio),
        ("odds_ratio", _odds_ratio),
    ):
        if _to != _says:
            _route(_to, f"{_says} proportion1", _formula)
_route("proportion2", "h proportion1", _proportion2)
_route("h", "proportion1 proportion2", lambda x: effects.h_of(x["proportion1"], x["proportion2"]))


# --- intervals and conventions --------------------------------------------------------------------------------


def _d_interval(x: Given) -> tuple[float, float]:
    d = x["t"] / _root(x) if "t" in x else x["d"] if "d" in x else _find_route("d", x).formula(x)
    low, high = effects.noncentrality_interval(d * _root(x), _df(x), x.get("level", 0.95))
    return low / _root(x), high / _root(x)


def _r_interval(x: Given) -> tuple[float, float]:
    if x["n"] < 4:
        raise RequestError("n", f"An interval for r needs n of 4 or more, not {x['n']}.")
    from scipy import special

    reach = -float(special.ndtri((1 - x.get("level", 0.95)) / 2)) / math.sqrt(x["n"] - 3)
    return math.tanh(math.atanh(x["r"]) - reach), math.tanh(math.atanh(x["r"]) + reach)


def _by_convention(values: tuple[float, float, float]) -> Callable[[Given], float]:
    return lambda x: values[_SIZES.index(x["size"])]


for _sizes in ("n1 n2", "n", "n_pairs"):
    _route("d_interval", f"t {_sizes}", _d_interval)
    _route("d_interval", f"d {_sizes}", _d_interval)
_route("d_interval", "mean1 mean2 sd1 sd2 n1 n2", _d_interval)
_route("d_interval", "mean1 mean2 sd n1 n2", _d_interval)
_route("d_interval", "mean null_mean sd n", _d_interval)
_route("d_interval", "difference sd_difference n_pairs", _d_interval)
_route("d_interval", "difference sd1 sd2 correlation n_pairs", _d_interval)
_route("r_interval", "r n", _r_interval)
for _to, _values in CONVENTIONS.items():
    _route(_to, "size", _by_convention(_values))
