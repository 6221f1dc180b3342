"""Routes to two rates of events."""

from __future__ import annotations

import math

from ragwort.base.lazily import special
from ragwort.designs.assumption import Assumption, rounded
from ragwort.designs.evidence.route import LEVEL, Finding, Inputs, Route, interval_words, number, share, two_digits
from ragwort.designs.refusals import RequestError

_TWO_SIDED = 1.959963984540054


def _counts(x: Inputs) -> Finding:
    """Events and person-time of each group, with the interval of the log rate ratio (Poisson)."""
    first, second = x["events1"] / x["time1"], x["events2"] / x["time2"]
    values = {"rate1": rounded(first), "rate2": rounded(second)}
    gap, reach = math.log(second / first), _TWO_SIDED * math.sqrt(1 / x["events1"] + 1 / x["events2"])
    effect = f"rate ratio {two_digits(second / first)}"
    low, high = math.exp(gap - reach), math.exp(gap + reach)
    if low <= 1 <= high:
        words = interval_words("the logarithm of the rate ratio", gap - reach, gap + reach)
        return Finding(values, effect, words)
    near = min(low, high, key=lambda end: abs(math.log(end)))
    words = f"95% interval of the rate ratio: {two_digits(low)} to {two_digits(high)}"
    return Finding(values, effect, words, {**values, "rate2": rounded(first * near)})


def _ratio(x: Inputs) -> Finding:
    values = {"rate1": rounded(x["rate1"]), "rate2": rounded(x["rate1"] * x["rate_ratio"])}
    return Finding(values, f"rate ratio {two_digits(x['rate_ratio'])}")


def _percent(x: Inputs) -> Finding:
    if x["fewer"] == 0:
        raise RequestError("fewer", "No fewer events are no effect.")
    ratio = 1 - x["fewer"]
    values = {"rate1": rounded(x["rate1"]), "rate2": rounded(x["rate1"] * ratio)}
    return Finding(values, f"rate ratio {two_digits(ratio)}")


_RATE1 = number("rate1", "Rate in group 1", low=0, open_low=True)
TWO_RATES = (
    Route(
        "counts",
        "events and time watched",
        (
            number("events1", "Events in group 1", low=1),
            number("time1", "Total follow-up, group 1", low=0, open_low=True),
            number("events2", "Events in group 2", low=1),
            number("time2", "Total follow-up, group 2", low=0, open_low=True),
        ),
        _counts,
    ),
    Route("ratio", "published rate ratio", (_RATE1, number("rate_ratio", "Rate ratio", low=0, open_low=True)), _ratio),
    Route(
        "worthwhile",
        "smallest worthwhile reduction",
        (_RATE1, number("fewer", "Fewer events", "share", low=0, high=1, open_high=True)),
        _percent,
    ),
)


# --- one rate ---


def _events(x: Inputs) -> Finding:
    """Events in some time, with Garwood's interval of the rate."""
    rate = rounded(x["events"] / x["time"])
    tail = (1 - LEVEL) / 2
    low = float(special.chdtri(2 * x["events"], 1 - tail)) / 2 / x["time"]
    high = float(special.chdtri(2 * (x["events"] + 1), tail)) / 2 / x["time"]
    words = f"95% interval of the rate: {two_digits(low)} to {two_digits(high)}"
    return Finding({"rate": rate}, f"rate {two_digits(rate)}", words)


def _of_known(x: Inputs, ratio: float) -> Finding:
    values = {"null_rate": rounded(x["null_rate"]), "rate": rounded(x["null_rate"] * ratio)}
    return Finding(values, f"rate ratio {two_digits(ratio)}")


def _fewer_than_known(x: Inputs) -> Finding:
    if x["fewer"] == 0:
        raise RequestError("fewer", "No fewer events are no effect.")
    return _of_known(x, 1 - x["fewer"])


_KNOWN = number("null_rate", "Reference rate", low=0, open_low=True)
ONE_RATE = (
    Route(
        "counts",
        "events and time watched",
        (number("events", "Events", low=1), number("time", "Total follow-up", low=0, open_low=True)),
        _events,
    ),
    Route(
        "ratio",
        "published rate ratio",
        (_KNOWN, number("rate_ratio", "Rate ratio", low=0, open_low=True)),
        lambda x: _of_known(x, x["rate_ratio"]),
    ),
    Route(
        "worthwhile",
        "smallest worthwhile reduction",
        (_KNOWN, number("fewer", "Fewer events", "share", low=0, high=1, open_high=True)),
        _fewer_than_known,
    ),
)


# --- times until an event ---


def _hazard_ratio(x: Inputs) -> Finding:
    """A published hazard ratio, with its interval where it is known."""
    ratio = rounded(x["hazard_ratio"])
    effect, ends = f"hazard ratio {two_digits(ratio)}", [x[name] for name in ("low", "high") if name in x]
    if len(ends) < 2:
        return Finding({"hazard_ratio": ratio}, effect)
    low, high = ends
    if not low < high:
        raise RequestError("high", "The upper limit must be above the lower one.")
    words = f"Its interval: {two_digits(low)} to {two_digits(high)}"
    if low <= 1 <= high:
        return Finding({"hazard_ratio": ratio}, effect, f"{words}; it includes no effect, so it has no lower limit")
    return Finding({"hazard_ratio": ratio}, effect, words, {"hazard_ratio": rounded(low if low > 1 else high)})


def _medians(x: Inputs) -> Finding:
    values = {name: rounded(x[name]) for name in ("median1", "median2")}
    return Finding(values, f"hazard ratio {two_digits(x['median1'] / x['median2'])}")


def _shares_at_a_time(x: Inputs) -> Finding:
    ratio = math.log(x["survival2"]) / math.log(x["survival1"])
    values = {name: rounded(x[name]) for name in ("survival1", "time", "survival2")}
    return Finding(values, f"hazard ratio {two_digits(ratio)}")


def _time(name: str, label: str) -> Assumption:
    return number(name, label, low=0, open_low=True)


SURVIVAL = (
    Route(
        "hazard_ratio",
        "published hazard ratio",
        (
            _time("hazard_ratio", "Hazard ratio"),
            number("low", "Lower limit", required=False, low=0, open_low=True),
            number("high", "Upper limit", required=False, low=0, open_low=True),
        ),
        _hazard_ratio,
    ),
    Route(
        "medians", "two medians", (_time("median1", "Median of arm 1"), _time("median2", "Median of arm 2")), _medians
    ),
    Route(
        "shares",
        "shares without the event at a time",
        (
            share("survival1", "Without the event, arm 1"),
            share("survival2", "Without the event, arm 2"),
            _time("time", "At time"),
        ),
        _shares_at_a_time,
    ),
)
