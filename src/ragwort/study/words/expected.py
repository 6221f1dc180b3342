"""The confidence interval that is expected at the planned sizes, in words and as a short text."""

from __future__ import annotations

from ragwort.designs import Answer
from ragwort.designs.precision import Interval
from ragwort.study.document.aim import Aim
from ragwort.study.words.numbers import MINUS, decimals_text, united


def interval_sentence(aim: Aim, answer: Answer) -> str:
    """`The 95% confidence interval for the difference is expected to extend 8.4 ms to either side.`; or nothing."""
    interval = answer.interval
    if interval is None:
        return ""
    expected = "was expected" if aim.finished else "is expected"
    start = f"The {_level(interval)} confidence interval for the {interval.of} {expected} to"
    return f"{start} {_extent(interval, aim.words.unit)}."


def half_width_text(interval: Interval, unit: str) -> str:
    """`± 8.4 ms`; of ratios and correlations both limits, as they are not equally far: `0.55 to 0.90`."""
    if interval.scale in ("ratio", "number") or interval.of == "proportion":
        return _limits(interval)
    return f"± {_half(interval, unit)}"


def _level(interval: Interval) -> str:
    return f"{100 * float(interval.level):.3g}%"


def _extent(interval: Interval, unit: str) -> str:
    if interval.scale in ("ratio", "number") or interval.of == "proportion":
        return f"reach from {_limits(interval)}"
    return f"extend {_half(interval, unit)} to either side"


def _half(interval: Interval, unit: str) -> str:
    half = float(interval.half_width)
    if interval.scale == "points":
        return f"{_short(100 * half)}\u00a0percentage points"
    return united(_short(half), unit)


def _limits(interval: Interval) -> str:
    low, high = float(interval.low), float(interval.high)
    if interval.scale == "points":
        return f"{_short(100 * low)}% to {_short(100 * high)}%"
    decimals = 2 if max(abs(low), abs(high)) < 10 else 1
    return f"{decimals_text(low, decimals)} to {decimals_text(high, decimals)}"


def _short(number: float) -> str:
    """Two digits that count, three from 10 on: an expectation has no more."""
    text = f"{number:.3g}" if abs(number) >= 10 else f"{number:.2g}"
    plain = text if "e" not in text else decimals_text(number, 0) if abs(number) >= 1 else text
    return plain.replace("-", MINUS)
