"""The right half of the page: the pictures of a rehearsal, or the table of one made-up study."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.table import CalmTable
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, link
from ragwort.app.picture.canvas import Canvas
from ragwort.figures.shown.shown import Shown
from ragwort.rehearsal.dataset import DataSet

PICTURES = ("Power", "Estimates", "p-values", "By size", "One study")
MOST_ROWS = 2_000  # of a made-up study that are shown; all are exported


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
        self.table = CalmTable(theme, "One of the made-up studies", lost="lost")
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
            tab.setMinimumWidth(round(self.theme.width(name, 14, 700)) + self.theme.px(2))
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
        self.copy_link.setEnabled(False)
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
