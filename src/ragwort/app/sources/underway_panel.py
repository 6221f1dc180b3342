"""Under way: what an interim analysis says, planned or not, and what sizes follow from what unblinds nobody."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Box, Wrapped, hairline, label, restyle
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.app.sources.half_way_file import HalfWayFile
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.app.sources.summaries import Summaries
from ragwort.designs import Answer, RequestError, design_named
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.document.history import Edit
from ragwort.study.document.pages import Interim
from ragwort.study.results.interim_file import takes_files
from ragwort.study.results.underway import (
    BLINDED,
    UNBLINDS,
    interim_result,
    reestimate,
    said_of,
    whole_of,
)
from ragwort.study.words.looks import LookWords
from ragwort.study.words.numbers import count_text, number_text

_LABEL = 130  # px of what is asked for
_WIDE = 84  # px of what is typed
_OF_ALL = {"blinded": "What is seen of all together", "beside": "What is seen of all together besides"}
_DIRECTION = ("in the planned direction", "in the other direction")


class UnderwayPanel(SidePanel):
    """Opened from the interim analyses over the picture."""

    key = "underway"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "underway", "Under way: what do we see?")
        self.editors: dict[str, QLineEdit] = {}
        self._file_fault, self._aim_id = "", ""
        self._labels: dict[str, Wrapped] = {}
        self.column.addWidget(scrolled(self._body()), 1)
        session.changed.connect(self._follow)

    def _body(self) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, self.theme.px(8), 0)
        column.setSpacing(self.theme.px(8))
        self._asked = [label("THE COMPARISON SO FAR", "heading"), self._seen()]
        self.summaries = Summaries(self.theme, self.session, _LABEL, _WIDE)
        for each in (*self._asked, self.summaries):
            column.addWidget(each)
        self.file = HalfWayFile(self.theme)
        self.file.found.connect(lambda changes: self._change(**changes))
        self.file.failed.connect(self._of_file)
        column.addWidget(self.file)
        self.fault, self.says, self.unblinds = Wrapped(name="fault"), Wrapped(), Wrapped(UNBLINDS, "quiet")
        for each in (self.fault, self.says, self.unblinds):
            column.addWidget(each)
        self.again, self.never = Wrapped(name="strong"), Wrapped(BLINDED, "quiet")
        below = [hairline(), label("SIZES AGAIN, WITHOUT UNBLINDING", "heading"), self._blinded()]
        for each in (*below, self.again, self.never):
            column.addWidget(each)
        self._below = [*below, self.never]
        column.addStretch(1)
        return body

    def _seen(self) -> QWidget:
        body = QWidget()
        self.grid = grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(self.theme.px(10))
        grid.setVerticalSpacing(self.theme.px(4))
        grid.setColumnStretch(3, 1)
        grid.setColumnMinimumWidth(0, self.theme.px(_LABEL))
        self._ask(grid, 0, "now", "Have come so far")
        self._ask(grid, 1, "before", "At looks before")
        self.seen_as = Box(self.theme, "What is seen is stated as", list(edits.SEEN_AS.values()))
        self.seen_as.widen()
        self.seen_as.activated.connect(self._choose_way)
        grid.addWidget(label("Stated as"), 2, 0)
        grid.addWidget(self.seen_as, 2, 1, 1, 3, Qt.AlignmentFlag.AlignLeft)
        for row, (place, words) in enumerate((("z", "z"), ("p", "p"), ("estimate", "Estimate")), start=3):
            self._ask(grid, row, place, words)
        self._ask(grid, 6, "error", "Standard error")
        self.direction = Box(self.theme, "Direction of the difference so far", list(_DIRECTION))
        self.direction.widen()
        self.direction.activated.connect(lambda at: self._change(toward=at == 0))
        grid.addWidget(self.direction, 4, 2, 1, 2, Qt.AlignmentFlag.AlignLeft)
        return body

    def _blinded(self) -> QWidget:
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(self.theme.px(10))
        grid.setColumnStretch(3, 1)
        grid.setColumnMinimumWidth(0, self.theme.px(_LABEL))
        self._ask(grid, 0, "blinded", "")
        self._ask(grid, 1, "of", "Of how many")
        self._ask(grid, 3, "beside", "")
        self.adjusted = QCheckBox()
        self.adjusted.toggled.connect(self._adjust)
        grid.addWidget(self.adjusted, 2, 0, 1, 4)
        return body

    def _ask(self, grid: QGridLayout, row: int, place: str, words: str) -> None:
        named = Wrapped(words)
        named.setMaximumWidth(self.theme.px(190))
        editor = QLineEdit()
        editor.setFixedWidth(self.theme.px(_WIDE))
        editor.setAlignment(Qt.AlignmentFlag.AlignRight)
        editor.setAccessibleName(words or _OF_ALL[place])
        make_live(editor, self.session, partial(self._typed, place))
        unit = label("", "quiet")
        for at, widget in enumerate((named, editor, unit)):
            grid.addWidget(widget, row, at)
        self.editors[place], self._labels[place] = editor, named
        editor.setProperty("unit", unit)

    @override
    def finish(self) -> None:
        self.file.file.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.file.busy

    def _of_file(self, message: str) -> None:
        self._file_fault = message
        self._say(self.says.text(), message)

    # --- showing ---

    def open(self) -> None:
        """Show the aim in view."""
        self.refresh()
        self.editors["now"].setFocus()

    def _follow(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show what has changed."""
        aim = self.session.aim
        outcome = self.session.outcome(aim) if aim is not None else None
        there = aim is not None and isinstance(outcome, Answer)
        blinded = aim is not None and design_named(aim.design).blinded is not None
        for each in self._asked:
            each.setVisible(there)
        for each in self._below:
            each.setVisible(there and blinded)
        self.file.setVisible(there and isinstance(outcome, Answer) and takes_files(outcome))
        self.summaries.setVisible(there and aim is not None and aim.interim.seen_as == "summaries")
        if aim is None or not isinstance(outcome, Answer):
            self.again.hide()
            self._say("There is no answer: once the sample size is known, what is seen can be held against it.", "")
            return
        if aim.id != self._aim_id:
            self._aim_id, self._file_fault = aim.id, ""
        self.file.show_for(aim, outcome)
        self._show_fields(aim, outcome)
        self._show_result(aim, outcome)
        self._show_sizes(aim, outcome)

    def _show_fields(self, aim: Aim, answer: Answer) -> None:
        interim, words = aim.interim, LookWords(aim, answer)
        for place, editor in self.editors.items():
            shown = interim.draft_of(place) or _text(interim, place)
            show_in(editor, shown)
            restyle(editor, fault=interim.faulty(place))
        whole = f"of {count_text(round(whole_of(answer)))} {words.counted_in}"
        self.editors["now"].property("unit").setText(whole)
        self.editors["before"].property("unit").setText("if any, in order: 40 80")
        self.editors["estimate"].property("unit").setText(f"{words.effect_name} {words.unit}".strip())
        self.seen_as.setCurrentIndex(list(edits.SEEN_AS).index(interim.seen_as))
        summed = answer.plan.reported is not None or interim.seen_as == "summaries"
        self.seen_as.offer(list(edits.SEEN_AS).index("summaries"), summed)
        self.summaries.show_for(aim, answer)
        self.direction.setCurrentIndex(0 if interim.toward else 1)
        shown_places = {"z": ("z",), "p": ("p",), "estimate": ("estimate", "error")}.get(interim.seen_as, ())
        for place in ("z", "p", "estimate", "error"):
            for widget in (self._labels[place], self.editors[place], self.editors[place].property("unit")):
                widget.setVisible(place in shown_places)
        self.direction.setVisible(interim.seen_as == "p" and answer.plan.sides == "two")

    def _show_result(self, aim: Aim, answer: Answer) -> None:
        try:
            found = interim_result(aim, answer)
        except RequestError as error:
            self._say("", aim.interim.first_fault or error.message)
            return
        fault = aim.interim.first_fault or self._file_fault
        self._say("" if found is None else "\n\n".join(said_of(aim, answer, found)), fault)

    def _say(self, words: str, fault: str) -> None:
        self.says.set_text(words)
        self.says.setVisible(bool(words))
        self.unblinds.setVisible(bool(words))
        self.fault.set_text(fault)
        self.fault.setVisible(bool(fault))

    def _show_sizes(self, aim: Aim, answer: Answer) -> None:
        blinded = design_named(aim.design).blinded
        self.adjusted.setVisible(blinded is not None and bool(blinded.adjusts))
        if blinded is None:
            self.again.hide()
            return
        self._labels["blinded"].set_text(blinded.label[0].upper() + blinded.label[1:])
        self.editors["blinded"].property("unit").setText(aim.words.unit if blinded.kind == "measured" else "")
        beside = blinded.beside_label
        self._labels["beside"].set_text(beside[:1].upper() + beside[1:])
        for widget in (self._labels["beside"], self.editors["beside"]):
            widget.setVisible(bool(beside))
        self.adjusted.setText(blinded.adjusts)
        self.adjusted.setChecked(aim.interim.adjusted)
        try:
            found = reestimate(aim, answer)
        except RequestError as error:
            self.again.set_text(error.message)
            self.again.show()
            return
        self.again.set_text("" if found is None else found.said)
        self.again.setVisible(found is not None)

    # --- edits ---

    def _typed(self, place: str, text: str) -> Edit:
        return edits.type_interim(self.session.study, self.session.aim_id, place, text)

    def _choose_way(self, at: int) -> None:
        self._change(seen_as=list(edits.SEEN_AS)[at])

    def _adjust(self, on: bool) -> None:
        aim = self.session.aim
        if aim is not None and aim.interim.adjusted != on:
            self._change(adjusted=on)

    def _change(self, **changes: object) -> None:
        self.session.do(edits.choose_interim(self.session.study, self.session.aim_id, **changes))


def _text(interim: Interim, place: str) -> str:
    value = getattr(interim, place)
    if isinstance(value, tuple):
        return " ".join(number_text(each) for each in value)
    return "" if value is None else number_text(value)
