"""The right half of the page: the pictures of a rehearsal, or the table of one made-up study."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QBrush, QGuiApplication
from PySide6.QtWidgets import (
    QAbstractItemView,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QStackedLayout,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.bench.canvas import Canvas
from ragwort.app.kit.table_cell import Cell
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, link
from ragwort.figures.shown import Shown
from ragwort.rehearsal.dataset import DataSet

PICTURES = ("Power", "Estimates", "p-values", "By size", "One study")
MOST_ROWS = 2_000  # of a made-up study that are shown; all are exported


class StudyTable(QTableWidget):
    """A made-up study, row by row."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setObjectName("madeUp")
        self.setAccessibleName("One of the made-up studies")
        self.setItemDelegate(Cell(theme))
        self.setFont(theme.font(13, tabular=True))
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(theme.px(27))

    def show_rows(self, labels: Sequence[str], rows: Sequence[Sequence[object]]) -> None:
        """Show these, what is lost as a word."""
        self.setRowCount(len(rows))
        self.setColumnCount(len(labels))
        self.setHorizontalHeaderLabels(list(labels))
        for down, row in enumerate(rows):
            for across, cell in enumerate(row):
                self.setItem(down, across, self._item(cell))
        for across in range(len(labels)):
            number = bool(rows) and isinstance(rows[0][across], int | float)
            side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
            self.horizontalHeaderItem(across).setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        self.resizeColumnsToContents()

    def _item(self, cell: object) -> QTableWidgetItem:
        text = "lost" if cell is None else f"{cell:g}".replace("-", "−") if isinstance(cell, float) else str(cell)
        made = QTableWidgetItem(text)
        number = cell is None or isinstance(cell, int | float)
        side = Qt.AlignmentFlag.AlignRight if number else Qt.AlignmentFlag.AlignLeft
        made.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        made.setForeground(QBrush(self.theme.colour("quiet" if cell is None else "ink")))
        return made


class RehearsalPictures(QWidget):
    """Tabs, what the picture says, the picture, and what else there is to say."""

    tab_changed = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme, self.name = theme, "Estimates"
        self.shown: Shown | None = None
        self.as_table = False
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(20), theme.px(10), theme.px(18), theme.px(12))
        column.addLayout(self._tabs())
        self.says = Wrapped("", "quiet")
        self.says.setContentsMargins(theme.px(4), theme.px(6), 0, theme.px(2))
        column.addWidget(self.says)
        place = QWidget()
        self._stack = QStackedLayout(place)
        self.canvas = Canvas(theme)
        self._stack.addWidget(self.canvas)
        self.table = StudyTable(theme)
        self._stack.addWidget(self.table)
        self.nothing = Wrapped("", "quiet")
        self.nothing.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.nothing.setContentsMargins(theme.px(4), theme.px(12), 0, 0)
        self._stack.addWidget(self.nothing)
        column.addWidget(place, 1)
        self.below = Wrapped("", "quiet")
        self.below.setContentsMargins(theme.px(4), 0, 0, 0)
        column.addWidget(self.below)
        self.row = QHBoxLayout()
        self.row.setSpacing(theme.px(12))
        column.addLayout(self.row)

    def _tabs(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(12))
        self._group = QButtonGroup(self)
        for name in PICTURES:
            tab = QPushButton(name, checkable=True, checked=name == self.name)
            tab.setObjectName("pictureTab")
            tab.setAccessibleName(f"Picture {name}")
            tab.clicked.connect(lambda _=False, name=name: self.show_tab(name))
            self._group.addButton(tab)
            row.addWidget(tab)
        row.addStretch(1)
        self.copy_link = link("Copy", self.copy)
        row.addWidget(self.copy_link)
        return row

    def show_tab(self, name: str) -> None:
        """Bring a picture into view."""
        self.name = name
        self.as_table = False
        for tab in self._group.buttons():
            tab.setChecked(tab.text() == name)
        self.tab_changed.emit(name)

    def show_picture(self, picture: Shown | None, why_not: str, below: str, stale: str = "") -> None:
        """Draw a picture; where there is none, say why."""
        self.shown = picture
        self.says.setText(picture.says if picture is not None else "")
        self.says.setVisible(picture is not None)
        self.below.setText(below)
        self.below.setVisible(bool(below))
        self.copy_link.setEnabled(picture is not None)
        if picture is None:
            self.canvas.forget()
            self.nothing.setText(why_not)
            self._stack.setCurrentWidget(self.nothing)
            return
        self._stack.setCurrentWidget(self.canvas)
        self.canvas.show_picture(picture, stale)

    def show_table(self, data: DataSet) -> None:
        """Show a made-up study row by row."""
        self.shown = None
        self.says.setText(data.words)
        self.says.show()
        rows = data.rows[:MOST_ROWS]
        self.table.show_rows(data.labels, rows)
        rest = len(data.rows) - len(rows)
        self.below.setText(f"{rest} more rows are in what is exported." if rest else "")
        self.below.setVisible(bool(rest))
        self._stack.setCurrentWidget(self.table)

    def copy(self) -> None:
        """The picture on the clipboard."""
        if self.shown is not None:
            QGuiApplication.clipboard().setPixmap(self.canvas.grab())
