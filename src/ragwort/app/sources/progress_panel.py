"""How far along we are: what each group needs, has, and still needs; typed, or counted in a file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)
from typing_extensions import override

from ragwort.app.kit.jobs import Ticket
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, Elided, discard, hairline, label
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.app.sources.datafile import DataFile, source_of
from ragwort.app.sources.file_columns import Conditions
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.designs import Answer
from ragwort.pilot import Data, Filter, PilotError, count_groups, filtered, group_columns, likely_groups, matched
from ragwort.study import edits
from ragwort.study.document.history import Edit
from ragwort.study.document.pages import SoFar
from ragwort.study.results.progress import PEEKING, Progress, progress_of
from ragwort.study.words.numbers import count_text

NOBODY = "none of them"


@dataclass(frozen=True)
class Counted:
    """What a look at the file gave."""

    groups: dict[str, int]
    offered: dict[str, tuple[str, ...]]
    fault: str = ""


class ProgressPanel(SidePanel):
    """Opened from the ledger over the picture."""

    key = "progress"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "progress", "How far along are we?")
        self.editors: list[QLineEdit] = []
        self.boxes: list[Box] = []
        self._aim_id = ""
        self._names: tuple[str, ...] = ()  # whose groups are in the table
        self._groups: dict[str, int] = {}
        self._of_file = ""  # what is wrong with the file
        self.figures: list[tuple[QLabel, QLabel, QProgressBar]] = []
        self._in_file = label("", "quiet")
        self.column.addWidget(scrolled(self._body()), 1)
        session.changed.connect(self.refresh)

    def _body(self) -> QWidget:
        body = QWidget()
        column = self._inner = QVBoxLayout(body)
        column.setContentsMargins(0, 0, self.theme.px(8), 0)
        column.setSpacing(self.theme.px(10))
        self._table = QWidget()
        column.addWidget(self._table)
        self.fault, self.says, peeking = label("", "fault"), label("", "strong"), label(PEEKING, "quiet")
        for line in (self.fault, self.says, peeking):
            line.setWordWrap(True)
            column.addWidget(line)
        self.fault.hide()
        self.source = Elided("", "quiet")
        column.addWidget(self.source)
        column.addWidget(hairline())
        self.file = DataFile(self.theme, "Count them in a file…")
        self.file.opened.connect(self._opened)
        self.file.failed.connect(self._say_of_file)
        self.file.started.connect(lambda: self._say_of_file(""))
        column.addWidget(self.file)
        self._choices = QWidget()
        inner = QVBoxLayout(self._choices)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(self.theme.px(6))
        row = QHBoxLayout()
        self._group_label = label("Groups in", "quiet")
        self.group = Box(self.theme, "Column of the groups")
        self.group.activated.connect(lambda _: self._count())
        row.addWidget(self._group_label)
        row.addWidget(self.group)
        row.addStretch(1)
        inner.addLayout(row)
        self.conditions = Conditions(self.theme)
        self.conditions.changed.connect(self._count)
        inner.addWidget(self.conditions)
        self._choices.hide()
        column.addWidget(self._choices)
        column.addStretch(1)
        return body

    def open(self) -> None:
        """Show the aim in view."""
        self._show_aim()
        if self.editors:
            self.editors[0].setFocus()

    def showEvent(self, event: QShowEvent) -> None:
        self._show_aim()

    @override
    def finish(self) -> None:
        self.file.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.file.jobs.busy or self.conditions.pause.isActive()

    # --- the table ---

    def _answer(self) -> Answer | None:
        aim = self.session.aim
        outcome = self.session.outcome(aim) if aim is not None else None
        return outcome if isinstance(outcome, Answer) else None

    def refresh(self) -> None:
        """Follow the session while the panel is in view."""
        if self.isVisible():
            self._show_aim()

    def _show_aim(self) -> None:
        """What is needed and what is there, where there is an answer; what is being typed is left alone."""
        aim, answer = self.session.aim, self._answer()
        self._table.setVisible(answer is not None)
        self.file.setVisible(answer is not None)
        self._choices.setVisible(answer is not None and self.file.data is not None)
        self.source.setVisible(answer is not None and bool(self.source.whole()))
        if aim is None or answer is None:
            self._say_fault("")
            self.says.setText("There is no answer: once the sample size is known, its groups stand here.")
            return
        progress = progress_of(aim, answer)
        names = tuple(stage.name for stage in progress.stages)
        if (aim.id, names) != (self._aim_id, self._names):
            self._aim_id, self._names = aim.id, names
            self.forget_file()
            self._build()
        self._show(progress, aim.so_far or SoFar())
        self.says.setText("\n".join(progress.says))
        source = aim.so_far.source if aim.so_far is not None else ""
        self.source.set_text(f"counted in {source}" if source else "")
        self.source.setVisible(bool(source))

    def forget_file(self) -> None:
        """A file is counted for the aim for which it was opened: another aim's counts change by its own file only."""
        self.file.forget()
        for widget in (self._choices, self._in_file, *self.boxes):
            widget.hide()
        self._groups = {}
        self._say_of_file("")

    def _build(self) -> None:
        old = self._table
        self._table = QWidget()
        grid = QGridLayout(self._table)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(self.theme.px(12))
        grid.setVerticalSpacing(self.theme.px(6))
        for at, head in enumerate(("", "needed", "so far", "still needed")):
            grid.addWidget(_right(head, "quiet"), 0, at)
        self._in_file = label("in the file", "quiet")
        self._in_file.hide()
        grid.addWidget(self._in_file, 0, 5)
        self.editors, self.boxes, self.figures = [], [], []
        for group, name in enumerate(self._names):
            self._add_row(grid, group, name)
        grid.setColumnStretch(4, 1)
        self._inner.replaceWidget(old, self._table)
        discard(old)

    def _add_row(self, grid: QGridLayout, group: int, name: str) -> None:
        title = Elided(name)
        title.setMinimumWidth(self.theme.px(84))
        title.setMaximumWidth(self.theme.px(170))
        editor = QLineEdit()
        editor.setFixedWidth(self.theme.px(72))
        editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        editor.setAccessibleName(f"{name} so far")
        make_live(editor, self.session, lambda text: self._typed(group, text))
        bar = QProgressBar()
        bar.setRange(0, 1000)
        bar.setTextVisible(False)
        bar.setFixedHeight(self.theme.px(6))
        bar.setMinimumWidth(self.theme.px(24))
        bar.setAccessibleName(f"{name}: how much of what is needed is there")
        box = Box(self.theme, f"{name} in the file")
        box.activated.connect(lambda _: self._take())
        box.hide()
        needed, more = _right(), _right()
        for at, widget in enumerate((title, needed, editor, more, bar, box)):
            grid.addWidget(widget, group + 1, at)
        self.editors.append(editor)
        self.boxes.append(box)
        self.figures.append((needed, more, bar))

    def _show(self, progress: Progress, so_far: SoFar) -> None:
        self._say_fault(so_far.first_fault or self._of_file)
        shown = zip(progress.stages, self.editors, self.figures, strict=True)
        for group, (stage, editor, (needed, more, bar)) in enumerate(shown):
            needed.setText(count_text(stage.needed))
            more.setText(count_text(stage.more) if stage.more else "enough")
            bar.setValue(round(1000 * stage.share))
            show_in(editor, so_far.draft_of(f"{group}") or (str(stage.so_far) if stage.so_far else ""))

    def _typed(self, group: int, text: str) -> Edit:
        self._of_file = ""
        return edits.type_so_far(self.session.study, self.session.aim_id, group, text)

    def _say_of_file(self, message: str) -> None:
        self._of_file = message
        self._say_fault(message)

    def _say_fault(self, message: str) -> None:
        self.fault.setText(message)
        self.fault.setVisible(bool(message))

    # --- counting in a file ---

    def _opened(self, data: Data) -> None:
        self.group.clear()
        self.group.addItems([column.name for column in group_columns(data)])
        self.group.setCurrentText(likely_groups(data, self._names))
        for widget in (self._group_label, self.group):
            widget.setVisible(len(self._names) > 1)
        self.conditions.reset(data.columns)
        self._choices.show()
        self._count()

    def _count(self) -> None:
        data = self.file.data
        if data is None:
            return
        column, filters = (self.group.currentText() if len(self.editors) > 1 else ""), self.conditions.filters()
        self.file.jobs.start(lambda ticket: _counted(ticket, data, column, filters), self._seen, self.file.fail)

    def _seen(self, counted: Counted) -> None:
        data = self.file.data
        self._say_of_file(counted.fault)
        self.conditions.offer(counted.offered)
        if data is None:
            return
        self.file.state.set_text(f"{data.table.name}: {count_text(data.table.rows)} rows")
        if counted.fault:
            return
        again = counted.groups.keys() == self._groups.keys()
        self._groups = counted.groups
        several = len(self.boxes) > 1
        for box, name in zip(self.boxes, matched(self._names, self._groups), strict=True):
            if not (again and box.count()):
                box.clear()
                box.addItems([NOBODY, *self._groups])
                box.setCurrentText(name or NOBODY)
            box.setVisible(several)
        self._in_file.setVisible(several)
        self._take()

    def _take(self) -> None:
        data = self.file.data
        if data is None:
            return
        if len(self.boxes) > 1:
            counts = tuple(self._groups.get(box.currentText(), 0) for box in self.boxes)
            said = f"by {self.group.currentText()}"
        else:
            counts, said = (sum(self._groups.values()),), "all rows"
        source = source_of(data.table, said, self.conditions.filters())
        for editor in self.editors:
            editor.setModified(False)
        aim = self.session.aim
        if aim is not None and (aim.so_far is None or (aim.so_far.counts, aim.so_far.source) != (counts, source)):
            self.session.do(edits.set_so_far(self.session.study, self.session.aim_id, counts, source))


def _counted(ticket: Ticket, data: Data, column: str, filters: Sequence[Filter]) -> Counted:
    ticket.check()
    offered = {each.column: data.codes(each.column)[1][:500] for each in filters}
    try:
        rows = filtered(data, filters)
        return Counted(count_groups(rows, column) if column else {"": rows.count}, offered)
    except PilotError as error:
        return Counted({}, offered, str(error))


def _right(text: str = "", name: str = "") -> QLabel:
    made = label(text, name)
    made.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
    return made
