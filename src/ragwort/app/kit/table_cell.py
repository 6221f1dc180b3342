"""How a cell of a table is painted: hairlines, the row as planned, what cannot be had."""

from __future__ import annotations

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QRect, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetrics, QPainter, QPen
from PySide6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem
from typing_extensions import override

from ragwort.app.kit.theme import Theme

Index = QModelIndex | QPersistentModelIndex
PADDING = 9  # px on either side of a text


class Cell(QStyledItemDelegate):
    """Paints what the model says of a cell."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme

    @override
    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        place = QRect(option.rect)
        painter.save()
        ground = index.data(Qt.ItemDataRole.BackgroundRole)
        if isinstance(ground, QBrush):
            painter.fillRect(place, ground)
        if option.state & QStyle.StateFlag.State_Selected:
            self._mark_picked(painter, place, index.column() == 0)
        painter.setPen(QPen(self.theme.colour("hairline"), 1))
        painter.drawLine(place.bottomLeft(), place.bottomRight())
        font = index.data(Qt.ItemDataRole.FontRole)
        painter.setFont(font if isinstance(font, QFont) else option.font)
        painter.setPen(self._ink(index))
        room = place.adjusted(self.theme.px(PADDING), 0, -self.theme.px(PADDING), -1)
        text = QFontMetrics(painter.font()).elidedText(
            str(index.data(Qt.ItemDataRole.DisplayRole)), Qt.TextElideMode.ElideRight, room.width()
        )
        painter.drawText(room, index.data(Qt.ItemDataRole.TextAlignmentRole), text)
        painter.restore()

    def _ink(self, index: Index) -> QColor:
        """A colour, or the name of one of the theme's, which changes with it."""
        ink = index.data(Qt.ItemDataRole.ForegroundRole)
        return ink.color() if isinstance(ink, QBrush) else self.theme.colour(ink or "ink")

    def _mark_picked(self, painter: QPainter, place: QRect, first: bool) -> None:
        leaf = self.theme.colour("leaf")
        painter.fillRect(place, QColor(leaf.red(), leaf.green(), leaf.blue(), 30))
        if first:
            painter.fillRect(QRect(place.left(), place.top(), self.theme.px(3), place.height()), leaf)

    @override
    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        font = index.data(Qt.ItemDataRole.FontRole)
        metrics = QFontMetrics(font if isinstance(font, QFont) else option.font)
        width = metrics.horizontalAdvance(str(index.data(Qt.ItemDataRole.DisplayRole)))
        return QSize(width + 2 * self.theme.px(PADDING) + 2, metrics.height())
