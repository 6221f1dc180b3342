"""The strip of the evidence panel that takes numbers from a pilot file: file, outcome, groups; read off this thread."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from ragwort.app import asking
from ragwort.app.jobs import Jobs, Ticket
from ragwort.app.parts import label, link
from ragwort.app.theme import Theme
from ragwort.pilot import PilotError, Summary, Table, read_table, summarise


class PilotStrip(QWidget):
    """`found` carries the summary and what it was made from, in words."""

    found = Signal(object, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.table: Table | None = None
        self.summary: Summary | None = None
        self.jobs = Jobs(self)
        self.jobs.progressed.connect(lambda share: self.state.setText(f"Reading … {100 * share:.0f} %"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(4))
        row = QHBoxLayout()
        self.open_link = link("From a pilot file…", self.ask)
        row.addWidget(self.open_link)
        self.stop = link("Stop", self._stop, "smallLink")
        self.stop.hide()
        self.jobs.busy_changed.connect(self.stop.setVisible)
        row.addWidget(self.stop)
        row.addStretch(1)
        column.addLayout(row)
        self.state = label("", "quiet")
        self.state.setWordWrap(True)
        column.addWidget(self.state)
        self._choices = QWidget()
        grid = QGridLayout(self._choices)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(3, 1)
        self.outcome, self.group, self.first, self.second = (QComboBox() for _ in range(4))
        boxes = (
            ("Outcome", self.outcome),
            ("Groups in", self.group),
            ("Group 1", self.first),
            ("Group 2", self.second),
        )
        for at, (name, box) in enumerate(boxes):
            grid.addWidget(label(name, "quiet"), at // 2, at % 2 * 2)
            grid.addWidget(box, at // 2, at % 2 * 2 + 1)
            box.setMinimumContentsLength(6)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setAccessibleName(f"{name} of the pilot file")
        self.outcome.activated.connect(lambda _: self._summarise())
        self.group.activated.connect(lambda _: self._summarise())
        self.first.activated.connect(lambda _: self._fill())
        self.second.activated.connect(lambda _: self._fill())
        self._choices.hide()
        column.addWidget(self._choices)

    def ask(self) -> None:
        """Ask for a file and read it."""
        path = asking.pilot_to_open(self, Path.home())
        if path is not None:
            self.read(path)

    def read(self, path: Path) -> None:
        """Read a file off this thread."""
        self._choices.hide()
        self.table = self.summary = None
        self.jobs.start(lambda ticket: read_table(path, ticket.progress), self._opened, self._failed)

    def finish(self) -> None:
        """Wait until no thread works any more: for closing the window."""
        self.jobs.finish()

    def _stop(self) -> None:
        self.jobs.cancel()
        self.state.setText("Stopped.")

    def _failed(self, error: Exception) -> None:
        if not isinstance(error, PilotError):
            self.state.setText("The file could not be read.")
            raise error
        self.summary = None
        self.state.setText(str(error))

    def _opened(self, table: Table) -> None:
        self.table = table
        names = list(table.columns)
        self.outcome.clear()
        self.outcome.addItems(names)
        self.group.clear()
        self.group.addItems(names)
        self.outcome.setCurrentText(_likely_outcome(table))
        self.group.setCurrentText(_likely_group(table, self.outcome.currentText()))
        self._choices.show()
        self._summarise()

    def _summarise(self) -> None:
        table, outcome, group = self.table, self.outcome.currentText(), self.group.currentText()
        if table is None:
            return

        def work(ticket: Ticket) -> Summary:
            ticket.check()
            return summarise(table, outcome, group)

        self.jobs.start(work, self._summarised, self._failed)

    def _summarised(self, summary: Summary) -> None:
        self.summary = summary
        names = [each.name for each in summary.groups]
        for box, at in ((self.first, 0), (self.second, 1)):
            box.clear()
            box.addItems(names)
            box.setCurrentIndex(min(at, len(names) - 1))
        self._fill()

    def _fill(self) -> None:
        if self.summary is None or self.table is None:
            return
        groups = {each.name: each for each in self.summary.groups}
        one, two = groups[self.first.currentText()], groups[self.second.currentText()]
        if one is two:
            self.state.setText(f"{self.group.currentText()} has only one group here: choose a column with two or more.")
            return
        missing = one.missing + two.missing
        self.state.setText(
            f"{self.table.name}: {self.table.rows} rows; {one.n} in {one.name}, {two.n} in {two.name}, "
            f"{missing} missing."
        )
        said = (
            f"{self.table.name}, {self.summary.outcome} by {self.group.currentText()}, SHA-256 {self.table.digest[:12]}"
        )
        self.found.emit((one, two), said)


def _likely_outcome(table: Table) -> str:
    """The column of numbers with the most different values: a guess that the user can change."""
    seen = {name: {text for text in texts[:500] if text} for name, texts in table.columns.items()}
    numeric = [name for name, values in seen.items() if values and all(_is_number(text) for text in values)]
    measured = [name for name in numeric if not _is_running_number(table.columns[name])]
    return max(measured or numeric or list(seen), key=lambda name: len(seen[name]))


def _is_running_number(texts: list[str]) -> bool:
    """Whether a column only counts the rows."""
    if len(texts) < 3 or not texts[0].isdigit():
        return False
    return texts == [str(int(texts[0]) + at) for at in range(len(texts))]


def _likely_group(table: Table, outcome: str) -> str:
    """Another column with the fewest different values, two or more where there are."""
    others = [name for name in table.columns if name != outcome] or [outcome]
    counts = {name: len({text for text in table.columns[name] if text}) for name in others}
    return min(others, key=lambda name: (counts[name] < 2, counts[name]))


def _is_number(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True
