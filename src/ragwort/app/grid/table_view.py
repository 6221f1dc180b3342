"""The table of a grid."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QItemSelection, QSize, Qt, Signal
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableView

from ragwort.app.grid.cell import Cell
from ragwort.app.grid.rows import Rows
from ragwort.app.kit.theme import Theme
from ragwort.grid.work import Results
from ragwort.study.resources import Limits

_ROW = 31  # px
_LOOKED_AT = 60  # rows by which the columns' widths are found


class TableView(QTableView):
    """Rows that can be picked, sorted by a click on a heading; a hundred thousand scroll as ten do."""

    row_changed = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme, self.rows = theme, Rows(theme)
        self.setObjectName("gridTable")
        self.setAccessibleName("Combinations")
        self.setModel(self.rows)
        self.setItemDelegate(Cell(theme))
        self.setFont(theme.font(13.5, tabular=True))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setTabKeyNavigation(False)
        self.verticalHeader().hide()
        self.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.verticalHeader().setDefaultSectionSize(theme.px(_ROW))
        heading = self.horizontalHeader()
        heading.setSectionsMovable(False)
        heading.setHighlightSections(False)
        heading.setStretchLastSection(True)
        heading.setSortIndicatorClearable(True)
        heading.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self.setSortingEnabled(True)
        heading.setResizeContentsPrecision(_LOOKED_AT)
        heading.setMinimumSectionSize(theme.px(40))
        self._columns: list[str] = []

    def show_results(
        self, results: Results | None, limits: Limits, held: Any, hidden: tuple[str, ...], stale: bool
    ) -> None:
        """Show the rows for which a condition held, without the hidden columns; what was picked stays picked."""
        picked = self.current_row()
        self.rows.show_results(results, limits, held, stale)
        names = [column.name for column in self.rows.columns]
        for at, name in enumerate(names):
            self.setColumnHidden(at, name in hidden)
        if names != self._columns:
            self._columns = names
            self._fit_columns()
        if picked is not None and results is not None:
            places = [place for place in range(min(self.rows.rowCount(), 100_000)) if self.rows.row_at(place) == picked]
            if places:
                self.selectRow(places[0])

    def _fit_columns(self) -> None:
        """Each as wide as its first rows and its heading ask for."""
        heading = self.fontMetrics()
        for at, column in enumerate(self.rows.columns):
            words = heading.horizontalAdvance(column.label) + self.theme.px(20)
            self.setColumnWidth(at, max(self.sizeHintForColumn(at), words, self.theme.px(56)))

    def current_row(self) -> int | None:
        """The row of the grid that is picked."""
        picked = self.selectionModel().selectedRows()
        return self.rows.row_at(picked[0].row()) if picked else None

    def selectionChanged(self, selected: QItemSelection, deselected: QItemSelection) -> None:
        super().selectionChanged(selected, deselected)
        self.row_changed.emit()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(480), self.theme.px(300))
