"""The page Grid: many combinations at once, asked in a sentence, as a table with a chart beside it."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSplitter,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)
from typing_extensions import override

from ragwort.app.grid.chart_view import ChartView
from ragwort.app.grid.cross_view import CrossView
from ragwort.app.grid.from_file import FileRows
from ragwort.app.grid.menus import ways_out
from ragwort.app.grid.sentence import GridSentence
from ragwort.app.grid.table_view import TableView
from ragwort.app.kit.jobs import Ticket
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, Wrapped, hairline, link
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.page import Page
from ragwort.app.session.session import Session
from ragwort.figures.drawing import prepare
from ragwort.grid import edits
from ragwort.grid.chart import can_run
from ragwort.grid.combinations import Asked, GridError, asked_of, varied_of
from ragwort.grid.conditions import rows_that
from ragwort.grid.memory import Latest
from ragwort.grid.pace import Pace
from ragwort.grid.table import columns_of, summary
from ragwort.grid.work import Results, worked_out
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.edits import keep_values, take_values
from ragwort.study.results.resources import limits_of
from ragwort.study.words.numbers import count_text

AT_ONCE = 5_000  # combinations that are worked out without being asked to
EVERY = 0.15  # seconds between two looks at a grid that grows
EMPTY = (
    "A grid answers many guesses at once: choose in the sentence above what differs from row to row, and type its "
    "values, such as 8 to 16 by 2."
)


class GridPage(Page):
    """What the aim's grid asks, worked out while the page is in view."""

    key = "Grid"

    rows_wanted = Signal(str)  # as which kind of file
    chart_wanted = Signal(str)
    bench_wanted = Signal()
    _came = Signal(object, object)  # the ticket of a run, and what it has so far

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._came.connect(self._show_more)
        self._run: Ticket | None = None
        self._pace, self._latest = Pace(), Latest(asked_of)
        self.results: Results | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.sentence = GridSentence(session, theme)
        self.file = FileRows(session, self)
        self.file.changed.connect(self._file_changed)
        self.file.failed.connect(self.say_of_file)
        self.sentence.file_asked.connect(self.file.ask)
        self.sentence.file_left.connect(self.file.leave)
        self.sentence.column_chosen.connect(self.file.match)
        column.addWidget(self.sentence)
        self.file_fault = Wrapped("", "fault")
        self.file_fault.setContentsMargins(theme.px(30), 0, theme.px(30), theme.px(8))
        self.file_fault.hide()
        self._fault_of = ""  # of which aim it is said
        column.addWidget(self.file_fault)
        column.addWidget(hairline())
        column.addWidget(self._body(), 1)
        session.changed.connect(self.refresh)

    def _body(self) -> QWidget:
        body = QWidget()
        self._stack = QStackedLayout(body)
        empty = Wrapped(EMPTY, "quiet")
        empty.setContentsMargins(*(self.theme.px(30),) * 4)
        empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._stack.addWidget(empty)
        self.halves = QSplitter(Qt.Orientation.Horizontal)
        self.halves.setChildrenCollapsible(False)
        self.halves.addWidget(self._table_side())
        self.view = ChartView(self.session, self.theme)
        self.halves.addWidget(self.view)
        self.halves.setSizes([self.theme.px(616), self.theme.px(404)])
        self._stack.addWidget(self.halves)
        return body

    def _table_side(self) -> QWidget:
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(self.theme.px(22), self.theme.px(10), self.theme.px(14), self.theme.px(10))
        column.setSpacing(self.theme.px(6))
        top = QHBoxLayout()
        top.setSpacing(self.theme.px(12))
        self.condition = QLineEdit()
        self.condition.setAccessibleName("Which rows are shown")
        self.condition.setPlaceholderText("all rows; or those with recruited <= 240")
        make_live(self.condition, self.session, self._edit_condition)
        top.addWidget(self.condition, 1)
        self.laid_out = link("", self._lay_out)
        top.addWidget(self.laid_out)
        self.columns_link = self._menu_link("Columns", QMenu(self))
        self.columns_link.menu().aboutToShow.connect(self._fill_columns)
        top.addWidget(self.columns_link)
        top.addWidget(self._menu_link("Export", ways_out(self, self.rows_wanted.emit, self.chart_wanted.emit)))
        column.addLayout(top)
        self.condition_fault = Wrapped("", "fault")
        column.addWidget(self.condition_fault)
        self.table = TableView(self.theme)
        self.table.row_changed.connect(self._show_row_links)
        self.cross = CrossView(self.theme)
        self.cross.row_changed.connect(self._show_row_links)
        column.addWidget(self.table, 1)
        column.addWidget(self.cross, 1)
        column.addLayout(self._foot())
        return side

    def _foot(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(12))
        self.note = Elided(name="quiet")
        row.addWidget(self.note, 1)
        self.keep = link("Keep as a scenario", self._keep_row, "smallLink")
        self.take = link("Take to the Bench", self._take_row, "smallLink")
        self.stop = link("Stop", self._stop_or_go_on, "smallLink")
        for each in (self.keep, self.take, self.stop):
            row.addWidget(each)
        return row

    def _menu_link(self, words: str, menu: QMenu) -> QPushButton:
        made = link(words, lambda: None)
        made.setMenu(menu)
        made.setStyleSheet("QPushButton::menu-indicator { image: none; width: 0; }")
        return made

    def _fill_columns(self) -> None:
        menu = self.columns_link.menu()
        menu.clear()
        aim = self.session.aim
        for column in self.table.rows.columns:
            action = menu.addAction(column.label)
            action.setCheckable(True)
            action.setChecked(aim is not None and column.name not in aim.grid.hidden)
            action.toggled.connect(lambda shown, name=column.name: self._do(edits.show_column, name, shown))

    # --- showing ---

    @override
    def set_shown(self, shown: bool) -> None:
        if shown:
            prepare()
        super().set_shown(shown)

    @override
    def halt(self) -> None:
        super().halt()
        self._run = None

    @override
    def finish(self) -> None:
        self.file.jobs.finish()
        super().finish()

    @override
    def begin(self) -> None:
        self.work_out()

    @override
    def refresh(self) -> None:
        """Show the session's aim; what its grid asks is worked out soon, if that does not take long."""
        if not self.shown:
            return
        aim = self.session.aim
        self.sentence.setVisible(aim is not None)
        if aim is None:
            self._stack.setCurrentIndex(0)
            return
        show_in(self.condition, aim.grid.condition)
        if aim.id != self._fault_of:
            self.file_fault.hide()
        asked = self._asked(aim)
        self._show_sentence(aim, asked)
        self._stack.setCurrentIndex(1 if varied_of(aim) or self.file.found() is not None else 0)
        if isinstance(asked, Asked) and not self._is_of(asked):
            self._stop()
            if self.results is not None and self.results.asked.aim.id != aim.id:
                self.results = None
            if asked.count <= AT_ONCE:
                self.wait.start()
        self._show_results()

    def _file_changed(self) -> None:
        self._fault_of = ""
        self.refresh()

    def _show_sentence(self, aim: Aim, asked: Asked | str) -> None:
        self.sentence.show_aim(aim, self._remark(aim, asked), self.file.found())

    def _asked(self, aim: Aim) -> Asked | str:
        """What the grid asks, or why it asks nothing."""
        found = self.file.found()
        if found is not None:
            return found.asked
        try:
            return self._latest(aim, self.session.outcome(aim))
        except GridError as error:
            return str(error)

    def _is_of(self, asked: Asked) -> bool:
        """Whether what is shown answers this."""
        shown = self.results.asked if self.results is not None else None
        return shown is not None and shown.key == asked.key

    def _remark(self, aim: Aim, asked: Asked | str) -> str:
        if not isinstance(asked, Asked):
            return asked if varied_of(aim) else ""
        found = self.file.found()
        said = "" if found is None or not found.left_over else f" {found.says}"
        if self.results is not None and self._is_of(asked):
            return f"{summary(self.results, limits_of(self.session.study))}{said}"
        count = asked.count
        return f"{count_text(count)} {asked.called}{'' if count == 1 else 's'}."

    def _show_results(self) -> None:
        aim, results, limits = self.session.aim, self.results, limits_of(self.session.study)
        hidden, stale = (aim.grid.hidden if aim is not None else ()), bool(self._stale())
        self.table.show_results(results, limits, self._held(aim, results), hidden, stale)
        cross = aim is not None and aim.grid.cross
        self.cross.show_results(results if cross else None, limits, stale)
        crossed = cross and self.cross.cross is not None
        self.cross.setVisible(crossed)
        self.table.setVisible(not crossed)
        self.laid_out.setText("Rows" if crossed else "Cross table")
        self.laid_out.setVisible(cross or (results is not None and len(can_run(results)) > 1))
        self.view.show_results(None if results is None else self._charted(results), limits, self._stale())
        self._show_row_links()

    def _charted(self, results: Results) -> Results:
        """The results with the chart as the aim asks for it now."""
        aim = self.session.aim
        if aim is None or aim.grid == results.asked.aim.grid:
            return results
        now = results.asked.aim.changed(grid=aim.grid)
        return replace(results, asked=replace(results.asked, aim=now))

    def _stale(self) -> str:
        """Why the results are out of date; empty where they are not."""
        aim = self.session.aim
        asked = self._asked(aim) if aim is not None else ""
        if isinstance(asked, Asked) and self._is_of(asked):
            return ""
        return "Out of date." if self.results is not None else ""

    def _held(self, aim: Aim | None, results: Results | None) -> object:
        self.condition_fault.hide()
        if aim is None or results is None or not aim.grid.condition.strip():
            return None
        try:
            return rows_that(columns_of(results, limits_of(self.session.study)), aim.grid.condition)
        except GridError as error:
            self.condition_fault.setText(str(error))
            self.condition_fault.show()
            return None

    def work_out(self) -> None:
        """Begin with what the grid asks, or go on where it was stopped."""
        aim = self.session.aim
        asked = self._asked(aim) if aim is not None else ""
        if not isinstance(asked, Asked):
            return
        after = self.results if self._is_of(asked) else None
        self._pace = Pace(after)
        run = partial(self._work, asked, after)
        self.jobs.start(run, lambda _: self._show_row_links())
        self._show_row_links()

    def _work(self, asked: Asked, after: Results | None, ticket: Ticket) -> None:
        """In a thread: hand over what there is, now and then."""
        self._run = ticket
        shown = 0.0
        for results in worked_out(asked, after):
            ticket.check()
            if results.complete or time.monotonic() - shown > EVERY:
                shown = time.monotonic()
                self._came.emit(ticket, results)

    def _show_more(self, ticket: Ticket, results: Results) -> None:
        if ticket.cancelled or ticket is not self._run:
            return
        self.results = results
        aim = self.session.aim
        if aim is not None:
            self._show_sentence(aim, self._asked(aim))
        self._show_results()

    def _stop(self) -> None:
        self.jobs.cancel()
        self._run = None

    def _stop_or_go_on(self) -> None:
        if self.jobs.busy:
            self._stop()
            self._show_row_links()
        else:
            self.work_out()

    @property
    @override
    def busy(self) -> bool:
        return super().busy or self.file.jobs.busy or self.view.canvas.busy

    def _show_row_links(self) -> None:
        row = self._current_row()
        for each in (self.keep, self.take):
            each.setVisible(row is not None and self.results is not None and self.results.can_be_taken(row))
        aim = self.session.aim
        asked = self._asked(aim) if aim is not None else ""
        whole = self.results is not None and self.results.complete and isinstance(asked, Asked) and self._is_of(asked)
        self.stop.setVisible(isinstance(asked, Asked) and not whole and not self.wait.isActive())
        begun = self.results is not None and self.results.done > 0 and isinstance(asked, Asked) and self._is_of(asked)
        self.stop.setText("Stop" if self.jobs.busy else "Go on" if begun else "Work them out")
        self.note.set_text(self._note())

    def _note(self) -> str:
        if self._stale() and not self.wait.isActive() and not self.jobs.busy:
            return "Out of date: the aim or the sentence has changed since."
        if self.results is None:
            return ""
        if self.jobs.busy and (left := self._pace.says(self.results)):
            return left
        shown, count = self.table.rows.rowCount(), self.results.asked.count
        some = f"{count_text(shown)} of {count_text(count)} rows. " if shown < count else ""
        own = self.table.rows.place_of_own() is not None
        if not self.cross.isHidden():
            some = self.cross.says()
        return f"{some}{'The marked one is the study as planned.' if own else ''}"

    def _current_row(self) -> int | None:
        return (self.table if self.cross.isHidden() else self.cross).current_row()

    def _lay_out(self) -> None:
        aim = self.session.aim
        if aim is not None:
            self._do(edits.lay_out, not aim.grid.cross)

    def _values_of(self, row: int) -> dict[str, float]:
        assert self.results is not None
        return self.results.asked.row(row)

    def _keep_row(self) -> None:
        row = self._current_row()
        if row is not None and self.results is not None:
            name = ", ".join(
                f"{column.label} {column.text(row)}"
                for column in self.table.rows.columns
                if column.name in self._values_of(row)
            ).replace("\u00a0", " ")
            self._do(keep_values, self._values_of(row), self.results.asked.find, name)

    def _take_row(self) -> None:
        row = self._current_row()
        if row is not None and self.results is not None:
            self._do(take_values, self._values_of(row), self.results.asked.find)
            self.bench_wanted.emit()

    def _edit_condition(self, text: str) -> Edit:
        return edits.type_condition(self.session.study, self.session.aim_id, text)

    def say_of_file(self, message: str) -> None:
        """Why a file cannot be read; it stands there until another is, or another aim comes into view."""
        self._fault_of = self.session.aim_id
        self.file_fault.setText(message)
        self.file_fault.show()

    def _do(self, edit: Callable[..., Edit], *what: object) -> None:
        self.session.do(edit(self.session.study, self.session.aim_id, *what))
