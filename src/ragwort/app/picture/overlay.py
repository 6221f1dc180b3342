"""What is painted over a picture: a message, what is read under the pointer, the frame of what has the focus."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRect, Qt
from PySide6.QtGui import QPainter

from ragwort.app.kit.theme import Theme
from ragwort.figures.shown.shown import Reading


def paint_focus(painter: QPainter, theme: Theme, room: QRect) -> None:
    """A frame, not filled whatever was painted before."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.colour("leaf"))
    painter.drawRoundedRect(room.adjusted(0, 0, -1, -1), 6, 6)


def paint_message(painter: QPainter, theme: Theme, room: QRect, words: str, colour: str) -> None:
    """Why the picture is out of date, in the middle of it."""
    painter.setFont(theme.body)
    wrap = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
    area = room.adjusted(theme.px(60), 0, -theme.px(40), 0)
    box, margin = painter.boundingRect(area, wrap, words), theme.px(10)
    painter.setBrush(theme.colour("raised"))
    painter.setPen(theme.colour("hairline"))
    painter.drawRoundedRect(box.adjusted(-margin, -margin, margin, margin), 6, 6)
    painter.setPen(theme.colour(colour))
    painter.drawText(box, wrap, words)


def paint_reading(painter: QPainter, theme: Theme, room: QRect, reading: Reading) -> None:
    """A dot where it is read, in pixels, and the words beside it."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(theme.quiet)
    width = painter.fontMetrics().horizontalAdvance(reading.words) + theme.px(16)
    left = min(max(reading.x + 12, 0), room.width() - width)
    top = min(reading.y + 14, room.height() - theme.px(26))
    box = QRect(int(left), int(top), width, theme.px(24))
    painter.setBrush(theme.colour("raised"))
    painter.setPen(theme.colour("hairline"))
    painter.drawRoundedRect(box, 6, 6)
    painter.setPen(theme.colour("ink"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, reading.words)
    painter.setBrush(theme.colour("ink"))
    painter.drawEllipse(QPointF(reading.x, reading.y), 3, 3)
