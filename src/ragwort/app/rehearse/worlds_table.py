"""The table of worlds: what departs, the power with its interval, the formula's, and how far success misleads."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QBrush, QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableWidget, QTableWidgetItem

from ragwort.app.kit.table_cell import Cell
from ragwort.app.kit.theme import Theme
from ragwort.figures.shown.rehearsal_page import Line

_ROW = 30  # px
_WIDTHS = (0, 64, 90, 74, 62, 58)  # px; the first takes what is left
_NAMES = 118  # px at least for what departs
_MOST = 12  # rows that are in view without scrolling
HEADS = ("departure", "power", "95%", "formula", "inflates", "sign")
_TIPS = (
    "What departs from the plan",
    "The share of made-up studies whose test rejects",
    "The 95% interval of that share, from the number of studies",
    "What the formula says of the plan",
    "How many times the true effect those that succeed find, on average",
    "The share of those that succeed which point in the wrong direction",
)


class WorldsTable(QTableWidget):
    """One row a world; the current one is in view."""

    world_chosen = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__(0, len(HEADS))
        self.theme = theme
        self._lines: tuple[Line, ...] = ()
        self.setObjectName("worlds")
        self.setAccessibleName("Worlds")
        self.setItemDelegate(Cell(theme))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(theme.px(_ROW))
        self.setHorizontalHeaderLabels(list(HEADS))
        for column, tip in enumerate(_TIPS):
            head = self.horizontalHeaderItem(column)
            head.setToolTip(tip)
            head.setTextAlignment(_aligned(column))
            mode = QHeaderView.ResizeMode.Stretch if column == 0 else QHeaderView.ResizeMode.Fixed
            self.horizontalHeader().setSectionResizeMode(column, mode)
            if column:
                self.setColumnWidth(column, theme.px(_WIDTHS[column]))
        self.horizontalHeader().setHighlightSections(False)
        self.currentCellChanged.connect(self._current_changed)

    def name_success(self, tested: bool) -> None:
        """What the second column is the share of."""
        head = self.horizontalHeaderItem(1)
        head.setText("power" if tested else "narrow")
        head.setToolTip(_TIPS[1] if tested else "The share of made-up studies whose interval is as narrow as asked for")

    def show_lines(self, lines: tuple[Line, ...], chosen: str) -> None:
        """Show the rows, the chosen world's picked."""
        with QSignalBlocker(self):
            if len(lines) != self.rowCount():
                self.setRowCount(len(lines))
            for row, line in enumerate(lines):
                self._show_line(row, line, line.world == chosen)
            self._lines = lines
            place = next((row for row, line in enumerate(lines) if line.world == chosen), 0)
            moved = self.currentRow() != place
            if moved:
                self.setCurrentCell(place, 0)
        height = self.horizontalHeader().sizeHint().height() + self.theme.px(_ROW) * min(len(lines), _MOST) + 3
        if self.maximumHeight() != height:
            self.setMaximumHeight(height)
            self.setMinimumHeight(min(height, self.theme.px(170)))
            self.updateGeometry()
        if moved:
            QTimer.singleShot(0, self, self._show_current)  # once the table has its height

    def _show_current(self) -> None:
        self.scrollTo(self.currentIndex())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Columns that there is no room for are left out, the last first."""
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self._show_current)
        room = self.viewport().width() - self.theme.px(_NAMES)
        for column in range(1, len(HEADS)):
            room -= self.theme.px(_WIDTHS[column])
            self.setColumnHidden(column, room < 0 and column > 1)

    def sizeHint(self) -> QSize:
        """All rows, as far as there is room."""
        return QSize(super().sizeHint().width(), self.maximumHeight())

    def _show_line(self, row: int, line: Line, chosen: bool) -> None:
        for column, text in enumerate(line.texts):
            item = self.item(row, column)
            if item is None:
                item = QTableWidgetItem()
                item.setTextAlignment(_aligned(column))
                self.setItem(row, column, item)
            weight = 700 if column == 1 or (chosen and column == 0) else 400
            item.setFont(self.theme.font(13, weight, tabular=column > 0))
            item.setText(text)
            item.setForeground(QBrush(self.theme.colour(_colour(column, line))))
            item.setToolTip(line.fault or (text if column == 0 else ""))

    def _current_changed(self, row: int, *_: int) -> None:
        if 0 <= row < len(self._lines):
            self.world_chosen.emit(self._lines[row].world)


def _aligned(column: int) -> Qt.AlignmentFlag:
    side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
    return side | Qt.AlignmentFlag.AlignVCenter


def _colour(column: int, line: Line) -> str:
    if line.fault:
        return "brick" if column == 0 else "quiet"
    return {0: "ink", 1: "found_text", 3: "ink"}.get(column, "quiet")
