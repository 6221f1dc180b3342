"""What can be wrong with a request: the assumption it concerns and a message that says what is allowed."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from ragwort.base.lazily import np


class RequestError(ValueError):
    """A request that cannot be computed. `field` names the assumption; `message` says what would be allowed."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


class NotAttainable(RequestError):
    """A well-formed request without an answer: nothing in the allowed range reaches the target."""


def refuse_where(condition: Any, field: str, message: Callable[[], str]) -> None:
    """Refuse a value, or an array of values where some cannot be had (which, is seen one by one).

    Raises `RequestError`.
    """
    if isinstance(condition, np.ndarray) and condition.ndim:
        if condition.any():
            raise RequestError(field, "Some of these values cannot be had together with the rest.")
    elif condition:
        raise RequestError(field, message())


def said(value: object, most: int = 60) -> str:
    """A value as messages repeat it: short, whatever it is."""
    try:
        text = repr(value)
    except ValueError:  # Python writes no whole number of more than some thousand digits
        text = "a number of very many digits"
    return text if len(text) <= most else f"{text[: most - 17]}…{text[-16:]}"


def as_number(value: object) -> float | None:
    """A number that can be computed with; None where it is none, not finite, or too large to be held."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return None
    try:
        number = float(value)
    except OverflowError:
        return None
    return number if math.isfinite(number) else None


def plain_number(value: float) -> str:
    """A number as messages show it: up to six significant digits, thousands apart from ten thousand on."""
    if float(value).is_integer() and abs(value) < 1e15:
        return f"{int(value):,}".replace(",", "\u2009") if abs(value) >= 10_000 else str(int(value))
    return f"{value:.6g}"


def plain_percent(value: float) -> str:
    """A share as messages show it: per cent with up to two decimals."""
    text = f"{100 * value:.2f}".rstrip("0").rstrip(".")
    return f"{text or '0'}%"
