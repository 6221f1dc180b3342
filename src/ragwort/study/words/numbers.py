"""How numbers are typed and how they are shown: units, per cent, decimal comma, ratios.

Typed text becomes a plain value by the kind of its assumption; a `NumberError` says what cannot be read and
what could be typed instead.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction
from typing import Any

from ragwort.base.wording import listed
from ragwort.designs.assumption import EMPTY_CELL, Assumption, Field
from ragwort.designs.design import in_running_text
from ragwort.designs.refusals import RequestError
from ragwort.files.numerals import best, fitting, number_in, typed_number
from ragwort.study.document.part import Unreadable

MINUS = "\u2212"
THIN = "\u2009"
_MOST_PARTS = 99  # of one: a third, and the like
_PART = re.compile(rf"([-{MINUS}]?\d{{1,3}})/([1-9]\d{{0,2}})")


class NumberError(Unreadable):
    """Typed text that is no number; the message says what can be typed."""


def parse(assumption: Assumption, text: str, unit: str = "") -> Any:
    """The value typed as `text`. Raises `NumberError`, also where the value is out of bounds."""
    cleaned = text.strip()
    others = (unit_text(assumption, unit), unit_text(assumption, unit, 1)) if assumption.timed else ()
    for each in dict.fromkeys((*others, unit)):
        cleaned = _without_unit(cleaned, each)
    if not cleaned:
        raise NumberError(f"{assumption.label} is empty: type a number ({assumption.allowed()}).")
    value = _by_kind(assumption, cleaned)
    try:
        return assumption.check(value)
    except RequestError as error:
        raise NumberError(_in_words(assumption, error.message, value)) from error


def _by_kind(assumption: Assumption, text: str) -> Any:
    if assumption.chosen:
        return _choice(assumption, text)
    if assumption.kind in ("list", "table"):
        return _several(assumption, text)
    if assumption.kind == "records":
        rows = [row.split() for row in _rows(re.sub(r"\s*(%|×)\s*", r"\1 ", text).replace("× ", "×"))]
        return [_record(assumption, number, cells) for number, cells in enumerate(rows, start=1)]
    if assumption.kind == "ratio" and re.search(r"[:/]", text):
        one, other = re.split(r"[:/]", text, maxsplit=1)
        first = _number(assumption, one)
        if first <= 0:
            raise NumberError("The first number of a ratio must be above 0, as in 1 : 2.")
        return _number(assumption, other) / first
    if text.endswith("%"):
        return _shifted(_number(assumption, text[:-1]))
    number = _number(assumption, text)
    if assumption.kind == "share" and abs(number) >= 1:
        return _shifted(number)
    return number


def _shifted(percent: float) -> float:
    """Per cent as a share, without the noise of a division (7% is 0.07, not 0.07000000000000001)."""
    return float(f"{percent}e-2") if "e" not in f"{percent}" else percent / 100


def _choice(assumption: Assumption, text: str) -> Any:
    for choice in assumption.choices:
        if text.lower() in (choice.value, choice.label.lower(), choice.words.lower()):
            return assumption.value_of(choice)
    raise NumberError(f"{assumption.label} must be {assumption.allowed()}.")


def _several(assumption: Assumption, text: str) -> list[Any]:
    """Numbers apart by spaces, commas or semicolons; the rows of a table by semicolons or line breaks."""
    if assumption.kind == "table":
        return [_numbers(assumption, row) for row in _rows(text)]
    return _numbers(assumption, text)


def _rows(text: str) -> list[str]:
    return [row for row in re.split(r"[;\n|]", text) if row.strip()]


def _record(assumption: Assumption, number: int, cells: list[str]) -> dict[str, Any]:
    """One entry of a list of named values, from its values in order."""
    fields = assumption.fields
    if len(cells) != len(fields):
        needs = ", ".join(field.label for field in fields)
        raise NumberError(f"Row {number} of {assumption.label.lower()} needs {len(fields)} values: {needs}.")
    found: dict[str, Any] = {}
    for field, cell in zip(fields, cells, strict=True):
        if field.kind == "list":
            factors = [_number(assumption, part) for part in re.split(r"[×x*,]", cell) if part]
            found[field.name] = [int(each) if each.is_integer() else each for each in factors]
        elif cell.endswith("%"):
            found[field.name] = _shifted(_number(assumption, cell[:-1]))
        else:
            value = _number(assumption, cell)
            found[field.name] = _shifted(value) if field.kind == "share" and abs(value) >= 1 else value
    return found


def _numbers(assumption: Assumption, text: str) -> list[float]:
    """A comma inside a number is a decimal comma only where something else keeps the numbers apart."""
    text = re.sub(r"\s+%", "%", text)
    text = re.sub(r"(?<=\d)\s*(×|\bx\b|\band\b)\s*(?=\d)", "; ", text)
    spaced = re.split(r"(?:\s*;\s*|,\s+|\s+)", text.strip().strip(",;"))
    parts = spaced if len(spaced) > 1 else text.strip().strip(",;").split(",")
    _refuse_a_mixture([part.removesuffix("%") for part in parts])
    return [_shifted(_number(assumption, p[:-1])) if p.endswith("%") else _number(assumption, p) for p in parts]


def _refuse_a_mixture(parts: list[str]) -> None:
    """Numbers side by side have one decimal sign: each alone may be a number, but together they must be."""
    if len(parts) > 1 and not fitting(parts) and all(fitting([part]) for part in parts):
        signs = best(parts)
        odd = next(part for part in parts if number_in(part, signs) is None)
        raise NumberError(f"{odd} is written with another decimal sign than the rest: use one sign for all.")


def _number(assumption: Assumption, text: str) -> float:
    if text == EMPTY_CELL and assumption.kind in ("list", "table", "records"):
        raise NumberError(f"A cell of {assumption.label.lower()} is empty: type a number, or take out its row.")
    if assumption.adds_to_zero and (part := _PART.fullmatch(text)):
        return int(part[1].replace(MINUS, "-")) / int(part[2])
    try:
        number = typed_number(text)
    except OverflowError:
        raise NumberError(f"{text[:40]} is too large to compute with.") from None
    except ValueError:
        raise NumberError(f"“{text[:40]}” is not a number: type digits, as in 12 or 1.5.") from None
    if isinstance(number, float):
        return number
    if assumption.kind == "count" or assumption.whole:
        return next(each for each in number if each.is_integer())
    raise NumberError(f"{text} can mean {text.replace(',', '.')} or {text.replace(',', '')}: type one of these.")


def _without_unit(text: str, unit: str) -> str:
    return text[: -len(unit)].strip() if unit and text.endswith(unit) else text


def _in_words(assumption: Assumption, message: str, value: Any) -> str:
    """A bounds message on the scale that the ledger shows."""
    if assumption.kind == "share":
        high = "below 100%" if assumption.open_high else "at most 100%"
        low = "above 0%" if assumption.open_low else "0% or more"
        return f"{assumption.label} must be {low} and {high}, not {_trim(value * 100)}%."
    if assumption.kind == "rate" and isinstance(value, float) and 1 <= value < 100:
        return f"{message[:-1]}; for {_trim(value)} per cent type {_trim(value / 100)}."
    return message


def value_text(assumption: Assumption, value: Any, digits: int = 12) -> str:
    """The value alone, as the ledger's editor shows it (no unit)."""
    if assumption.chosen:
        return assumption.choice_for(value).label
    if assumption.kind == "table":
        return "; ".join(" ".join(_trim(each, digits) for each in row) for row in value)
    if assumption.kind == "list":
        return assumption.joint.join(_in_list(assumption, each, digits) for each in value)
    if assumption.kind == "records":
        return "; ".join(
            " ".join(field_text(field, row.get(field.name)) for field in assumption.fields) for row in value
        )
    if assumption.kind == "share":
        return _trim(value * 100, digits)
    if assumption.kind == "ratio":
        return ratio_text(value)
    return _trim(value, digits)


