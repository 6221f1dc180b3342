"""Kept scenarios side by side, over the picture: what differs stands out, and each can be moved or returned to."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QBrush, QGuiApplication
from PySide6.QtWidgets import QAbstractItemView, QFrame, QHBoxLayout, QHeaderView, QMenu, QTableWidget, QTableWidgetItem

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, link
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel
from ragwort.files.texts import csv_bytes
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.comparison import NOTE, Comparison, Row, comparison_of

NOTHING = "Keep a scenario first (Ctrl+D): then it stands here beside the aim as it is now."
HINT = "A right click on a heading plans on a scenario, moves it or returns to it; a double click types a note."
_ROW, _WIDEST = 27, 240  # px


class ComparePanel(SidePanel):
    """Opened from the shelf."""

    key = "compare"

    export_asked = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "compare", "Side by side")
        self.comparison: Comparison | None = None
        self.says = Wrapped("", "quiet")
        self.column.addWidget(self.says)
        self.table = QTableWidget()
        self.table.setObjectName("compareTable")
        self.table.setAccessibleName("Scenarios side by side")
        self.table.setFrameShape(QFrame.Shape.NoFrame)
        self.table.setShowGrid(False)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.table.itemChanged.connect(self._noted)
        self.table.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.table.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        self.table.verticalHeader().setDefaultSectionSize(theme.px(_ROW))
        self.table.verticalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        heading = self.table.horizontalHeader()
        heading.setDefaultAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        heading.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        heading.customContextMenuRequested.connect(self._menu)
        self.column.addWidget(self.table, 1)
        foot = QHBoxLayout()
        for words, act in (("Copy as a table", self.copy), ("Export as CSV…", self.export_asked.emit)):
            foot.addWidget(link(words, act, "smallLink"))
        foot.addStretch(1)
        self.column.addLayout(foot)
        session.changed.connect(self.refresh)

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.PaletteChange:
            self.refresh()  # cells have inks of their own

    def copy(self) -> None:
        """The comparison on the clipboard, as a spreadsheet takes it."""
        if self.comparison is not None:
            lines = ["\t".join(str(cell) for cell in row) for row in self.comparison.table()]
            QGuiApplication.clipboard().setText("\n".join(lines))

    def as_csv(self) -> bytes:
        """The comparison as a file."""
        return csv_bytes(self.comparison.table() if self.comparison is not None else [])

    def refresh(self) -> None:
        """Show the scenarios as they are."""
        aim = self.session.aim
        if not self.isVisible() or aim is None:
            return
        outcomes = [self.session.outcome(aim), *(self.session.outcome(aim, kept) for kept in aim.scenarios)]
        self.comparison = comparison_of(aim, outcomes, self.session.study.resources)
        self.says.setText(HINT if aim.scenarios else NOTHING)
        self._fill(self.comparison)

    def _fill(self, comparison: Comparison) -> None:
        with QSignalBlocker(self.table):
            self._fill_quietly(comparison)

    def _fill_quietly(self, comparison: Comparison) -> None:
        self.table.setColumnCount(len(comparison.heads))
        self.table.setRowCount(len(comparison.rows))
        self.table.setHorizontalHeaderLabels(list(comparison.heads))
        self.table.setVerticalHeaderLabels([row.label for row in comparison.rows])
        for at, row in enumerate(comparison.rows):
            for column in range(len(comparison.heads)):
                self.table.setItem(at, column, self._item(row, column))
        self.table.resizeColumnsToContents()
        for column in range(len(comparison.heads)):
            self.table.setColumnWidth(column, min(self.table.columnWidth(column), self.theme.px(_WIDEST)))

    def _item(self, row: Row, column: int) -> QTableWidgetItem:
        made = QTableWidgetItem(row.cells[column])
        made.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if row.label != NOTE or column == 0:
            made.setFlags(made.flags() & ~Qt.ItemFlag.ItemIsEditable)
        if row.label == NOTE:
            made.setToolTip(row.cells[column] or ("Double click to type a note" if column else ""))
            return made
        differs = row.differs(column)
        made.setFont(self.theme.font(13.5, 700 if differs or row.found else 400, tabular=True))
        ink = "found_text" if row.found else "leaf" if differs else "ink"
        made.setForeground(QBrush(self.theme.colour(ink)))
        if differs and not row.found:
            made.setToolTip(f"Now: {row.cells[0]}")
        return made

    def _noted(self, item: QTableWidgetItem) -> None:
        """A note has been typed."""
        aim = self.session.aim
        if aim is not None and 1 <= item.column() <= len(aim.scenarios):
            kept = aim.scenarios[item.column() - 1]
            self.session.do(edits.note_scenario(self.session.study, aim.id, kept.id, item.text().strip()))

    def _menu(self, at: QPoint) -> None:
        aim, column = self.session.aim, self.table.horizontalHeader().logicalIndexAt(at)
        if aim is not None and 1 <= column <= len(aim.scenarios):
            self.menu_for(aim, column - 1).popup(self.table.horizontalHeader().mapToGlobal(at))

    def menu_for(self, aim: Aim, place: int) -> QMenu:
        """What can be done with a scenario."""
        menu, kept = QMenu(self), aim.scenarios[place]
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        session = self.session
        told = aim.id, kept.id
        menu.addAction("Return to it", lambda: session.do(edits.return_to_scenario(session.study, *told)))
        planned = kept == aim.planned_scenario
        wanted = "" if planned else kept.id
        words = "Plan on the aim as it stands" if planned else "Plan on it"
        menu.addAction(words, lambda: session.do(edits.plan_on(session.study, aim.id, wanted)))
        left = menu.addAction("Move to the left", lambda: session.do(edits.move_scenario(session.study, *told, -1)))
        right = menu.addAction("Move to the right", lambda: session.do(edits.move_scenario(session.study, *told, 1)))
        left.setEnabled(place > 0)
        right.setEnabled(place < len(aim.scenarios) - 1)
        menu.addAction("Delete", lambda: session.do(edits.delete_scenario(session.study, aim.id, kept.id)))
        return menu
