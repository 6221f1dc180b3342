"""The table of a grid."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QItemSelection, QSize, Qt, Signal
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableView

from ragwort.app.grid.rows import Rows
from ragwort.app.kit.table_cell import Cell
from ragwort.app.kit.theme import Theme
from ragwort.grid.table import Column
from ragwort.grid.work import Results
from ragwort.study.results.resources import Limits

_ROW = 31  # px

_LOOKED_AT = 24  # rows by which the columns' widths are found


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
        self._columns: tuple[list[str], list[int]] = ([], [])  # by name, and how wide they must be

    def show_results(
        self, results: Results | None, limits: Limits, held: Any, hidden: tuple[str, ...], stale: bool
    ) -> None:
        """Show the rows for which a condition held, without the hidden columns; what was picked stays picked."""
        picked = self.current_row()
        self.rows.show_results(results, limits, held, stale)
        names = [column.name for column in self.rows.columns]
        for at, name in enumerate(names):
            self.setColumnHidden(at, name in hidden)
        widths = [self._asked_by(column) for column in self.rows.columns]
        if (names, widths) != self._columns:
            self._columns = (names, widths)
            words_last = bool(self.rows.columns) and self.rows.columns[-1].words  # numbers stay beside each other
            self.horizontalHeader().setStretchLastSection(words_last)
            self._fit_columns(widths)
        self.updateGeometries()  # how far it can be scrolled to the side, now and not at some later moment
        if picked is not None and results is not None:
            places = [place for place in range(min(self.rows.rowCount(), 100_000)) if self.rows.row_at(place) == picked]
            if places:
                self.selectRow(places[0])

    def _asked_by(self, column: Column) -> int:
        """How wide its heading, and some of what is varied, ask a column to be."""
        results = self.rows.results
        texts = [column.label]
        if results is not None and column.name in results.asked.columns:
            texts += [
                column.text(row) for row in range(0, results.asked.count, max(results.asked.count // _LOOKED_AT, 1))
            ]
        return max(self.fontMetrics().horizontalAdvance(text) for text in texts) + self.theme.px(20)

    def _fit_columns(self, widths: list[int]) -> None:
        """Each as wide as its heading, its first rows and some of the others ask for."""
        for at, width in enumerate(widths):
            self.setColumnWidth(at, max(self.sizeHintForColumn(at), width, self.theme.px(56)))

    def current_row(self) -> int | None:
        """The row of the grid that is picked."""
        picked = self.selectionModel().selectedRows()
        return self.rows.row_at(picked[0].row()) if picked else None

    def selectionChanged(self, selected: QItemSelection, deselected: QItemSelection) -> None:
        super().selectionChanged(selected, deselected)
        self.row_changed.emit()

    def sizeHint(self) -> QSize:
        return QSize(self.theme.px(480), self.theme.px(300))
