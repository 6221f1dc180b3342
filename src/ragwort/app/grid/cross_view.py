"""The grid as a cross table: what is found for each value of one assumption and each of another."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QBrush
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableWidget, QTableWidgetItem

from ragwort.app.kit.table_cell import Cell
from ragwort.app.kit.theme import Theme
from ragwort.grid.cross import Cross, cross_of
from ragwort.grid.spending import beyond
from ragwort.grid.work import Results
from ragwort.study.results.resources import NO_LIMITS, Limits

_ROW = 31  # px


class CrossView(QTableWidget):
    """A cell is picked as a row of the table is."""

    row_changed = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.cross: Cross | None = None
        self._shown: tuple[Results | None, Limits, bool] = (None, NO_LIMITS, False)
        self.setObjectName("gridCross")
        self.setAccessibleName("Combinations as a cross table")
        self.setItemDelegate(Cell(theme))
        self.setFont(theme.font(13.5, tabular=True))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.verticalHeader().setDefaultSectionSize(theme.px(_ROW))
        self.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.itemSelectionChanged.connect(self.row_changed)

    def show_results(self, results: Results | None, limits: Limits, stale: bool) -> None:
        """Show what is found; what was picked stays picked."""
        picked = self.current_row()
        self._shown = results, limits, stale
        self.cross = None if results is None else cross_of(results, limits=limits)
        self.setRowCount(0)
        if self.cross is None or results is None:
            return
        self.setRowCount(len(self.cross.rows))
        self.setColumnCount(len(self.cross.across_heads))
        self.setHorizontalHeaderLabels(list(self.cross.across_heads))
        self.setVerticalHeaderLabels(list(self.cross.down_heads))
        over, own = beyond(results, limits), results.asked.own()
        for down, line in enumerate(self.cross.rows):
            for across, row in enumerate(line):
                text = self.cross.texts[down][across]
                self.setItem(down, across, self._item(row, text, row == own, row >= 0 and bool(over[row]), stale))
                if row == picked:
                    self.setCurrentCell(down, across)

    def changeEvent(self, event: QEvent) -> None:
        """The inks of cells are the theme's."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange and self.cross is not None:
            self.show_results(*self._shown)

    def says(self) -> str:
        """What runs which way."""
        cross = self.cross
        return "" if cross is None else f"{cross.what.capitalize()}: {cross.down} runs down, {cross.across} across. "

    def _item(self, row: int, text: str, own: bool, over: bool, stale: bool) -> QTableWidgetItem:
        made = QTableWidgetItem(text)
        made.setData(Qt.ItemDataRole.UserRole, row)
        made.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        made.setFont(self.theme.font(13.5, 700 if own else 500, tabular=True))
        made.setForeground(QBrush(self.theme.colour("quiet" if stale else "brick" if over else "found_text")))
        if own:
            made.setBackground(QBrush(self.theme.colour("found_wash")))
        elif over:
            made.setBackground(QBrush(self.theme.colour("hairline"), Qt.BrushStyle.BDiagPattern))
        return made

    def current_row(self) -> int | None:
        """The row of the grid that is picked."""
        items = self.selectedItems()
        row = items[0].data(Qt.ItemDataRole.UserRole) if items else -1
        return None if row is None or row < 0 else int(row)
