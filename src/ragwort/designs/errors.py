"""What can be wrong with a request: the assumption it concerns and a message that says what is allowed."""

from __future__ import annotations


class RequestError(ValueError):
    """A request that cannot be computed. `field` names the assumption; `message` says what would be allowed."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


class NotAttainable(RequestError):
    """A well-formed request without an answer: nothing in the allowed range reaches the target."""


def number_text(value: float) -> str:
    """A number as messages show it: up to six significant digits, thousands separated by a thin space."""
    if float(value).is_integer() and abs(value) < 1e15:
        return f"{int(value):,}".replace(",", "\u2009")
    return f"{value:.6g}"


def percent_text(value: float) -> str:
    """A share as messages show it: per cent with up to two decimals."""
    text = f"{100 * value:.2f}".rstrip("0").rstrip(".")
    return f"{text or '0'} %"
