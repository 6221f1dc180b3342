"""A page of the window: it works while it is in view, off the interface thread, and tells whether it is at work."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget
from typing_extensions import override

from ragwort.app.kit.jobs import Jobs
from ragwort.app.kit.stack import View
from ragwort.app.kit.theme import Theme
from ragwort.app.session.session import Session

DELAY = 150  # ms after the last edit until a page begins to work


class Page(View):
    """What the window needs of a page. `refresh` shows the session's study, `begin` works out what is missing."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.theme = session, theme
        self.shown = False  # whether it is in view
        self.jobs = Jobs(self)
        self.wait = QTimer(self, singleShot=True, interval=DELAY)
        self.wait.timeout.connect(self.begin)

    @override
    def set_shown(self, shown: bool) -> None:
        self.shown = shown
        if shown:
            self.refresh()
        else:
            self.halt()

    def refresh(self) -> None:
        """Show the session's study."""

    def begin(self) -> None:
        """Work out what is shown, some time after the last edit."""

    def halt(self) -> None:
        """Work no more: the page is not in view."""
        self.wait.stop()
        self.jobs.cancel()

    @override
    def finish(self) -> None:
        self.wait.stop()
        self.jobs.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.wait.isActive() or self.jobs.busy
