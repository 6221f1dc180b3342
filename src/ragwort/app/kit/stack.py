"""Views in one place, each made when it is first asked for: what nobody opens costs nothing at the start."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import ClassVar, TypeVar

from PySide6.QtWidgets import QStackedWidget, QWidget


class View(QWidget):
    """What stands in a table of views, under its key."""

    key: ClassVar[str]

    def open(self) -> None:
        """Show what there is now: somebody asked for it."""

    def set_shown(self, shown: bool) -> None:
        """It is in view from now on, or is not."""

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""

    @property
    def busy(self) -> bool:
        """Whether something is being worked out, or will be in a moment."""
        return False


Kind = TypeVar("Kind", bound=View)


class Stack(QStackedWidget):
    """The views of a table that were made so far, one of them in view."""

    def __init__(self, makers: Mapping[str, Callable[[], View]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._makers = makers
        self.made: dict[str, View] = {}

    def named(self, key: str) -> View:
        """The view with this key."""
        if key not in self.made:
            self.made[key] = self._makers[key]()
            self.addWidget(self.made[key])
        return self.made[key]

    def of(self, kind: type[Kind]) -> Kind:
        """The view of a kind."""
        found = self.named(kind.key)
        assert isinstance(found, kind), "the table has each view under its own key"
        return found

    def made_of(self, kind: type[Kind]) -> Kind | None:
        """The view of a kind; None where nobody has asked for it."""
        found = self.made.get(kind.key)
        return found if isinstance(found, kind) else None

    def finish(self) -> None:
        """Wait until no thread works for any of them any more: for closing the window."""
        for view in self.made.values():
            view.finish()
