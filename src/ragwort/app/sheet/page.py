"""The page Sheet: the sentence, the first rows, the columns, the allocation and the ways out."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal, SignalInstance
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QStackedLayout, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.table import CalmTable
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, hairline, label, link
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.page import Page
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.layout import sheet_of
from ragwort.sheet.parts import Sheet
from ragwort.sheet.remarks import allocation_words, columns_table, remark
from ragwort.sheet.sentence import Wanted, sheet_sentence, wanted_of
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import Pending

MOST_SHOWN = 500  # rows
EMPTY = "There is no aim to collect data for yet: add one on the page Bench."


class SheetPage(Page):
    """The sheet of the aim in view, made while the page is."""

    key = "Sheet"

    sheet_wanted = Signal(str)  # as which kind of file
    list_wanted = Signal(str)
    labels_wanted = Signal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.sheet: Sheet | None = None
        self._fault = ""
        self._made_for: tuple[Study | None, str] = (None, "")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.sentence = LiveSentence(session, theme, "sheetSentence")
        column.addWidget(self.sentence)
        column.addWidget(hairline())
        body = QWidget()
        self._stack = QStackedLayout(body)
        self.empty = Wrapped(EMPTY, "quiet")
        self.empty.setContentsMargins(*(theme.px(30),) * 4)
        self.empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._stack.addWidget(self.empty)
        self._stack.addWidget(self._halves())
        column.addWidget(body, 1)
        session.changed.connect(self.refresh)

    def _halves(self) -> QWidget:
        halves = QWidget()
        row = QHBoxLayout(halves)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left(), 3)
        row.addWidget(hairline(vertical=True))
        row.addWidget(self._right(), 2)
        return halves

    def _left(self) -> QWidget:
        side, column = self._side()
        top = QHBoxLayout()
        top.addWidget(label("FIRST ROWS", "heading"))
        top.addStretch(1)
        self.export = self._menu("Export the sheet", self.sheet_wanted, ("xlsx", "csv", "ods"))
        top.addWidget(self.export)
        column.addLayout(top)
        self.rows = CalmTable(self.theme, "First rows of the sheet")
        column.addWidget(self.rows, 1)
        self.more = label("", "quiet")
        column.addWidget(self.more)
        return side

    def _right(self) -> QWidget:
        side, column = self._side()
        column.addWidget(label("COLUMNS", "heading"))
        self.columns = CalmTable(self.theme, "Columns of the sheet")
        self.columns.as_high_as_rows = True
        column.addWidget(self.columns)
        column.addSpacing(self.theme.px(10))
        self.allocation_heading = label("ALLOCATION", "heading")
        column.addWidget(self.allocation_heading)
        self.allocation = Wrapped("", "quiet")
        column.addWidget(self.allocation)
        links = QHBoxLayout()
        links.setSpacing(self.theme.px(12))
        self.list_link = self._menu("Export the list", self.list_wanted, ("csv", "xlsx"))
        self.labels_link = link("Labels for envelopes", self.labels_wanted.emit, "smallLink")
        for each in (self.list_link, self.labels_link):
            links.addWidget(each)
        links.addStretch(1)
        column.addLayout(links)
        column.addStretch(1)
        return side

    def _side(self) -> tuple[QWidget, QVBoxLayout]:
        px = self.theme.px
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(px(20), px(12), px(18), px(12))
        column.setSpacing(px(6))
        return side, column

    def _menu(self, words: str, wanted: SignalInstance, kinds: tuple[str, ...]) -> QPushButton:
        made = link(words, lambda: None, "smallLink")
        menu = QMenu(made)
        for kind in kinds:
            menu.addAction(f"As {kind.upper()}…", lambda kind=kind: wanted.emit(kind))
        made.setMenu(menu)
        made.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        return made

    # --- showing ---

    @override
    def refresh(self) -> None:
        """Show the session's aim; its sheet is made soon."""
        if not self.shown:
            return
        of = self.wanted()
        self.sentence.setVisible(isinstance(of, Wanted))
        if isinstance(of, str):
            self.jobs.cancel()
            self.empty.setText(of)
            self._stack.setCurrentIndex(0)
            return
        self._stack.setCurrentIndex(1)
        if self._made_for != self._now():
            self.wait.start()
        self._show(of)

    def wanted(self) -> Wanted | str:
        """What the sheet is of, or why there is none."""
        aim = self.session.aim
        if aim is None:
            return EMPTY
        there = aim.as_planned()
        outcome = self.session.outcome(there)
        if isinstance(outcome, Answer):
            return wanted_of(there, outcome)
        return outcome.message if isinstance(outcome, Pending) else f"{outcome.message} A sheet needs an answer first."

    def _now(self) -> tuple[Study | None, str]:
        return self.session.study, self.session.aim_id

    @override
    def begin(self) -> None:
        study, aim = self.session.study, self.session.aim
        if aim is None or isinstance(self.wanted(), str):
            return
        now = self._now()
        self.jobs.start(lambda _: _made(study, aim), lambda made: self._take(now, made))

    def _take(self, made_for: tuple[Study | None, str], made: Sheet | SheetError) -> None:
        self._made_for = made_for
        self.sheet = made if isinstance(made, Sheet) else None
        self._fault = "" if isinstance(made, Sheet) else str(made)
        self.refresh()

    def _show(self, of: Wanted) -> None:
        current = self._made_for == self._now()
        fault = of.aim.sheet.first_fault or (self._fault if current else "")
        sheet = self.sheet if not fault else None
        self.sentence.show_sentence(sheet_sentence(of, "" if sheet is None else remark(sheet), fault))
        for each in (self.export, self.more):
            each.setVisible(sheet is not None)
        allocated = sheet is not None and bool(sheet.list)
        for each in (self.allocation_heading, self.allocation, self.list_link, self.labels_link):
            each.setVisible(allocated)
        if sheet is None:
            self.rows.show_rows((), ())
            self.columns.show_rows((), ())
            return
        self.rows.show_rows(tuple(column.name for column in sheet.columns), sheet.rows[:MOST_SHOWN])
        rest = len(sheet.rows) - MOST_SHOWN
        self.more.setText(f"{rest} more rows are in what is exported." if rest > 0 else "")
        self.columns.show_rows(*columns_table(sheet))
        self.allocation.setText(allocation_words(sheet))


def _made(study: Study, aim: Aim) -> Sheet | SheetError:
    """The sheet, or what is wrong; runs off the interface thread."""
    try:
        return sheet_of(study, aim)
    except SheetError as error:
        return error