def field_text(field: Field, value: Any) -> str:
    """One value of an entry of kind `records`: `20%`, `1×2`; `?` where it is missing."""
    if field.kind == "list":
        return "×".join(_trim(each) for each in value)
    if not isinstance(value, int | float):
        return EMPTY_CELL
    return f"{_trim(value * 100)}%" if field.kind == "share" else _trim(value)


def unit_text(assumption: Assumption, unit: str, value: Any = None) -> str:
    """What stands after a value: of a time the study's unit of time, `per month` after a rate."""
    if assumption.timed and unit:
        return f"per {time_unit(unit, 1)}" if assumption.timed == "per" else time_unit(unit, value)
    return {"measured": unit, "share": "%"}.get(assumption.kind, "")


_TIMES = ("second", "minute", "hour", "shift", "night", "day", "week", "month", "year")


def time_unit(unit: str, value: Any = None) -> str:
    """A unit of time that goes with the value: 1 month, 6 months; another unit as it was typed."""
    one = unit.removesuffix("s")
    if one.lower() not in _TIMES:
        return unit
    return one if value == 1 else f"{one}s"


def with_unit(assumption: Assumption, value: Any, unit: str, digits: int = 12) -> str:
    """The value with its unit, as sentences and reports say it; a no-break space between them."""
    return united(value_text(assumption, value, digits), unit_text(assumption, unit, value))


def united(text: str, unit: str) -> str:
    """A number and its unit on one line; per cent stands close."""
    return f"{text}{'' if unit in ('', '%') else chr(0xA0)}{unit}"


def listed_with_unit(assumption: Assumption, values: Sequence[float], unit: str) -> str:
    """`398, 405 and 412 ms`; shares as `20, 50 and 30%`."""
    after = unit if assumption.each_measured else ""
    if (assumption.low, assumption.high) == (0, 1):
        return f"{listed([_trim(100 * value) for value in values])}%"
    return united(listed([_in_list(assumption, value) for value in values]), after)


