"""A line for a number or a list of numbers, which never looks like another number than it holds."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRect, Qt
from PySide6.QtGui import QHelpEvent, QPaintEvent, QPalette
from PySide6.QtWidgets import QLineEdit, QStyle, QStyleOptionFrame, QStylePainter, QToolTip

_BESIDE = 2  # px that a line edit keeps free at either end of its contents
_CURSOR = 2  # px that it keeps for the cursor after the text


class ValueLine(QLineEdit):
    """What does not fit ends in … while nobody types: 0.25 cut short would be 0.2, and a list would lack its end."""

    def paintEvent(self, event: QPaintEvent) -> None:
        room = self._room()
        if self.hasFocus() or self.width_of(self.text()) <= room.width():
            super().paintEvent(event)
            return
        painter, option = QStylePainter(self), QStyleOptionFrame()
        self.initStyleOption(option)
        painter.drawPrimitive(QStyle.PrimitiveElement.PE_PanelLineEdit, option)
        painter.setPen(self.palette().color(QPalette.ColorRole.Text))
        painter.drawText(room, self.alignment() | Qt.AlignmentFlag.AlignVCenter, self.shown())

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip and self.shown() != self.text():
            QToolTip.showText(event.globalPos(), self.text(), self)
            return True
        return super().event(event)

    def shown(self) -> str:
        """What is painted while nobody types: whole numbers of a list, as many as fit."""
        most = self._room().width()
        if self.width_of(self.text()) <= most:
            return self.text()
        kept = self.text().split(" ")  # after a comma in a list, a semicolon or nothing in a table
        while len(kept) > 1:
            kept.pop()
            begun = " ".join([*kept, "…"])
            if self.width_of(begun) <= most:
                return begun
        return self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, most)

    def width_of(self, text: str) -> int:
        """In pixels, of the text alone."""
        return self.fontMetrics().horizontalAdvance(text)

    def width_for(self, text: str) -> int:
        """How wide the whole line has to be to show a text in full."""
        return self.width_of(text) + self.width() - self._room().width()

    def _room(self) -> QRect:
        option = QStyleOptionFrame()
        self.initStyleOption(option)
        inside = self.style().subElementRect(QStyle.SubElement.SE_LineEditContents, option, self)
        return inside.adjusted(_BESIDE, 0, -_BESIDE - _CURSOR, 0)
