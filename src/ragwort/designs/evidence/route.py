"""What a route is, and the inputs and words that routes share.

A route asks for a few inputs and gives values for assumptions, the effect in words, and, where there are data, the
interval of the effect with the values at its limit nearer to none. Formulas are those of `conversions` and of
`stats`; nothing is worked out twice.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ragwort.designs.assumption import Assumption, Choice, Kind, rounded
from ragwort.designs.conversions import convert
from ragwort.designs.refusals import RequestError

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
    readings: tuple[str, ...] = ()  # the readings of a pilot file (see `pilot.readings`) that give its inputs

    def find(self, given: Inputs) -> Finding:
        """The effect of checked inputs. Raises `RequestError` that names the input."""
        values = {}
        for asked in self.inputs:
            if asked.name in given:
                values[asked.name] = asked.check(given[asked.name])
            elif asked.default is not None:
                values[asked.name] = asked.default
            elif asked.required:
                raise RequestError(asked.name, f"{asked.label} is missing.")
        return self.work(values)


# --- inputs: bounds keep statistics to what their distributions can be computed for ---


def number(name: str, label: str, kind: Kind = "number", required: bool = True, **more: Any) -> Assumption:
    """An input of a route."""
    return Assumption(name, label, kind, "Effect", "", required=required, **more)


def measured(name: str, label: str, words: str = "") -> Assumption:
    """An input in the outcome's unit; `words` is the label with the study's names, as in `Assumption.words`."""
    return number(name, label, "measured", words=words)


def spread(name: str = "sd", label: str = "SD in the outcome's unit", words: str = "") -> Assumption:
    """An SD."""
    return number(name, label, "measured", low=0, open_low=True, words=words)


def count(name: str, label: str, required: bool = True, low: int = 2, words: str = "") -> Assumption:
    """A number of people, pairs or categories."""
    return number(name, label, "count", required, low=low, high=10**7, words=words)


def values_of(name: str, label: str, words: str = "") -> Assumption:
    """Raw values, typed or pasted."""
    return number(name, label, "list", shortest=2, longest=10_000, words=words)


def share(name: str, label: str, words: str = "") -> Assumption:
    """A proportion between 0 and 1, typed as per cent."""
    return number(name, label, "share", low=0, high=1, open_low=True, open_high=True, words=words)


def chosen(name: str, label: str, **choices: str) -> Assumption:
    """One of a few words."""
    made = tuple(Choice(value, words) for value, words in choices.items())
    return number(name, label, "choice", choices=made, default=made[0].value)


SIZE = chosen("size", "Size by convention", small="small", medium="medium", large="large")
CORRELATION = number("r", "Correlation r", low=-1, high=1, open_low=True, open_high=True)
P_VALUE = number("p", "Two-sided p", low=1e-12, high=1, open_high=True)
F_STATISTIC = (
    number("F", "F", low=0, high=1e6),
    number("df1", "Numerator df", low=1),
    number("df2", "Denominator df", low=1),
)
THUMB = "A rule of thumb says nothing about what would matter in your study: use it only where nothing else is known."
NO_SIDE = "A p value does not tell the direction: the effect is taken upwards."
WORTH = "Smaller effects than this would not change what people do; say why in the note."


# --- numbers ---


def converted(to: str, **given: Any) -> float:
    """A conversion that must succeed. Raises `RequestError` with its message."""
    answer = convert({"from": given, "to": to})
    if "error" in answer:
        raise RequestError(answer["error"]["field"], answer["error"]["message"])
    return float(answer["value"])


def limits(to: str, **given: Any) -> tuple[float, float]:
    """A conversion to an interval that must succeed. Raises `RequestError` with its message."""
    answer = convert({"from": given, "to": to, "level": LEVEL})
    if "error" in answer:
        raise RequestError(answer["error"]["field"], answer["error"]["message"])
    return float(answer["low"]), float(answer["high"])


def t_of_p(p: float, df: float) -> float:
    """The t, from 0 up, of a two-sided p."""
    from scipy import special

    return -float(special.stdtrit(df, p / 2))


def nearer(low: float, high: float) -> float:
    """The limit nearer to zero; 0 where the interval includes it."""
    return 0.0 if low <= 0 <= high else min(low, high, key=abs)


# --- words ---


def interval_words(symbol: str, low: float, high: float) -> str:
    """The interval, and that it has no lower limit where it includes no effect."""
    words = f"95% interval of {symbol}: {two_digits(low)} to {two_digits(high)}"
    return words if nearer(low, high) else f"{words}; it includes no effect, so it has no lower limit to plan on"


def two_digits(value: float) -> str:
    """A value with two decimals, or two digits where it is small."""
    text = f"{value:.2f}" if abs(value) >= 0.095 or value == 0 else f"{value:.2g}"
    return text.replace("-", "\u2212")


# --- routes that several families have ---


def single(name: str, symbol: str, to: str) -> Callable[[Inputs], Finding]:
    """One conversion to one assumption."""

    def work(x: Inputs) -> Finding:
        value = rounded(converted(to, **x))
        return Finding({name: value}, f"{symbol} {value:g}")

    return work


def thumb(name: str, symbol: str, key: str) -> Route:
    """A size by convention as the assumption `name`."""

    def work(x: Inputs) -> Finding:
        value = converted(key, size=x["size"])
        return Finding({name: value}, f"{symbol} {value:g}", remark=THUMB)

    return Route("convention", "rule of thumb", (SIZE,), work, last_resort=True)