def _in_list(assumption: Assumption, value: float, digits: int = 12) -> str:
    """One of several; of those that add up to 0 a third is `1/3`, which decimals would not add up to."""
    part = Fraction(value).limit_denominator(_MOST_PARTS)
    if assumption.adds_to_zero and float(f"{value:.4g}") != value and math.isclose(part, value, rel_tol=1e-12):
        return f"{part}".replace("-", MINUS)
    return _trim(value, digits)


def ratio_text(ratio: float) -> str:
    """`1 : 2`, with the whole number on either side where there is one."""
    if ratio < 1 and abs(1 / ratio - round(1 / ratio)) < 1e-9:
        return f"{round(1 / ratio)} : 1"
    return f"1 : {_trim(ratio)}"


def _trim(value: Any, digits: int = 12) -> str:
    number = float(value)
    if number == 0:
        return "0"
    size = abs(number)
    text = f"{number:.{digits}g}"
    if 1e-6 <= size < 1e15 and "e" in text:
        text = f"{number:.0f}" if size >= 1 else f"{number:.{digits + 6}f}".rstrip("0")
    if size >= 10_000 and "." not in text and "e" not in text:
        text = f"{int(text):,}".replace(",", THIN)
    return text.replace("-", MINUS) if "e" not in text else text


def decimals_text(value: float, decimals: int) -> str:
    """A number with so many decimals, zeros at its end included."""
    whole, dot, rest = f"{value:.{decimals}f}".partition(".")
    return f"{_trim(int(whole)) if abs(int(whole)) >= 10_000 else whole}{dot}{rest}".replace("-", MINUS)


def number_text(value: float) -> str:
    """A number with the digits that it has."""
    return _trim(value)


def count_text(count: int) -> str:
    """A count of people: thousands apart from ten thousand on."""
    return _trim(count)


def percent_text(share: float, decimals: int = 1) -> str:
    """A share as people read it: 80.1%, and never 100% or 0% for what is only nearly so."""
    text = f"{100 * share:.{decimals}f}"
    limit = 10.0**-decimals
    if float(text) >= 100 and share < 1:
        return f"> {100 - limit:.{decimals}f}%"
    if float(text) <= 0 and share > 0:
        return f"< {limit:.{decimals}f}%"
    return f"{text}%"


def level_words(alpha: float) -> str:
    """A significance level with as many digits as it needs: 5%, 1.67%."""
    return f"{100 * alpha:.3g}%"


def range_text(assumption: Assumption, low: float | None, high: float | None) -> str:
    """A plausible range, `8 to 16`, or one end of it."""
    ends = [None if end is None else value_text(assumption, end) for end in (low, high)]
    if ends == [None, None]:
        return ""
    if None in ends:
        return f"from {ends[0]}" if ends[1] is None else f"to {ends[1]}"
    return f"{ends[0]} to {ends[1]}"


_BETWEEN = re.compile(r"\s+to\s+|\s*[–—]\s*|\s*\.\.\s*|\s*;\s*|(?<=[\d%])\s*-\s*(?=\d)", re.IGNORECASE)


def parse_range(assumption: Assumption, text: str, unit: str = "") -> tuple[float | None, float | None]:
    """A range typed as `8 to 16` or `8 - 16`; empty for none. Raises `NumberError`."""
    if not text.strip():
        return None, None
    ends = _BETWEEN.split(text.strip())
    if len(ends) != 2:
        raise NumberError(f"Type the plausible range of {in_running_text(assumption.label)} as two numbers: 8 to 16.")
    low, high = (parse(assumption, end, unit) for end in ends)
    if low > high:
        raise NumberError(f"The plausible range runs from the lower to the higher number: {ends[1]} to {ends[0]}.")
    return low, high


def nudged(assumption: Assumption, value: float, steps: int) -> Any:
    """The value some steps up or down, on round numbers, as far as its bounds let it go.

    A value that stands outside of them, as the end of an axis may, comes in where the way leads in, or stays.
    """
    step = _step(assumption, value)
    moved = (math.floor(value / step + 1e-9) if steps > 0 else math.ceil(value / step - 1e-9)) + steps
    result = float(f"{moved * step:.12g}")
    for candidate in (result, assumption.low if steps > 0 else assumption.high):
        on_the_way = min(value, result) <= candidate <= max(value, result) or candidate == assumption.low > value
        if on_the_way and assumption.allows(candidate):
            return assumption.check(candidate)
    return value


def _step(assumption: Assumption, value: float) -> float:
    """The size of one nudge: about a tenth of the value's leading digit."""
    if assumption.kind == "share":
        return 0.01
    if assumption.kind == "count":
        return float(max(1, 10 ** (len(str(int(value))) - 3)))
    if value == 0:
        return min(1.0, assumption.high / 10)
    smaller = 0.1 if assumption.kind != "rate" else 0.5
    return float(f"{10 ** math.floor(math.log10(abs(value))) * smaller:.12g}")
