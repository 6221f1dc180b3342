"""What Qt calls back: an exception in it is told like any other, whoever raised it.

With Python 3.11, what C code raises (a division by zero, a conversion of infinity) is a class and a text until Python
code catches it. PySide (6.8 to 6.11) takes that text for an exception where a Python method that overrides one of Qt
fails within another call from Python, and the process dies. Caught and raised again, it is a whole exception.
"""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject


def raise_whole_exceptions() -> None:
    """From now on, in every class made that has a method of Qt's in its own way."""
    QObject.__init_subclass__ = classmethod(_made_whole)  # type: ignore[assignment,method-assign]


def _made_whole(made: type[QObject], /, **_: object) -> None:
    for name, value in list(vars(made).items()):
        if inspect.isfunction(value) and not name.startswith("__") and _is_of_qt(made, name):
            setattr(made, name, _whole(value))


def _is_of_qt(made: type, name: str) -> bool:
    return any(name in vars(base) for base in made.__mro__ if base.__module__.startswith("PySide6."))


def _whole(method: Callable[..., Any]) -> Callable[..., Any]:
    @functools.wraps(method)
    def called(*arguments: Any, **named: Any) -> Any:
        try:
            return method(*arguments, **named)
        except Exception:
            raise

    return called
