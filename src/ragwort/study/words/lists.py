"""Several values of one assumption, as they are typed: a list, a range with a step, a range in so many steps."""

from __future__ import annotations

import math
import re

import numpy as np

from ragwort.designs.assumption import Assumption
from ragwort.designs.design import in_running_text
from ragwort.files.numerals import typed_number
from ragwort.study.words.numbers import NumberError, count_text, parse, value_text

MOST_VALUES = 100_000
_DIGITS = 12  # significant, so that 8 to 16 by 0.1 holds 8.3 and not 8.299999999999999
_LONGEST_COUNT = 9  # digits
_SHOWN = 6  # values that are said one by one
_BY = re.compile(r"(.+?)\s+(?:to|-|–|—)\s+(.+?)\s+by\s+(.+)", re.IGNORECASE | re.DOTALL)
_STEPS = re.compile(r"(.+?)\s+(?:to|-|–|—)\s+(.+?)\s+in\s+(\S+)(?:\s+steps?)?", re.IGNORECASE | re.DOTALL)
_RANGE = re.compile(r"(.+?)\s+(?:to|–|—)\s+(.+)", re.IGNORECASE)
_BEGUN = re.compile(r"\s+(?:by|in)?\s*$", re.IGNORECASE)  # of a step that is still to be typed
_BETWEEN = [
    re.compile(sign) for sign in (r"\s*[;\n\t]\s*", r"\s*,\s*|\s+and\s+")
]  # words: some hold a comma themselves
_TWO = re.compile(r"([^:,]+):([^:,]+)")
_COLONS = re.compile(r"([^:]+):([^:]+):([^:]+)")
# What keeps values apart, the surest first: between numbers with a decimal comma a comma does not.
_APART = [re.compile(sign) for sign in (r"\s*[\n\t;]\s*|,\s+|\s+and\s+", r"(?<!:)\s+(?![:%])", r"(?<=[\d%]),(?=[\d.])")]


def several(assumption: Assumption, text: str, unit: str = "") -> tuple[float, ...]:
    """The values typed as `8, 10, 12`, `8 to 16 by 2` or `0.01 to 0.06 in 6 steps`, or pasted in a column.

    In the order typed, each once. Raises `NumberError` that says what could be typed.
    """
    if assumption.chosen:
        return _chosen(assumption, text)
    whole = text.strip().removesuffix(unit).strip() if unit else text.strip()
    if not whole:
        raise NumberError(f"Type values of {in_running_text(assumption.label)}, as in {_example(assumption)}.")
    colons = _COLONS.fullmatch(whole) if assumption.kind != "ratio" else None
    by = colons or _BY.fullmatch(whole)
    if by:
        return _by(assumption, unit, *by.groups())
    steps = _STEPS.fullmatch(whole)
    if steps:
        return _in_steps(assumption, unit, *steps.groups())
    if _RANGE.fullmatch(whole):
        ends = _BEGUN.sub("", whole)[:40]
        raise NumberError(f"Say the step, as in “{ends} by 2”, or how many values: “{ends} in 5 steps”.")
    return _listed(assumption, unit, whole)


def is_range(assumption: Assumption, text: str) -> bool:
    """Whether values are typed as a range that says its step: `8:16:2`, `8 to 16 by 2`, `0.01 to 0.06 in 6 steps`."""
    colons = assumption.kind != "ratio" and _COLONS.fullmatch(text)
    return bool(colons or _BY.fullmatch(text) or _STEPS.fullmatch(text))


def ends_in(assumption: Assumption, text: str, unit: str = "") -> tuple[float, ...]:
    """The ends of an axis, typed as `6,18`, `6 to 18`, `6:18`, or as a range with a step. Raises `NumberError`."""
    two = _TWO.fullmatch(text.strip()) if assumption.kind != "ratio" else None
    plain = ", ".join(two.groups()) if two else re.sub(r"\s+(?:to|–|—)\s+", ", ", text.strip())
    values = several(assumption, text if is_range(assumption, text.strip()) else plain, unit)
    return (values[0], values[-1]) if len(values) > 1 else values


