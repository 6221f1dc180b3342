"""A pilot file in the evidence panel: its columns, which of them mean what, its groups. Read off this thread.

It names no design: what is asked for are the roles of a reading (`pilot.READINGS`), which a route names.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.jobs import Ticket
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, discard, label, link
from ragwort.app.sources.datafile import DataFile, fingerprint, source_of
from ragwort.app.sources.file_columns import Conditions, Roles
from ragwort.app.sources.file_groups import Groups
from ragwort.designs.evidence import Route
from ragwort.designs.refusals import plain_number
from ragwort.pilot import READINGS, Data, Filter, Numbers, PilotError, Reading, Table, Unsure, filtered, guessed
from ragwort.study.words.numbers import count_text

PREVIEW_ROWS = 2
PREVIEW_COLUMNS = 60
MOST_OFFERED = 500  # different values that a condition offers to complete
ASKS = (
    "Open the data of a pilot or an earlier study: a CSV, TSV, XLSX or ODS file whose first row names the columns. "
    "Only what is worked out from it goes into the study, with the file's name and its fingerprint."
)


@dataclass(frozen=True)
class Read:
    """What came of one look at the file."""

    kept: int
    choices: dict[str, Any]
    values: dict[str, tuple[str, ...]]  # by role: which can be chosen
    offered: dict[str, tuple[str, ...]]  # by column of a condition
    found: Numbers | None
    fault: str = ""
    unsure: Unsure | None = None  # what has to be asked first


class PilotPage(QWidget):
    """`found` carries the route, what its reading found and where from; `lost` that there is nothing (now)."""

    found = Signal(object, object, str)
    lost = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.last: Read | None = None
        self.ways: list[tuple[Route, Reading]] = []
        self._names: dict[str, Any] = {}
        self._used: tuple[str, ...] = ()  # the files that values in use came from, as their sources name them
        self.file = DataFile(theme)  # for the panel to place
        self.file.started.connect(self._reading)
        self.file.opened.connect(self._opened)
        self.file.failed.connect(self._failed)
        self.file.settled.connect(self._say_what_is_open)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, theme.px(8), 0)
        column.setSpacing(theme.px(8))
        self.fault = label("", "fault")
        self.fault.setWordWrap(True)
        self.fault.hide()
        self.asks = label(ASKS, "quiet")
        self.asks.setWordWrap(True)
        column.addWidget(self.asks)
        self.try_demo = link("or try it with the demo's pilot of 60 nights", self.file.read_demo, "smallLink")
        column.addWidget(self.try_demo, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.fault)
        self.question = QWidget()
        self._answers = QHBoxLayout(self.question)
        self._answers.setContentsMargins(0, 0, 0, 0)
        self._answers.setSpacing(theme.px(14))
        self.question.hide()
        column.addWidget(self.question)
        self.body = QWidget()
        self._fill_body()
        self.body.hide()
        column.addWidget(self.body)
        column.addStretch(1)

    def _fill_body(self) -> None:
        column = QVBoxLayout(self.body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(8))
        self.preview = QTableWidget()
        self.preview.setObjectName("firstRows")
        self.preview.setAccessibleName("First rows of the file")
        self.preview.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.preview.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.preview.setFrameShape(QFrame.Shape.NoFrame)
        self.preview.setShowGrid(False)
        self.preview.verticalHeader().hide()
        self.preview.verticalHeader().setDefaultSectionSize(self.theme.px(21))
        self.preview.verticalHeader().setMinimumSectionSize(self.theme.px(21))
        self.preview.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(self.preview)
        self.way = Box(self.theme, "How the file is read")
        self.way.activated.connect(lambda _: self.show_way())
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(8))
        self._way_label = label("Take from it", "quiet")
        row.addWidget(self._way_label)
        row.addWidget(self.way, 1)
        column.addLayout(row)
        self.roles = Roles(self.theme)
        self.roles.chosen.connect(self.refresh)
        column.addWidget(self.roles)
        self.conditions = Conditions(self.theme)
        self.conditions.changed.connect(self.refresh)
        column.addWidget(self.conditions)
        self.rest = QVBoxLayout()  # for what the file cannot say: a reference, the question
        column.addLayout(self.rest)
        self.groups = Groups(self.theme)
        column.addWidget(self.groups)

    # --- the file ---

    def offer(self, routes: Sequence[Route], groups: Sequence[str] = (), used: Sequence[str] = ()) -> None:
        """Which readings there are for the design in view, what its groups are called, which files it used before."""
        self._used = tuple(used)
        if not self.file.jobs.busy:
            self._forget_other_files()
        self._names = dict(zip(("first", "second"), groups, strict=False))
        ways = [(route, READINGS[name]) for route in routes for name in route.readings]
        if ways == self.ways:
            return  # as it was left
        self.ways = ways
        self.way.clear()
        self.way.addItems([_way_text(route, reading) for route, reading in self.ways])
        for widget in (self.way, self._way_label):
            widget.setVisible(len(self.ways) > 1)
        if self.data is not None:
            self.show_way()

    def _forget_other_files(self) -> None:
        """Say no more of a file that could not be read: whoever opens the panel anew has not asked for it."""
        fault = self.last.fault if self.last is not None else ""
        self.fault.setText(fault)
        self.fault.setVisible(bool(fault))
        self._say_what_is_open()

    @property
    def data(self) -> Data | None:
        """What is open."""
        return self.file.data

    def _reading(self) -> None:
        self.fault.hide()
        self.question.hide()
        self.lost.emit()

    def _say_what_is_open(self) -> None:
        table = self.data.table if self.data is not None else None
        if table is None:
            self.file.state.set_text("")
            return
        kept = self.last.kept if self.last is not None else table.rows
        rows = f"{count_text(table.rows)} rows"
        if kept < table.rows:
            rows = f"{count_text(kept)} of {rows}"
        left_out = self.last.found.left_out if self.last is not None and self.last.found is not None else 0
        missing = f", {count_text(left_out)} left out ({self.last.found.why})" if left_out else ""
        self.file.state.set_text(f"{self._changed(table)}{table.name}: {rows}{missing}")

    def _changed(self, table: Table) -> str:
        """Whether the file that values in use came from has other contents now."""
        before = [used for used in self._used if used.startswith(f"{table.name}, ")]
        same = any(fingerprint(table) in used for used in before)
        return "" if same or not before else "Changed since its numbers were taken. "

    def _failed(self, message: str) -> None:
        """Why a file cannot be read; the one that is open stays, with what was found in it."""
        self.question.hide()
        self.fault.setText(message)
        self.fault.show()
        if self.last is not None:
            self._say_what_is_open()
            self.tell()
        else:
            self.lost.emit()

    def _opened(self, data: Data) -> None:
        self.last = None
        self.asks.hide()
        self.try_demo.hide()
        self._show_preview(data)
        self.conditions.reset(data.columns)
        self.body.show()
        self.show_way()

    def _show_preview(self, data: Data) -> None:
        columns = data.columns[:PREVIEW_COLUMNS]
        self.preview.clear()
        self.preview.setColumnCount(len(columns))
        rows = min(PREVIEW_ROWS, data.table.rows)
        self.preview.setRowCount(rows)
        self.preview.setHorizontalHeaderLabels([f"{column.name[:40]}\n{column.says}" for column in columns])
        self.preview.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        for at, column in enumerate(columns):
            for row in range(rows):
                item = QTableWidgetItem(data.table.columns[column.name][row][:60])
                self.preview.setItem(row, at, item)
        header = self.preview.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setMaximumSectionSize(self.theme.px(190))
        header.setStretchLastSection(True)
        bar = self.theme.px(12) if len(columns) > 5 else 0
        self.preview.setFixedHeight(header.sizeHint().height() + rows * self.theme.px(21) + bar + 2)

    # --- what is read out of it ---

    def show_way(self) -> None:
        if self.data is not None and self.ways:
            self.roles.ask(self.ways[self.way.currentIndex()][1].roles, self.data.columns)
            self.look(dict(self._names))

    def refresh(self) -> None:
        """Read again what is chosen now."""
        self.look(self.roles.choices())

    def look(self, made: dict[str, Any]) -> None:
        data = self.data
        if data is None or not self.ways:  # a condition typed just before another design came into view
            return
        way, filters = self.ways[self.way.currentIndex()], self.conditions.filters()
        self.file.jobs.start(
            lambda ticket: _read(ticket, data, way[1], made, filters),
            lambda read: self.take_read(way, read, filters),
            self.file.fail,
        )

    def tell(self) -> None:
        """Say again what was found; a look under way will say so itself."""
        if self.last is not None and not self.file.jobs.busy:
            self._tell(self.ways[self.way.currentIndex()], self.last, self.conditions.filters())

    def take_read(self, way: tuple[Route, Reading], read: Read, filters: tuple[Filter, ...]) -> None:
        self.last = read
        if read.choices:
            self.roles.show_choices(read.choices, read.values)
        self.conditions.offer(read.offered)
        self.fault.setText(read.fault)
        self.fault.setVisible(bool(read.fault))
        self._ask(read.unsure)
        self._say_what_is_open()
        self.groups.show_parts(read.found.parts if read.found is not None else ())
        self.groups.setVisible(read.found is not None)
        self._tell(way, read, filters)

    def _ask(self, unsure: Unsure | None) -> None:
        """How a number is meant that can be read in two ways: a link for each."""
        while self._answers.count():
            old = self._answers.takeAt(0).widget()
            if old is not None:
                discard(old)
        for signs, number in unsure.readings if unsure is not None else ():
            words = f"{unsure.example} is {plain_number(number)}"
            self._answers.addWidget(link(words, lambda signs=signs: self._settle(signs.decimal), "smallLink"))
        self._answers.addStretch(1)
        self.question.setVisible(unsure is not None)

    def _settle(self, decimal: str) -> None:
        if self.data is not None:
            self.data.settle(decimal)
            self._show_preview(self.data)
            self.refresh()

    def _tell(self, way: tuple[Route, Reading], read: Read, filters: tuple[Filter, ...]) -> None:
        if read.found is None or self.data is None:
            self.lost.emit()
            return
        self.found.emit(way[0], read.found, source_of(self.data.table, read.found.said, filters))


def _asks(error: PilotError) -> Unsure | None:
    return error if isinstance(error, Unsure) else None


def _way_text(route: Route, reading: Reading) -> str:
    return f"{route.label}: {reading.label}" if len(route.readings) > 1 else route.label


def _read(ticket: Ticket, data: Data, reading: Reading, made: dict[str, Any], filters: Sequence[Filter]) -> Read:
    """One look at the file; a fault of the data is part of what is seen, so that it can be mended where it stands."""
    ticket.check()
    offered = {each.column: data.codes(each.column)[1][:MOST_OFFERED] for each in filters}
    try:
        rows = filtered(data, filters)
    except PilotError as error:
        return Read(0, {}, {}, offered, None, str(error), _asks(error))
    choices = {**made, **guessed(reading, rows, made)}
    values = {
        role.name: rows.codes(choices[role.of])[1][:MOST_OFFERED]
        for role in reading.roles
        if role.kind == "value" and choices.get(role.of)
    }
    ticket.check()
    try:
        found = reading.read(rows, choices)
    except PilotError as error:
        return Read(rows.count, choices, values, offered, None, str(error), _asks(error))
    return Read(rows.count, choices, values, offered, found)
