"""A calm table that is only read: hairlines, numbers to the right."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QFocusEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableWidget, QTableWidgetItem

from ragwort.app.kit.table_cell import Cell
from ragwort.app.kit.theme import Theme

_WIDEST, _NARROWEST, _ROW = 260, 90, 27  # px of a column, of the first where there is no room, and of a row


class CalmTable(QTableWidget):
    """Rows of texts and numbers; `lost` stands where there is none."""

    def __init__(self, theme: Theme, name: str, lost: str = "") -> None:
        super().__init__()
        self.theme, self._lost = theme, lost
        self.as_high_as_rows = False
        self._needed: list[int] = []  # how wide each column must be
        self._named = True  # the first column holds names, which can be cut
        self._what: tuple[Sequence[str], Sequence[Sequence[object]]] | None = None
        self.setObjectName("calm")
        self.setAccessibleName(name)
        self.setItemDelegate(Cell(theme))
        self.setFont(theme.font(13, tabular=True))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(theme.px(_ROW))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """A row that is half in view comes into it at once; Qt would move it half a second later, unasked."""
        super().mousePressEvent(event)
        if self.currentIndex().isValid():
            self.scrollTo(self.currentIndex())

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """What is only read stays marked only while it is read."""
        super().focusOutEvent(event)
        self.clearSelection()
        self.setCurrentItem(None)

    def show_rows(self, labels: Sequence[str], rows: Sequence[Sequence[object]]) -> None:
        """Show these; the same again is nothing to do."""
        if self._what == (labels, rows):
            return
        self._what = labels, rows
        self.setRowCount(len(rows))
        self.setColumnCount(len(labels))
        self.setHorizontalHeaderLabels(list(labels))
        for down, row in enumerate(rows):
            for across, cell in enumerate(row):
                self.setItem(down, across, self._item(cell))
        for across in range(len(labels)):
            number = any(isinstance(row[across], int | float) for row in rows[:50])
            self.horizontalHeaderItem(across).setTextAlignment(_aligned(number))
        self._named = not rows or not isinstance(rows[0][0], int | float)
        self._share_the_width(len(labels))
        if self.as_high_as_rows:
            self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            height = self.horizontalHeader().sizeHint().height() + self.theme.px(_ROW) * len(rows) + 4
            self.setMaximumHeight(height)
            self.updateGeometry()

    def _share_the_width(self, columns: int) -> None:
        """Each as wide as it needs, within reason; the last takes what is left, the first gives it what it lacks."""
        header = self.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.resizeColumnsToContents()
        self._needed = [min(self.columnWidth(across), self.theme.px(_WIDEST)) for across in range(columns)]
        for across in range(columns - 1):
            self.setColumnWidth(across, self._needed[across])
        if columns:
            header.setSectionResizeMode(columns - 1, QHeaderView.ResizeMode.Stretch)
        self._spare_the_last()

    def _spare_the_last(self) -> None:
        """The names in the first column are cut, with all of each by hover, before the last number is."""
        if len(self._needed) > 1 and self._named:
            over = max(sum(self._needed) - self.viewport().width(), 0)
            self.setColumnWidth(0, max(self._needed[0] - over, min(self._needed[0], self.theme.px(_NARROWEST))))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._spare_the_last()

    def sizeHint(self) -> QSize:
        """All rows, as far as there is room, where it is as high as they are."""
        hint = super().sizeHint()
        return QSize(hint.width(), self.maximumHeight()) if self.as_high_as_rows else hint

    def _item(self, cell: object) -> QTableWidgetItem:
        text = self._lost if cell is None else f"{cell:g}".replace("-", "−") if isinstance(cell, float) else str(cell)
        made = QTableWidgetItem(text)
        made.setTextAlignment(_aligned(isinstance(cell, int | float) or (cell is None and bool(self._lost))))
        made.setData(Qt.ItemDataRole.ForegroundRole, "quiet" if cell is None else "ink")
        made.setToolTip(text)
        return made


def _aligned(number: bool) -> Qt.AlignmentFlag:
    return (Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft) | Qt.AlignmentFlag.AlignVCenter
