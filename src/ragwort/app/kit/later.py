"""Views that are made when they are first asked for: what nobody opens costs nothing at the start."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from PySide6.QtWidgets import QWidget

View = TypeVar("View", bound=QWidget)


class Later(Generic[View]):
    """Calling it gives the view, made the first time."""

    def __init__(self, make: Callable[[], View]) -> None:
        self._make = make
        self.made: View | None = None

    def __call__(self) -> View:
        if self.made is None:
            self.made = self._make()
        return self.made
