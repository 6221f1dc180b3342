"""How numbers are written: which sign stands before the decimals, and which parts the thousands.

A column of numbers has one of each, found from all of it; no value is read by itself. Where two ways of writing fit and
give other numbers, both are told, and somebody has to say which it is.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

_SPACES = str.maketrans({"\u00a0": " ", "\u2009": " ", "\u202f": " ", "\u2019": "'", "\u2212": "-"})


@dataclass(frozen=True)
class Signs:
    """One way of writing numbers."""

    decimal: str
    grouping: str

    @property
    def words(self) -> str:
        """`a decimal comma`."""
        return "a decimal comma" if self.decimal == "," else "a decimal point"


POINT, COMMA = Signs(".", ","), Signs(",", ".")
WAYS = (POINT, Signs(".", " "), Signs(".", "'"), COMMA, Signs(",", " "), Signs(",", "'"))


@lru_cache(maxsize=16)
def _pattern(signs: Signs) -> re.Pattern[str]:
    decimal, grouping = re.escape(signs.decimal), re.escape(signs.grouping)
    whole = rf"(?:[0-9]+|[1-9][0-9]{{0,2}}(?:{grouping}[0-9]{{3}})+)"
    return re.compile(rf"[+-]?(?:{whole}(?:{decimal}[0-9]*)?|{decimal}[0-9]+)(?:[eE][+-]?[0-9]+)?")


_PLAIN = re.compile(r"[+-]?(?:[0-9]+(?:\.[0-9]*)?|\.[0-9]+)(?:[eE][+-]?[0-9]+)?")
_EITHER = re.compile(r"[+-]?[0-9]+(?:[eE][+-]?[0-9]+)?")


def number_in(text: str, signs: Signs = POINT) -> float | None:
    """The number that a text is when it is written with these signs; None where it is none, or none that is finite."""
    if signs.decimal != "." or not _PLAIN.fullmatch(text):
        text = text.translate(_SPACES)
        if not _pattern(signs).fullmatch(text):
            return None
        text = text.replace(signs.grouping, "").replace(signs.decimal, ".")
    number = float(text)
    return number if math.isfinite(number) else None


def fitting(texts: Sequence[str]) -> list[Signs]:
    """The ways of writing in which all of these are numbers and that give other numbers; the usual one first."""
    odd = [text for text in texts if not _EITHER.fullmatch(text)]  # the others are the same in every way
    found: dict[tuple[float, ...], Signs] = {}
    for signs in _possible("".join(odd).translate(_SPACES)):
        read = _all_read(odd, signs)
        if read is not None:
            found.setdefault(read, signs)
    return list(found.values())


def _possible(text: str) -> list[Signs]:
    """The ways whose grouping sign occurs, or that are the usual ones."""
    return [signs for signs in WAYS if signs.grouping in text or signs in (POINT, COMMA)]


def _all_read(texts: Sequence[str], signs: Signs) -> tuple[float, ...] | None:
    read = []
    for text in texts:
        number = number_in(text, signs)
        if number is None:
            return None
        read.append(number)
    return tuple(read)


def best(texts: Sequence[str]) -> Signs:
    """The way of writing in which most of these are numbers; the usual one where several are as good."""
    some = texts[:1000]
    return max(WAYS, key=lambda signs: sum(number_in(text, signs) is not None for text in some))


def typed_number(text: str) -> float | list[float]:
    """A number that somebody types, in any way of writing; both numbers where it can mean two.

    A single point is the decimal sign, as it is wherever numbers are shown. Raises `ValueError` where it is no number,
    and `OverflowError` where it is too large to be held.
    """
    plain = text.strip().translate(_SPACES)
    ways = fitting([plain])
    if not ways:
        raise ValueError(text)
    numbers = [number for signs in ways if (number := number_in(plain, signs)) is not None]
    if not numbers:
        raise OverflowError(text)
    return numbers[0] if len(numbers) == 1 or "," not in plain else numbers
