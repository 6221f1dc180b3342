"""A field for several lines of plain words."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtWidgets import QTextEdit

from ragwort.app.kit.widgets import is_undo_or_redo


class PlainText(QTextEdit):
    """Plain text over several lines, scrolled by whole pixels: one scrolled by lines keeps a part of a pixel for ever.

    Its bar is always there, so that lines break where they broke before.
    """

    def __init__(self, text: str = "", placeholder: str = "") -> None:
        super().__init__()
        self.setAcceptRichText(False)
        self.setTabChangesFocus(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setPlaceholderText(placeholder)
        self.setPlainText(text)

    def event(self, event: QEvent) -> bool:
        """Where nothing typed here can be taken back or brought again, undo and redo are the window's."""
        document = self.document()
        if is_undo_or_redo(event) and not (document.isUndoAvailable() or document.isRedoAvailable()):
            event.ignore()
            return True
        return super().event(event)
