"""What is reported of each group of a study under way: a row a number, a column a group."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, Wrapped, label, restyle
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.results.progress import stage_names
from ragwort.study.words.numbers import number_text

_ROWS = ("mean", "sd", "yes", "events", "n")


class Summaries(QWidget):
    """The editors are `editors["mean1"]` and so on."""

    def __init__(self, theme: Theme, session: Session, label_width: int, width: int) -> None:
        super().__init__()
        self._session, self._groups = session, 2
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(theme.px(10))
        grid.setVerticalSpacing(theme.px(4))
        grid.setColumnMinimumWidth(0, theme.px(label_width))
        grid.setColumnStretch(3, 1)
        self.of = Wrapped(name="quiet")
        grid.addWidget(self.of, 0, 0)
        self.heads = {group: Elided("", "quiet") for group in (1, 2)}
        for group, head in self.heads.items():
            head.setMaximumWidth(theme.px(width + 40))
            grid.addWidget(head, 0, group)
        self._labels = {name: label(edits.SUMMARIES[f"{name}1"].asked.label) for name in _ROWS}
        self.editors: dict[str, QLineEdit] = {}
        for row, name in enumerate(_ROWS, start=1):
            grid.addWidget(self._labels[name], row, 0)
            for group in (1, 2):
                editor = self.editors[f"{name}{group}"] = QLineEdit()
                editor.setFixedWidth(theme.px(width))
                editor.setAlignment(Qt.AlignmentFlag.AlignRight)
                make_live(editor, session, partial(self._typed, f"{name}{group}"))
                grid.addWidget(editor, row, group, Qt.AlignmentFlag.AlignLeft)

    def _typed(self, place: str, text: str) -> Edit:
        return edits.type_summary(self._session.study, self._session.aim_id, self._groups, place, text)

    def show_for(self, aim: Aim, answer: Answer) -> None:
        """The numbers that the planned test is made on, of each group of the answer."""
        reported = answer.plan.reported
        names = stage_names(aim, answer)
        self._groups = len(names)
        rows = reported.names if reported is not None else ()
        self.of.set_text(f"Of the {reported.of}" if reported is not None and reported.of else "")
        for group, head in self.heads.items():
            head.set_text(names[group - 1] if group <= len(names) else "")
        for name in _ROWS:
            self._labels[name].setVisible(name in rows)
            for group in (1, 2):
                self._show(aim, name, group, shown=name in rows and group <= len(names))

    def _show(self, aim: Aim, name: str, group: int, *, shown: bool) -> None:
        place, interim = f"{name}{group}", aim.interim
        editor = self.editors[place]
        editor.setVisible(shown)
        editor.setAccessibleName(f"{self._labels[name].text()}, {self.heads[group].whole() or 'group ' + str(group)}")
        value = interim.summary.get(place)
        show_in(editor, interim.draft_of(place) or ("" if value is None else number_text(value)))
        restyle(editor, fault=interim.faulty(place))
