"""What the panels that take the picture's place share: a title, and the way back."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.stack import View
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, link
from ragwort.app.session.session import Session

NARROW = 420  # a panel less wide has a short way back


class SidePanel(View):
    """Opened over the picture; `closed` gives the picture back. What is in it goes into `column`."""

    closed = Signal()

    def __init__(self, session: Session, theme: Theme, name: str, title: str) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName(name)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(theme.px(26), theme.px(12), theme.px(20), theme.px(12))
        self.column.setSpacing(theme.px(8))
        top = QHBoxLayout()
        top.addWidget(Elided(title, "pageTitle"), 1)
        self._back = link("Back to the picture", self.closed.emit)
        self._back.setAccessibleName("Back to the picture")
        top.addWidget(self._back)
        self.column.addLayout(top)

    @override
    def open(self) -> None:
        self.refresh()

    def refresh(self) -> None:
        """Show what has changed."""

    def showEvent(self, event: QShowEvent) -> None:
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._back.setText("Back" if self.width() < self.theme.px(NARROW) else "Back to the picture")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        else:
            super().keyPressEvent(event)


def scrolled(body: QWidget | None = None) -> QScrollArea:
    """A part of a panel that scrolls up and down where there is little room."""
    area = QScrollArea()
    area.setObjectName("entries")
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # words break where they broke before
    if body is not None:
        area.setWidget(body)
    return area
