"""The rows of a grid for a table view: sorted, filtered, marked; the numbers stay in their arrays."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtGui import QBrush, QFont

from ragwort.app.kit.theme import Theme
from ragwort.grid.spending import beyond
from ragwort.grid.table import LIMIT, Column, columns_of, remark_on
from ragwort.grid.work import Results
from ragwort.study.results.resources import NO_LIMITS, Limits

Index = QModelIndex | QPersistentModelIndex
_RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
_LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)


class Rows(QAbstractTableModel):
    """One row a combination."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.results: Results | None = None
        self.columns: list[Column] = []
        self._limitss: Limits = NO_LIMITS
        self._stale = False
        self._order: NDArray[np.int64] = np.zeros(0, dtype=np.int64)
        self._sorted_by, self._down = "", False
        self._beyond: NDArray[np.bool_] = np.zeros(0, dtype=bool)
        self._own = -1  # the row that is the aim as it stands

    def show_results(
        self, results: Results | None, limits: Limits, held: NDArray[np.bool_] | None, stale: bool = False
    ) -> None:
        """Show the rows for which a condition held, or all, quietly where they are out of date; the order stays."""
        self.beginResetModel()
        self._stale = stale
        self.results, self._limits = results, limits
        self.columns = [] if results is None else columns_of(results, limits)
        if results is not None:
            own = results.asked.own()
            self._beyond, self._own = beyond(results, limits), -1 if own is None else own
            rows = np.arange(results.asked.count) if held is None else np.flatnonzero(held)
            self._order = self._in_order(rows)
        else:
            self._order = np.zeros(0, dtype=np.int64)
        self.endResetModel()

    def _in_order(self, rows: NDArray[np.int64]) -> NDArray[np.int64]:
        column = next((each for each in self.columns if each.name == self._sorted_by), None)
        if column is None:
            return rows
        numbers = column.numbers[rows]
        ranks = np.argsort(-numbers if self._down else numbers, kind="stable")  # rows without a number go last
        return rows[ranks]

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """By the numbers of a column; what has none goes last."""
        name, down = (
            (self.columns[column].name if 0 <= column < len(self.columns) else ""),
            order == Qt.SortOrder.DescendingOrder,
        )
        if (name, down) == (self._sorted_by, self._down):
            return
        self._sorted_by, self._down = name, down
        self.layoutAboutToBeChanged.emit()
        self._order = self._in_order(np.sort(self._order))
        self.layoutChanged.emit()

    def row_at(self, place: int) -> int:
        """Which row of the grid stands there."""
        return int(self._order[place])

    def place_of_own(self) -> int | None:
        """Where the row is that is the aim as it stands; None where it is not among those shown."""
        places = np.flatnonzero(self._order == self._own)
        return int(places[0]) if places.size else None

    # --- as Qt asks ---

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  (Qt's own)
        return 0 if parent.isValid() else len(self._order)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation != Qt.Orientation.Horizontal or not 0 <= section < len(self.columns):
            return None
        column = self.columns[section]
        if role == Qt.ItemDataRole.DisplayRole:
            return column.label
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _LEFT if column.words else _RIGHT
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or self.results is None:
            return None
        row, column = self.row_at(index.row()), self.columns[index.column()]
        if role == Qt.ItemDataRole.DisplayRole:
            return self._text(row, column)
        if role == Qt.ItemDataRole.ToolTipRole:
            return remark_on(self.results, row) or None
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _LEFT if column.words else _RIGHT
        return self._look(row, column, role)

    def _text(self, row: int, column: Column) -> str:
        assert self.results is not None
        last = column is self.columns[-1]
        return remark_on(self.results, row) if last and row in self.results.reasons else column.text(row)

    def _look(self, row: int, column: Column, role: int) -> Any:
        if role == Qt.ItemDataRole.FontRole and (column.found or row == self._own):
            return self._font(column.found)
        if role == Qt.ItemDataRole.ForegroundRole:
            return QBrush(self.theme.colour(self._ink(row, column)))
        if role == Qt.ItemDataRole.BackgroundRole and row == self._own:
            return QBrush(self.theme.colour("found_wash"))
        if role == Qt.ItemDataRole.BackgroundRole and self._beyond[row]:
            return QBrush(self.theme.colour("hairline"), Qt.BrushStyle.BDiagPattern)
        return None

    def _font(self, found: bool) -> QFont:
        return self.theme.font(13.5, 700 if found else 500, tabular=True)

    def _ink(self, row: int, column: Column) -> str:
        assert self.results is not None
        if self._stale or row in self.results.reasons:
            return "quiet"
        if column.name == LIMIT:
            return "brick" if self._beyond[row] else "quiet"
        return "found_text" if column.found else "ink"
