"""Routes to a correlation and to f²."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from ragwort.base.lazily import np
from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import (
    CORRELATION,
    F_STATISTIC,
    LEVEL,
    NO_SIDE,
    P_VALUE,
    SIZE,
    THUMB,
    Finding,
    Inputs,
    Route,
    chosen,
    converted,
    count,
    interval_words,
    limits,
    nearer,
    number,
    single,
    spread,
    t_of_p,
    thumb,
    two_digits,
    values_of,
)
from ragwort.designs.refusals import RequestError
from ragwort.stats.effects import f_noncentrality_interval
from ragwort.stats.estimates import correlation

# --- a correlation ---


def _r_and_n(x: Inputs) -> Finding:
    r = rounded(x["r"])
    effect = f"r {two_digits(r)}"
    if "n" not in x:
        return Finding({"rho": r}, effect)
    low, high = limits("r_interval", r=x["r"], n=x["n"])
    near = nearer(low, high)
    return Finding({"rho": r}, effect, interval_words("r", low, high), {"rho": rounded(near)} if near else {})


def _raw(x: Inputs) -> Finding:
    first, second = np.array(x["values1"]), np.array(x["values2"])
    if len(first) != len(second):
        raise RequestError("values2", f"There are {len(first)} values of the first but {len(second)} of the second.")
    r = correlation(first, second)
    if math.isnan(r) or abs(r) >= 1:
        raise RequestError("values1", "These values do not vary, or lie on one line: no correlation to plan on.")
    return _r_and_n({"r": r, "n": len(first)} if len(first) >= 4 else {"r": r})


def _of_p(x: Inputs) -> Finding:
    t = t_of_p(x["p"], x["n"] - 2)
    return replace(_r_and_n({"r": t / math.sqrt(t**2 + x["n"] - 2), "n": x["n"]}), remark=NO_SIDE)


def _other(x: Inputs) -> Finding:
    value = x["value"]
    if x["which"] == "d":
        return _r_and_n({"r": converted("r", d=value)})
    if not 0 <= value < 1:
        raise RequestError("value", f"R² must be at least 0 and below 1, not {value:g}.")
    return _r_and_n({"r": math.sqrt(value)})


RELATION = (
    Route(
        "r",
        "published correlation",
        (CORRELATION, count("n", "People", required=False, low=4)),
        _r_and_n,
        readings=("two_columns",),
    ),
    Route(
        "raw",
        "raw values",
        (values_of("values1", "Values of the first"), values_of("values2", "Values of the second")),
        _raw,
    ),
    Route("p", "published p value", (P_VALUE, count("n", "People", low=4)), _of_p),
    Route(
        "other",
        "another effect size",
        (chosen("which", "Known effect", r_squared="R² of the two", d="Cohen's d"), number("value", "Its value")),
        _other,
    ),
    thumb("rho", "r", "r"),
)

# --- two correlations ---


def _two_r(x: Inputs) -> Finding:
    """Two correlations, with the interval of their distance q where it is known of how many people each is."""
    r1, r2 = rounded(x["r1"]), rounded(x["r2"])
    q = math.atanh(r2) - math.atanh(r1)
    values, effect = {"rho1": r1, "rho2": r2}, f"q = {two_digits(q)}"
    if "n1" not in x and "n2" not in x:
        return Finding(values, effect)
    if "n1" not in x or "n2" not in x:
        raise RequestError("n2" if "n1" in x else "n1", "Give both numbers of people, or neither.")
    reach = _TWO_SIDED * math.sqrt(1 / (x["n1"] - 3) + 1 / (x["n2"] - 3))
    near = nearer(q - reach, q + reach)
    lower = {**values, "rho2": rounded(math.tanh(math.atanh(r1) + near))} if near else {}
    return Finding(values, effect, interval_words("q", q - reach, q + reach), lower)


def _two_raw_relations(x: Inputs) -> Finding:
    found = []
    for one, other in (("values1", "values2"), ("values3", "values4")):
        if len(x[one]) != len(x[other]):
            raise RequestError(other, f"There are {len(x[one])} values of the first but {len(x[other])} of the second.")
        r = correlation(np.array(x[one]), np.array(x[other]))
        if math.isnan(r) or abs(r) >= 1:
            raise RequestError(one, "These values do not vary, or lie on one line: no correlation to plan on.")
        found.append(r)
    sizes = {"n1": len(x["values1"]), "n2": len(x["values3"])}
    return _two_r({"r1": found[0], "r2": found[1], **(sizes if min(sizes.values()) >= 4 else {})})


def _q(x: Inputs) -> Finding:
    q = {"small": 0.1, "medium": 0.3, "large": 0.5}[x["size"]]
    values = {"rho1": rounded(x["r1"]), "rho2": rounded(math.tanh(math.atanh(x["r1"]) + q))}
    return Finding(values, f"q = {q:g}", remark=THUMB)


_TWO_SIDED = 1.959963984540054
_R1, _R2 = (replace(CORRELATION, name=f"r{group}", label=f"Correlation in group {group}") for group in (1, 2))
TWO_RELATIONS = (
    Route(
        "r",
        "published correlations",
        (
            _R1,
            _R2,
            count("n1", "People in group 1", required=False, low=4),
            count("n2", "People in group 2", required=False, low=4),
        ),
        _two_r,
    ),
    Route(
        "raw",
        "raw values",
        (
            values_of("values1", "First variable, group 1"),
            values_of("values2", "Second variable, group 1"),
            values_of("values3", "First variable, group 2"),
            values_of("values4", "Second variable, group 2"),
        ),
        _two_raw_relations,
    ),
    Route("convention", "rule of thumb", (_R1, SIZE), _q, last_resort=True),
)

# --- regression ---

_R2 = number("r_squared", "R²", low=0, high=1, open_high=True)


def _f2_with_interval(statistic: float, df1: float, df2: float, people: float) -> Finding:
    """f² = F·df1/df2, with limits λ / N as for fixed predictors."""
    f2 = rounded(statistic * df1 / df2)
    low, high = (each / people for each in f_noncentrality_interval(statistic, df1, df2, LEVEL))
    lower = {"f_squared": rounded(low)} if low > 0 else {}
    return Finding({"f_squared": f2}, f"f² = {f2:g}", interval_words("f²", low, high), lower)


def _r_squared(x: Inputs) -> Finding:
    f2 = converted("f_squared", r_squared=x["r_squared"])
    known = {name for name in ("n", "predictors") if name in x}
    if not known:
        return Finding({"f_squared": rounded(f2)}, f"f² = {rounded(f2):g}")
    if len(known) == 1:
        missing = "predictors" if "n" in known else "n"
        raise RequestError(missing, "Give both the people and the predictors, or neither.")
    df2 = x["n"] - x["predictors"] - 1
    if df2 < 1:
        raise RequestError("n", f"{x['predictors']} predictors need {x['predictors'] + 2} people or more.")
    found = _f2_with_interval(f2 * df2 / x["predictors"], x["predictors"], df2, x["n"])
    counted = {"predictors": x["predictors"]}
    lower = {**found.lower, **counted} if found.lower else {}
    return Finding({**found.values, **counted}, found.effect, found.interval, lower)


def _model_f(x: Inputs) -> Finding:
    return _f2_with_interval(x["F"], x["df1"], x["df2"], x["df1"] + x["df2"] + 1)


MODEL = (
    Route(
        "r_squared",
        "published R²",
        (_R2, count("n", "People", required=False), count("predictors", "Predictors", required=False, low=1)),
        _r_squared,
        readings=("model",),
    ),
    Route("F", "published F statistic", F_STATISTIC, _model_f),
    thumb("f_squared", "f²", "f_squared"),
)


def _added(x: Inputs) -> Finding:
    full, reduced = x["r_squared_full"], x["r_squared_reduced"]
    if reduced > full:
        raise RequestError("r_squared_reduced", f"R² without the terms must be at most that with them, {full:g}.")
    f2 = converted("f_squared", **x)
    return Finding({name: rounded(value) for name, value in x.items()}, f"f² = {rounded(f2):g}")


ADDED = (
    Route(
        "r_squared",
        "R² with the terms and without",
        (
            number("r_squared_full", "R² with the tested terms", low=0, high=1, open_high=True),
            number("r_squared_reduced", "R² without them", low=0, high=1, open_high=True),
        ),
        _added,
    ),
    Route("F", "published F of the change", F_STATISTIC, lambda x: _simple("f_squared", x["F"] * x["df1"] / x["df2"])),
    Route(
        "partial",
        "published partial R²",
        (number("r_squared", "Partial R²", low=0, high=1, open_high=True),),
        single("f_squared", "f²", "f_squared"),
    ),
    thumb("f_squared", "f²", "f_squared"),
)


def _simple(name: str, value: float) -> Finding:
    return Finding({name: rounded(value)}, f"f² = {rounded(value):g}")


def _partial(r: Callable[[Inputs], float]) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        f2 = converted("f_squared", partial_r=r(x))
        return Finding({"partial_r": rounded(r(x))}, f"f² = {rounded(f2):g}")

    return work


def _slope(x: Inputs) -> Finding:
    f2 = converted("f_squared", **x)
    return Finding({"r_squared_predictors": 0.0, **x}, f"f² = {rounded(f2):g}")


COEFFICIENT = (
    Route(
        "slope",
        "slope and SDs",
        (
            number("slope", "Slope"),
            number("sd_predictor", "SD of the predictor", low=0, open_low=True),
            spread("sd_residual", "SD of the residuals"),
            number(
                "r_squared_predictors",
                "R² of the predictor on the others",
                required=False,
                low=0,
                high=1,
                open_high=True,
            ),
        ),
        _slope,
    ),
    Route(
        "t",
        "published t of the coefficient",
        (number("t", "t"), number("df", "Residual df", low=1)),
        _partial(lambda x: float(x["t"] / math.sqrt(x["t"] ** 2 + x["df"]))),
    ),
    Route(
        "partial_r",
        "published partial correlation",
        (number("partial_r", "Partial correlation", low=-1, high=1, open_low=True, open_high=True),),
        _partial(lambda x: float(x["partial_r"])),
    ),
    thumb("f_squared", "f²", "f_squared"),
)


# --- logistic regression ---


def _odds(x: Inputs) -> Finding:
    """A published odds ratio, with its interval where it is known."""
    ratio = rounded(x["odds_ratio"])
    effect = f"odds ratio {two_digits(ratio)}"
    ends = [x[name] for name in ("low", "high") if name in x]
    if len(ends) < 2:
        return Finding({"odds_ratio": ratio}, effect)
    low, high = ends
    if not low < ratio < high:
        raise RequestError("low", "The interval must go from below the odds ratio to above it.")
    words = f"Its interval: {two_digits(low)} to {two_digits(high)}"
    if low <= 1 <= high:
        return Finding({"odds_ratio": ratio}, effect, f"{words}; it includes no effect, so it has no lower limit")
    return Finding({"odds_ratio": ratio}, effect, words, {"odds_ratio": rounded(low if low > 1 else high)})


def _coefficient(x: Inputs) -> Finding:
    ratio = rounded(math.exp(x["slope"] * x["sd_predictor"]))
    return Finding({"odds_ratio": ratio}, f"odds ratio {two_digits(ratio)} for an SD of the predictor")


def _of_d(x: Inputs) -> Finding:
    """Of two groups whose predictor is d apart, normal with one SD: the log odds ratio for an SD is d."""
    ratio = rounded(math.exp(x["d"]))
    return Finding({"odds_ratio": ratio}, f"odds ratio {two_digits(ratio)} for an SD of the predictor")


ODDS = (
    Route(
        "odds_ratio",
        "published odds ratio",
        (
            number("odds_ratio", "Odds ratio", low=0, open_low=True),
            number("low", "Lower limit", required=False, low=0, open_low=True),
            number("high", "Upper limit", required=False, low=0, open_low=True),
        ),
        _odds,
    ),
    Route(
        "coefficient",
        "published coefficient",
        (
            number("slope", "Coefficient for a unit", low=-100, high=100),
            spread("sd_predictor", "SD of the predictor"),
        ),
        _coefficient,
    ),
    Route(
        "d",
        "distance of those with the event",
        (number("d", "Cohen's d of the predictor", low=-20, high=20),),
        _of_d,
    ),
)
