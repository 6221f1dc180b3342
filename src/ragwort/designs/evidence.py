"""Where an effect comes from: routes from what is known to the assumptions of a design.

A route asks for a few inputs and gives values for assumptions, the effect in words, and, where there are data, the
interval of the effect with the values at its limit nearer to none. Formulas are those of `conversions`; nothing is
worked out twice.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ragwort.designs.assumption import Assumption, Choice, Kind
from ragwort.designs.conversions import convert
from ragwort.designs.errors import RequestError
from ragwort.stats.effects import pooled_sd

Inputs = Mapping[str, Any]
LEVEL = 0.95


@dataclass(frozen=True)
class Finding:
    """What a route found."""

    values: dict[str, Any]  # assumptions and what they would be
    effect: str  # in words: `d 0.50`
    interval: str = ""  # in words, where there are data
    lower: dict[str, Any] = field(default_factory=dict)  # values at the limit nearer to none; empty where it is none
    remark: str = ""


@dataclass(frozen=True)
class Route:
    """One way to an effect."""

    name: str
    label: str
    inputs: tuple[Assumption, ...]
    work: Callable[[Inputs], Finding]
    last_resort: bool = False
    groups: tuple[tuple[str, str, str], ...] = ()  # inputs for mean, SD and n of each group of a pilot file

    def find(self, given: Inputs) -> Finding:
        """The effect of checked inputs. Raises `RequestError` that names the input."""
        values = {}
        for asked in self.inputs:
            if asked.name in given:
                values[asked.name] = asked.check(given[asked.name])
            elif asked.required:
                raise RequestError(asked.name, f"{asked.label} is missing.")
        return self.work(values)


def _asked(name: str, label: str, kind: Kind = "number", required: bool = True, **more: Any) -> Assumption:
    return Assumption(name, label, kind, "Effect", "", required=required, **more)


def _mean(name: str, label: str) -> Assumption:
    return _asked(name, label, "measured")


def _sd(name: str = "sd", label: str = "SD in the outcome's unit") -> Assumption:
    return _asked(name, label, "measured", low=0, open_low=True)


def _count(name: str, label: str, required: bool = True, low: int = 2) -> Assumption:
    return _asked(name, label, "count", required, low=low, high=10**7)


_SIZE = _asked(
    "size",
    "Size by convention",
    "choice",
    choices=(Choice("small", "small"), Choice("medium", "medium"), Choice("large", "large")),
)
_THUMB = "A rule of thumb says nothing about what would matter in your study: use it only where nothing else is known."
_WORTH = "Smaller effects than this would not change what people do; say why in the note."


def converted(to: str, **given: Any) -> float:
    """A conversion that must succeed. Raises `RequestError` with its message."""
    answer = convert({"from": given, "to": to})
    if "error" in answer:
        raise RequestError(answer["error"]["field"], answer["error"]["message"])
    return float(answer["value"])


def _limits(to: str, **given: Any) -> tuple[float, float]:
    answer = convert({"from": given, "to": to, "level": LEVEL})
    if "error" in answer:
        raise RequestError(answer["error"]["field"], answer["error"]["message"])
    return float(answer["low"]), float(answer["high"])


def _nearer(low: float, high: float) -> float:
    """The limit nearer to zero; 0 where the interval includes it."""
    return 0.0 if low <= 0 <= high else min(low, high, key=abs)


def _interval_words(symbol: str, low: float, high: float) -> str:
    words = f"95 % interval of {symbol}: {_two_digits(low)} to {_two_digits(high)}"
    return words if _nearer(low, high) else f"{words}; it includes no effect, so it has no lower limit to plan on"


def _two_digits(value: float) -> str:
    text = f"{value:.2f}" if abs(value) >= 0.095 or value == 0 else f"{value:.2g}"
    return text.replace("-", "\u2212")


def _rounded(value: float) -> float:
    return float(f"{value:.4g}")


# --- a difference in the outcome's unit ---


def _difference(d: float, sd: float, sd_name: str, sizes: Mapping[str, int], exact: float | None = None) -> Finding:
    """A difference of d SDs, with its interval where the sizes of the data are known."""
    values = {"difference": _rounded(d * sd if exact is None else exact), sd_name: _rounded(sd)}
    effect = f"d {_two_digits(d)}"
    if not sizes:
        return Finding(values, effect)
    low, high = _limits("d_interval", d=d, **sizes)
    near = _nearer(low, high)
    lower = {"difference": _rounded(near * sd), sd_name: _rounded(sd)} if near else {}
    return Finding(values, effect, _interval_words("d", low, high), lower)


def _two_means(x: Inputs) -> Finding:
    sizes = {name: x[name] for name in ("n1", "n2") if name in x}
    if len(sizes) == 1:
        raise RequestError("n2" if "n1" in sizes else "n1", "Give both numbers of people, or neither.")
    sd = pooled_sd(x["sd1"], x["sd2"], sizes.get("n1"), sizes.get("n2"))
    gap = x["mean2"] - x["mean1"]
    return _difference(gap / sd, sd, "sd", sizes, gap)


def _of_t(sd_name: str, names: tuple[str, ...]) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        sizes = {name: x[name] for name in names}
        return _difference(converted("d", t=x["t"], **sizes), x[sd_name], sd_name, sizes)

    return work


def _raw_one(sd_name: str, size: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        sizes = {size: x[size]} if size in x else {}
        return _difference(x["difference"] / x[sd_name], x[sd_name], sd_name, sizes, x["difference"])

    return work


def _worth(x: Inputs) -> Finding:
    return Finding({"difference": x["difference"]}, f"difference {x['difference']:g}", remark=_WORTH)


def _thumb_d(sd_name: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        found = _difference(converted("d", size=x["size"]), x[sd_name], sd_name, {})
        return Finding(found.values, found.effect, remark=_THUMB)

    return work


def _differences(sd_name: str, raw: Route, names: tuple[str, ...], labels: tuple[str, ...]) -> tuple[Route, ...]:
    counts = tuple(_count(name, label) for name, label in zip(names, labels, strict=True))
    spread = _sd(sd_name)
    return (
        Route("worthwhile", "smallest worthwhile difference", (_mean("difference", "Difference"),), _worth),
        raw,
        Route("t", "published t statistic", (_asked("t", "t"), *counts, spread), _of_t(sd_name, names)),
        Route("convention", "rule of thumb", (_SIZE, spread), _thumb_d(sd_name), last_resort=True),
    )


TWO_GROUPS = _differences(
    "sd",
    Route(
        "means",
        "means and SDs of two groups",
        (
            _mean("mean1", "Mean of group 1"),
            _mean("mean2", "Mean of group 2"),
            _sd("sd1", "SD of group 1"),
            _sd("sd2", "SD of group 2"),
            _count("n1", "People in group 1", required=False),
            _count("n2", "People in group 2", required=False),
        ),
        _two_means,
        groups=(("mean1", "sd1", "n1"), ("mean2", "sd2", "n2")),
    ),
    ("n1", "n2"),
    ("People in group 1", "People in group 2"),
)


def _one_sample(sd_name: str, size: str, sd_label: str, people: str) -> tuple[Route, ...]:
    raw = Route(
        "means",
        "mean difference and its SD",
        (_mean("difference", "Difference"), _sd(sd_name, sd_label), _count(size, people, required=False)),
        _raw_one(sd_name, size),
    )
    return _differences(sd_name, raw, (size,), (people,))


ONE_GROUP = _one_sample("sd", "n", "SD", "People")
PAIRS = _one_sample("sd_difference", "n_pairs", "SD of the differences", "Pairs")


# --- proportions ---


def _counts_of_two(x: Inputs) -> Finding:
    for yes, n in (("yes1", "n1"), ("yes2", "n2")):
        if x[yes] > x[n]:
            raise RequestError(yes, f"{yes} cannot be more than {n}.")
    p1, p2 = x["yes1"] / x["n1"], x["yes2"] / x["n2"]
    if not (0 < p1 < 1 and 0 < p2 < 1):
        raise RequestError("yes1" if not 0 < p1 < 1 else "yes2", "A share of 0 or of all cannot be planned on.")
    h, reach = converted("h", proportion1=p1, proportion2=p2), 1.959963984540054 * math.sqrt(1 / x["n1"] + 1 / x["n2"])
    near = _nearer(h - reach, h + reach)
    lower = {"proportion1": _rounded(p1), "proportion2": _rounded(converted("proportion2", proportion1=p1, h=near))}
    return Finding(
        {"proportion1": _rounded(p1), "proportion2": _rounded(p2)},
        f"h {_two_digits(h)}",
        _interval_words("h", h - reach, h + reach),
        lower if near else {},
    )


def _share_and(to: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        p2 = converted("proportion2", proportion1=x["proportion1"], **{to: x[to]})
        h = converted("h", proportion1=x["proportion1"], proportion2=p2)
        return Finding({"proportion1": x["proportion1"], "proportion2": _rounded(p2)}, f"h {_two_digits(h)}")

    return work


_P1 = _asked("proportion1", "Proportion in group 1", "share", low=0, high=1, open_low=True, open_high=True)
TWO_SHARES = (
    Route(
        "counts",
        "counts of two groups",
        (
            _count("yes1", "With a yes in group 1", low=0),
            _count("n1", "People in group 1", low=1),
            _count("yes2", "With a yes in group 2", low=0),
            _count("n2", "People in group 2", low=1),
        ),
        _counts_of_two,
    ),
    Route(
        "odds_ratio",
        "published odds ratio",
        (_P1, _asked("odds_ratio", "Odds ratio", low=0, open_low=True)),
        _share_and("odds_ratio"),
    ),
    Route(
        "risk_ratio",
        "published risk ratio",
        (_P1, _asked("risk_ratio", "Risk ratio", low=0, open_low=True)),
        _share_and("risk_ratio"),
    ),
)


# --- relations, and several groups ---


def _r_and_n(x: Inputs) -> Finding:
    effect = f"r {_two_digits(x['r'])}"
    if "n" not in x:
        return Finding({"rho": x["r"]}, effect)
    low, high = _limits("r_interval", r=x["r"], n=x["n"])
    near = _nearer(low, high)
    return Finding({"rho": x["r"]}, effect, _interval_words("r", low, high), {"rho": _rounded(near)} if near else {})


def _convention(name: str, symbol: str, key: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        value = converted(key, size=x["size"])
        return Finding({name: value}, f"{symbol} {value:g}", remark=_THUMB)

    return work


def _thumb(name: str, symbol: str, key: str) -> Route:
    return Route("convention", "rule of thumb", (_SIZE,), _convention(name, symbol, key), last_resort=True)


def _single(name: str, symbol: str, to: str) -> Callable[[Inputs], Finding]:
    def work(x: Inputs) -> Finding:
        value = _rounded(converted(to, **x))
        return Finding({name: value}, f"{symbol} {value:g}")

    return work


_R = _asked("r", "Correlation r", low=-1, high=1, open_low=True, open_high=True)
RELATION = (
    Route("r", "published correlation", (_R, _count("n", "People", required=False, low=4)), _r_and_n),
    _thumb("rho", "r", "r"),
)
_F_STATISTIC = (
    _asked("F", "F", low=0),
    _asked("df1", "Numerator df", low=1),
    _asked("df2", "Denominator df", low=1),
)
_ETA = _asked("eta_squared", "η²", low=0, high=1, open_high=True)
SEVERAL_GROUPS = (
    Route("F", "published F statistic", _F_STATISTIC, _single("f", "f", "f")),
    Route("eta_squared", "published η²", (_ETA,), _single("f", "f", "f")),
    _thumb("f", "f", "f"),
)
_R2 = _asked("r_squared", "R²", low=0, high=1, open_high=True)
MODEL = (
    Route("r_squared", "published R²", (_R2,), _single("f_squared", "f²", "f_squared")),
    _thumb("f_squared", "f²", "f_squared"),
)


def _table_of_counts(x: Inputs) -> Finding:
    total = sum(each for row in x["counts"] for each in row)
    if total <= 0:
        raise RequestError("counts", "The table is empty: type the counts, row by row.")
    w = converted("w", counts=x["counts"])
    return Finding({"table": [[each / total for each in row] for row in x["counts"]]}, f"w {w:.2f}")


TABLE = (
    Route(
        "counts",
        "a table of counts or percentages",
        (_asked("counts", "Counts", "table", low=0, shortest=2),),
        _table_of_counts,
    ),
)