def said(assumption: Assumption, values: tuple[float, ...]) -> str:
    """Values as they can be typed: all of a few, else how they run, else the first and how many more."""
    if assumption.chosen:
        labels = [assumption.choices[int(value)].label for value in values]
        return ("; " if any("," in label for label in labels) else ", ").join(labels)
    if len(values) <= _SHOWN:
        return ", ".join(value_text(assumption, value) for value in values)
    steps = np.diff(values)
    first, last = value_text(assumption, values[0]), value_text(assumption, values[-1])
    if np.allclose(steps, steps[0], rtol=1e-6, atol=0):
        scale = 100.0 if assumption.kind == "share" else 1.0
        return f"{first} to {last} by {float(f'{steps[0] * scale:.6g}'):g}"
    return f"{', '.join(value_text(assumption, value) for value in values[:3])}, … {last} ({len(values)} values)"


def _chosen(assumption: Assumption, text: str) -> tuple[float, ...]:
    """The places of choices in their assumption's list, in the order typed."""
    text, labels = text.strip(), [choice.label.lower() for choice in assumption.choices]
    ways = [[text]] if text.lower() in labels else [sign.split(text) for sign in _BETWEEN]
    parts = next((way for way in ways if len(way) > 1), ways[0])
    kinds = [assumption.value_of(choice) for choice in assumption.choices]
    return tuple(dict.fromkeys(float(kinds.index(parse(assumption, part.strip()))) for part in parts if part.strip()))


def _example(assumption: Assumption) -> str:
    return "“1 : 1, 1 : 2”" if assumption.kind == "ratio" else "“8, 10, 12” or “8 to 16 by 2”"


def _listed(assumption: Assumption, unit: str, whole: str) -> tuple[float, ...]:
    ways = ([part for part in sign.split(whole) if part.strip()] for sign in _APART)
    parts = next((way for way in ways if len(way) > 1), [whole])
    if len(parts) > MOST_VALUES:
        raise NumberError(_too_many(len(parts)))
    return tuple(dict.fromkeys(float(parse(assumption, part.strip(), unit)) for part in parts))


def _by(assumption: Assumption, unit: str, low: str, high: str, step: str) -> tuple[float, ...]:
    first, last = (float(parse(assumption, end, unit)) for end in (low, high))
    by = _step(assumption, unit, step, low, high)
    if by == 0 or (last - first) * by < 0:
        to = "up" if last >= first else "down"
        raise NumberError(f"A range from {low.strip()} to {high.strip()} goes {to}: its step cannot be {step.strip()}.")
    count = math.floor((last - first) / by + 1e-9) + 1 if math.isfinite((last - first) / by) else math.inf
    return _spaced(assumption, first, by, count)


def _in_steps(assumption: Assumption, unit: str, low: str, high: str, many: str) -> tuple[float, ...]:
    first, last = (float(parse(assumption, end, unit)) for end in (low, high))
    if not many.isdecimal() or len(many.lstrip("0")) > _LONGEST_COUNT or int(many) < 2:
        raise NumberError(f"A range has 2 steps or more, {count_text(MOST_VALUES)} at most, not {many[:20]}.")
    count = int(many)
    return _spaced(assumption, first, (last - first) / (count - 1), count)


def _step(assumption: Assumption, unit: str, step: str, *ends: str) -> float:
    """The step as a plain number: in per cent where the ends are."""
    text = step.strip().removesuffix(unit).strip() if unit else step.strip()
    percent = text.endswith("%") or (assumption.kind == "share" and any(_is_percent(end) for end in ends))
    try:
        number = typed_number(text.removesuffix("%").strip())
    except (ValueError, OverflowError):
        number = []
    if not isinstance(number, float):
        raise NumberError(f"The step “{text[:40]}” is not a number: type digits, as in 8 to 16 by 2.")
    return number / 100 if percent else number


def _is_percent(end: str) -> bool:
    if end.strip().endswith("%"):
        return True
    number = typed_number(end.strip())
    return isinstance(number, float) and abs(number) >= 1


def _spaced(assumption: Assumption, first: float, by: float, count: float) -> tuple[float, ...]:
    if count > MOST_VALUES:
        raise NumberError(_too_many(count))
    at = first + by * np.arange(int(count))
    values = dict.fromkeys(float(f"{value:.{_DIGITS}g}") for value in at)
    for value in values:
        if not assumption.allows(value):
            parse(assumption, value_text(assumption, value))  # says what is allowed
    return tuple(values)


def _too_many(count: float) -> str:
    many = f"{count:,.0f}".replace(",", "\u2009") if math.isfinite(count) else "endlessly many"
    return f"These are {many} values: a grid takes {MOST_VALUES:,} at most.".replace(",", "\u2009")
