"""Routes to a standard deviation, and to two."""

from __future__ import annotations

from ragwort.base.lazily import np
from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import Finding, Inputs, Route, count, measured, spread, two_digits, values_of
from ragwort.designs.refusals import RequestError
from ragwort.stats.estimates import mean_and_sd
from ragwort.stats.variance_tests import OneVarianceTest, TwoVariancesTest

_LEVEL = 0.05


def _sd_of(values: list[float], name: str) -> tuple[float, int]:
    sd = mean_and_sd(np.array(values))[1]
    if sd == 0:
        raise RequestError(name, "All values are alike: there is no variability to plan on.")
    return float(sd), len(values)


def _published(x: Inputs) -> Finding:
    """An SD, with its interval where it is known of how many people it is."""
    sd = rounded(x["sd"])
    if "n" not in x:
        return Finding({"sd": sd}, f"SD {sd:g}")
    df = x["n"] - 1.0
    lower, upper = OneVarianceTest(1.0, df).limits(_LEVEL, "two")
    low, high = x["sd"] * np.sqrt(df / upper), x["sd"] * np.sqrt(df / lower)
    return Finding({"sd": sd}, f"SD {sd:g}", f"95% interval of the SD: {two_digits(low)} to {two_digits(high)}")


def _raw(x: Inputs) -> Finding:
    sd, n = _sd_of(x["values"], "values")
    return _published({"sd": sd, "n": n})


def _two(x: Inputs) -> Finding:
    ratio = (x["sd2"] / x["sd1"]) ** 2
    values = {"sd1": rounded(x["sd1"]), "sd2": rounded(x["sd2"])}
    effect = f"ratio of variances {two_digits(ratio)}"
    if "n1" not in x and "n2" not in x:
        return Finding(values, effect)
    if "n1" not in x or "n2" not in x:
        raise RequestError("n2" if "n1" in x else "n1", "Give both numbers of people, or neither.")
    lower, upper = TwoVariancesTest(1.0, x["n2"] - 1.0, x["n1"] - 1.0).limits(_LEVEL, "two")
    low, high = ratio / upper, ratio / lower
    near = 0.0 if low <= 1 <= high else min(low, high, key=lambda end: abs(float(np.log(end))))
    words = f"95% interval of the ratio: {two_digits(low)} to {two_digits(high)}"
    if not near:
        return Finding(values, effect, f"{words}; it includes no effect, so it has no lower limit to plan on")
    return Finding(values, effect, words, {**values, "sd2": rounded(x["sd1"] * float(np.sqrt(near)))})


def _two_raw(x: Inputs) -> Finding:
    (sd1, n1), (sd2, n2) = (_sd_of(x[name], name) for name in ("values1", "values2"))
    return _two({"sd1": sd1, "sd2": sd2, "n1": n1, "n2": n2})


_QUARTILES = 2 * 0.6744897501960817  # SDs that lie between the quartiles of a normal outcome
_NORMAL = "From quartiles as if the outcome were normal."


def _quartiles(x: Inputs) -> Finding:
    if x["upper"] <= x["lower"]:
        raise RequestError("upper", "The upper quartile must be above the lower one.")
    sd = rounded((x["upper"] - x["lower"]) / _QUARTILES)
    return Finding({"sd": sd}, f"SD {sd:g}", remark=_NORMAL)


def _two_spans(x: Inputs) -> Finding:
    found = _two({"sd1": x["span1"] / _QUARTILES, "sd2": x["span2"] / _QUARTILES})
    return Finding(found.values, found.effect, remark=_NORMAL)


ONE_SCATTER = (
    Route("published", "published SD", (spread("sd"), count("n", "People", required=False)), _published),
    Route("raw", "raw values", (values_of("values", "Values"),), _raw),
    Route(
        "quartiles",
        "published quartiles",
        (measured("lower", "Lower quartile"), measured("upper", "Upper quartile")),
        _quartiles,
    ),
)
TWO_SCATTERS = (
    Route(
        "published",
        "published SDs",
        (
            spread("sd1", "SD of group 1", "SD, {group1}"),
            spread("sd2", "SD of group 2", "SD, {group2}"),
            count("n1", "People in group 1", required=False, words="People, {group1}"),
            count("n2", "People in group 2", required=False, words="People, {group2}"),
        ),
        _two,
    ),
    Route(
        "raw",
        "raw values",
        (values_of("values1", "Values of group 1", "{group1}"), values_of("values2", "Values of group 2", "{group2}")),
        _two_raw,
    ),
    Route(
        "quartiles",
        "distance of the quartiles",
        (
            spread("span1", "Between the quartiles, group 1", "Between the quartiles, {group1}"),
            spread("span2", "Between the quartiles, group 2", "Between the quartiles, {group2}"),
        ),
        _two_spans,
    ),
)
