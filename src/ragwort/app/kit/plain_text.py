"""A field for several lines of plain words."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QTextEdit


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
