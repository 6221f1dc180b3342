"""What explains the program: the user guide in a window of its own, and what this is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

import ragwort
from ragwort.app.kit.command import Command
from ragwort.app.kit.theme import Theme

if TYPE_CHECKING:
    from ragwort.app.session.session import Session
    from ragwort.app.shell.guide_window import GuideWindow


class Help(QObject):
    """The guide is made when it is first asked for."""

    def __init__(self, window: QWidget, theme: Theme, session: Session) -> None:
        super().__init__(window)
        self._window, self.theme, self.session = window, theme, session
        self.guide: GuideWindow | None = None

    def commands(self) -> list[Command]:
        """What can be asked from anywhere."""
        return [
            Command("help.design", "Help", "Guide to this design", self.show_design, "Shift+F1", self._has_aim),
            Command("help.guide", "Help", "User guide", self.show),
            Command("help.about", "Help", "About Ragwort", self.tell_about),
        ]

    def _has_aim(self) -> bool:
        return self.session.aim is not None

    def show_design(self) -> None:
        """The guide at the chapter of the aim's design."""
        self.show(self.session.aim.design if self.session.aim else "")

    def show(self, design_id: str = "") -> None:
        """The user guide, at the chapter of a design."""
        from ragwort.app.shell.guide_window import GuideWindow

        if self.guide is None:
            self.guide = GuideWindow(self.theme, self._window)
        self.guide.open_at(design_id)

    def tell_about(self) -> None:
        """Version and purpose."""
        from ragwort.app.session import asking

        asking.tell(
            self._window,
            "About Ragwort",
            f"Ragwort {ragwort.__version__}\n\nSizes research studies: which test, which effect, how many "
            "participants, and the paragraph for the protocol.",
        )
