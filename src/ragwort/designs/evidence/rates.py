"""Routes to two rates of events."""

from __future__ import annotations

import math

from ragwort.designs.assumption import rounded
from ragwort.designs.evidence.route import LEVEL, Finding, Inputs, Route, interval_words, number, two_digits
from ragwort.designs.refusals import RequestError
from ragwort.stats.lazily import special

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
    words = f"95 % interval of the rate ratio: {two_digits(low)} to {two_digits(high)}"
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
            number("time1", "Time watched, group 1 in all", low=0, open_low=True),
            number("events2", "Events in group 2", low=1),
            number("time2", "Time watched, group 2 in all", low=0, open_low=True),
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
    words = f"95 % interval of the rate: {two_digits(low)} to {two_digits(high)}"
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
        (number("events", "Events", low=1), number("time", "Time watched in all", low=0, open_low=True)),
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
