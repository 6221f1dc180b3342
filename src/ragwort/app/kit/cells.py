"""A small grid for what has several numbers: a list, a table, or strata and terms with named columns.

What is typed goes through the same text as the one-line editor, so that a fault, a draft and undo are the same there.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence

from PySide6.QtCore import QEvent, QObject, QRect, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence
from PySide6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QApplication,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import NameEdit, link
from ragwort.designs.assumption import EMPTY_CELL, Assumption

ROW_HEIGHT = 27
MOST_LINES = 3  # of a column's title
MOST_NAME = 118  # pixels of a row's name
MOST_PASTED = 1000  # rows, and columns of a table: as many as any assumption takes


class _Table(QTableWidget):
    """A table that tells when Enter has closed a cell."""

    entered_cell = Signal()

    def closeEditor(self, editor: QWidget, hint: QAbstractItemDelegate.EndEditHint) -> None:
        super().closeEditor(editor, hint)
        if not self.hasFocus():
            self.clearSelection()
        if hint == QAbstractItemDelegate.EndEditHint.SubmitModelCache:
            self.entered_cell.emit()


class Cells(QWidget):
    """The grid with its links. `edited` carries all cells as text: rows apart by semicolons, cells by spaces."""

    edited = Signal(str)
    focused = Signal()
    renamed = Signal(str, int, str)  # the kind of name, which of them, and what was typed
    renaming_ended = Signal(bool)  # whether what was typed is to be kept

    def __init__(self, theme: Theme, assumption: Assumption) -> None:
        super().__init__()
        self.theme, self.assumption = theme, assumption
        self._sent = ""
        self.table = _Table(1, self._columns_at_first())
        self.table.setObjectName("cells")
        self.table.setAccessibleName(assumption.label)
        self.table.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.table.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.table.setTabKeyNavigation(False)
        triggers = QAbstractItemView.EditTrigger
        self.table.setEditTriggers(triggers.DoubleClicked | triggers.AnyKeyPressed | triggers.EditKeyPressed)
        self.table.entered_cell.connect(self._down)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.horizontalHeader().setMinimumSectionSize(theme.px(46))
        self.table.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        self.table.verticalHeader().setDefaultSectionSize(theme.px(ROW_HEIGHT))
        self.table.verticalHeader().setMinimumSectionSize(theme.px(ROW_HEIGHT))
        self.table.verticalHeader().setMaximumWidth(theme.px(MOST_NAME))
        self.table.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.table.verticalHeader().sectionDoubleClicked.connect(self._rename_row)
        self.table.horizontalHeader().sectionDoubleClicked.connect(self._rename_column)
        self.table.itemChanged.connect(lambda _: self._send())
        self.table.installEventFilter(self)
        self._name_columns()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, theme.px(4))
        column.setSpacing(theme.px(2))
        column.addWidget(self.table)
        column.addLayout(self._links())

    def _is_of_one_size(self) -> bool:
        """Whether rows and columns are as many as they must be."""
        return self.assumption.kind == "table" and self.assumption.shortest == self.assumption.longest

    def _columns_at_first(self) -> int:
        return {"list": 1, "table": 2}.get(self.assumption.kind, len(self.assumption.fields))

    def _name_columns(self) -> None:
        fields = self.assumption.fields
        if fields:
            self.table.setHorizontalHeaderLabels([field.label for field in fields])
        self.table.horizontalHeader().setVisible(self.assumption.kind != "list")

    def show_names(self, rows: Sequence[str], columns: Sequence[str]) -> None:
        """What the rows and the columns are called; those without a name have their number."""
        for at in range(self.table.rowCount()):
            self._show_name(self.table.setVerticalHeaderItem, at, rows)
        if self.assumption.kind == "table":
            for at in range(self.table.columnCount()):
                self._show_name(self.table.setHorizontalHeaderItem, at, columns)
        self.fit()

    def _show_name(self, put: Callable[[int, QTableWidgetItem], None], at: int, names: Sequence[str]) -> None:
        item = QTableWidgetItem(names[at] if at < len(names) else f"{at + 1}")
        if names:
            item.setToolTip(f"{item.text()}. Double-click to rename.")
        put(at, item)

    def _rename_row(self, at: int) -> None:
        head = self.table.verticalHeader()
        if self.assumption.row_names:
            place = QRect(0, self._top() + head.sectionViewportPosition(at), head.width(), head.sectionSize(at))
            self._rename(self.assumption.row_names, at, self.table.verticalHeaderItem(at).text(), place)

    def _rename_column(self, at: int) -> None:
        head = self.table.horizontalHeader()
        if self.assumption.column_names:
            left = self.table.verticalHeader().width() + head.sectionViewportPosition(at)
            place = QRect(left, 0, head.sectionSize(at), head.height())
            self._rename(self.assumption.column_names, at, self.table.horizontalHeaderItem(at).text(), place)

    def _top(self) -> int:
        head = self.table.horizontalHeader()
        return 0 if head.isHidden() else head.height()

    def _rename(self, kind: str, at: int, text: str, place: QRect) -> None:
        width = max(place.width(), self.theme.px(MOST_NAME))
        editor = NameEdit(text, self.table, place.left(), place.top(), place.height(), width)
        editor.typed.connect(lambda name: self.renamed.emit(kind, at, name))
        editor.left.connect(self.renaming_ended)

    def _links(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(10))
        row.addStretch(1)
        if self._is_of_one_size():
            return row
        acts = [("+ row", self.add_row, "Add a row (Ctrl++)"), ("− row", self.remove_row, "Remove the row (Ctrl+−)")]
        if self.assumption.kind == "table":
            acts += [
                ("+ column", self.add_column, "Add a column"),
                ("− column", self.remove_column, "Remove the column"),
            ]
        for words, act, tip in acts:
            button = link(words, act, "smallLink")
            button.setToolTip(tip)
            button.setAccessibleName(f"{tip.split(' (')[0]} of {self.assumption.label}")
            row.addWidget(button)
        return row

    # --- showing ---

    def show_text(self, text: str) -> None:
        """Show all cells as they are said in one line; what was typed here last is left as it is."""
        if self._parted(text) == self._parted(self._sent) and text:
            return
        self._sent = text
        rows = self._parted(text) or [[""]]
        width = max(self._columns_at_first() if self.assumption.kind != "table" else 1, *(len(row) for row in rows))
        with QSignalBlocker(self.table):
            self.table.setRowCount(len(rows))
            self.table.setColumnCount(width)
            for at, row in enumerate(rows):
                for column in range(width):
                    text = row[column] if column < len(row) else ""
                    self.set_text(at, column, "" if text == EMPTY_CELL else text)
            self._name_columns()
        self.fit()

    def show_blank(self, rows: int, columns: int) -> None:
        """Empty cells to type into."""
        self.show_text("")
        with QSignalBlocker(self.table):
            self.table.setRowCount(rows)
            self.table.setColumnCount(columns)
            self._name_columns()
        self.fit()

    def _parted(self, text: str) -> list[list[str]]:
        if self.assumption.kind == "list":
            return [[part] for part in re.split(r"\s*;\s*|,\s+|\s*×\s*|\s+and\s+|\s+", text.strip()) if part]
        joined = re.sub(r"\s+%", "%", text)
        return [row.split() for row in re.split(r"[;\n|]", joined) if row.strip()]

    def set_text(self, row: int, column: int, text: str) -> None:
        item = QTableWidgetItem(text)
        item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
        self.table.setItem(row, column, item)

    def fit(self) -> None:
        """As high as its rows: the ledger scrolls, not the grid."""
        head = self.table.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)  # again, or a column taken out leaves a gap
        top = self._fit_head() if not head.isHidden() else 0
        bar = self.table.horizontalScrollBar().sizeHint().height() if self.table.columnCount() > 5 else 0
        self.table.setFixedHeight(top + bar + self.theme.px(ROW_HEIGHT) * self.table.rowCount() + 2)

    def _fit_head(self) -> int:
        """The head as high as its longest title needs."""
        head = self.table.horizontalHeader()
        room = (self.table.width() - self.table.verticalHeader().sizeHint().width()) / max(self.table.columnCount(), 1)
        items = [self.table.horizontalHeaderItem(at) for at in range(self.table.columnCount())]
        titles = [
            item.text() for item in items if item is not None and " " in item.text()
        ]  # one word has no second line
        widest = max((head.fontMetrics().horizontalAdvance(title) for title in titles), default=0)
        lines = min(max(math.ceil(widest / max(room - self.theme.px(14), 1)), 1), MOST_LINES)
        height = lines * head.fontMetrics().height() + self.theme.px(8)
        if head.height() != height or head.minimumHeight() != height:
            head.setFixedHeight(height)
        return height

    # --- edits ---

    def text_at(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return re.sub(r"\s+", "", item.text()) if item is not None else ""

    def _send(self) -> None:
        self._sent = "; ".join(" ".join(cell or EMPTY_CELL for cell in row) for row in self._filled_rows())
        self.edited.emit(self._sent)

    def _filled_rows(self) -> list[list[str]]:
        """All rows up to the last with anything in it: one emptied among others keeps its place, and its name."""
        columns = range(self.table.columnCount())
        rows = [[self.text_at(row, column) for column in columns] for row in range(self.table.rowCount())]
        while rows and not any(rows[-1]):
            rows.pop()
        return rows

    def add_row(self) -> None:
        """An empty row below the one in hand; it counts once something is typed into it."""
        if self._is_of_one_size():
            return
        at = self.table.currentRow() + 1 if self.table.currentRow() >= 0 else self.table.rowCount()
        self.table.insertRow(at)
        self.fit()
        self.table.setCurrentCell(at, 0)
        self.table.setFocus()

    def remove_row(self) -> None:
        """Take out the row in hand, the last one where none is; one row always stays."""
        if self.table.rowCount() > 1 and not self._is_of_one_size():
            at = self.table.currentRow()
            self.table.removeRow(at if at >= 0 else self.table.rowCount() - 1)
            self.fit()
            self._send()

    def add_column(self) -> None:
        """An empty column at the right."""
        self.table.insertColumn(self.table.columnCount())
        self.fit()

    def remove_column(self) -> None:
        """Take out the column in hand, the last one where none is; one column always stays."""
        if self.table.columnCount() > 1:
            at = self.table.currentColumn()
            self.table.removeColumn(at if at >= 0 else self.table.columnCount() - 1)
            self.fit()
            self._send()

    def paste(self, text: str) -> None:
        """Cells from a spreadsheet, apart by tabs and line breaks, from the cell in hand on."""
        rows = [re.split(r"\t|;", line) for line in text.strip("\n\r").splitlines()[:MOST_PASTED]]
        if not rows:
            return  # a picture, or nothing
        if self.assumption.kind == "list" and len(rows) == 1:
            rows = [[cell] for cell in rows[0]]
        top, left = max(self.table.currentRow(), 0), max(self.table.currentColumn(), 0)
        with QSignalBlocker(self.table):
            self.table.setRowCount(max(self.table.rowCount(), top + len(rows)))
            if self.assumption.kind == "table":
                widest = min(max(len(row) for row in rows), MOST_PASTED)
                self.table.setColumnCount(max(self.table.columnCount(), left + widest))
            for at, row in enumerate(rows):
                for over, cell in enumerate(row[: self.table.columnCount() - left]):
                    self.set_text(top + at, left + over, cell.strip())
        self.fit()
        self._send()

    def copy(self) -> None:
        """All cells on the clipboard, as a spreadsheet takes them."""
        rows, columns = range(self.table.rowCount()), range(self.table.columnCount())
        lines = ["\t".join(self.text_at(row, column) for column in columns) for row in rows]
        QGuiApplication.clipboard().setText("\n".join(lines))

    def _clear(self) -> None:
        with QSignalBlocker(self.table):
            for item in self.table.selectedItems():
                item.setText("")
        self._send()

    # --- keyboard ---

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize:
            self.fit()  # narrower columns may need higher titles
        if event.type() == QEvent.Type.FocusIn:
            self.focused.emit()
            if self.table.currentRow() < 0:
                self.table.setCurrentCell(0, 0)
        if event.type() == QEvent.Type.FocusOut and not self._is_typing():
            self.table.clearSelection()  # the cell in hand stays in hand
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and not self._is_typing():
            return self._key(event)
        return False

    def _is_typing(self) -> bool:
        """Whether a cell is open: its keys come here too."""
        return isinstance(QApplication.focusWidget(), QLineEdit)

    def _key(self, event: QKeyEvent) -> bool:
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if event.matches(QKeySequence.StandardKey.Paste):
            self.paste(QGuiApplication.clipboard().text())
        elif event.matches(QKeySequence.StandardKey.Copy):
            self.copy()
        elif control and event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.add_row()
        elif control and event.key() == Qt.Key.Key_Minus:
            self.remove_row()
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._clear()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._down()
        else:
            return False
        return True

    def _down(self) -> None:
        """Enter goes to the cell below, and to a new row from the last."""
        row, column = self.table.currentRow(), self.table.currentColumn()
        if row + 1 < self.table.rowCount():
            self.table.setCurrentCell(row + 1, column)
        else:
            self.add_row()
