"""The page for choosing a design: plain questions in any order, a search, every design with its reason.

It names no design: questions, reasons and guards come from the declarations (`designs.choosing`).
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.choose.compared import Compared
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped, hairline, label, link
from ragwort.app.session.page import Page
from ragwort.app.session.session import Session
from ragwort.base.wording import listed
from ragwort.designs import Design, design_named
from ragwort.designs.choosing import QUESTIONS, Fit, Question, fits, guards, nearest, needs, search, taken_by
from ragwort.study import edits
from ragwort.study.document.aim import Aim
from ragwort.study.results.outcome import trouble_of
from ragwort.study.results.side_by_side import beside

SIDE = 330  # px for the questions


class Entry(QFrame):
    """One design: what it is for, what it needs, why it fits or not."""

    wanted = Signal(str)
    paired = Signal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setObjectName("entry")
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(14), theme.px(9), theme.px(14), theme.px(9))
        column.setSpacing(theme.px(1))
        top = QHBoxLayout()
        top.setSpacing(theme.px(12))
        self.title = Wrapped(name="strong")
        top.addWidget(self.title, 1)
        self.beside = link("side by side", lambda: self.paired.emit(self.id), "smallLink")
        self.beside.setCheckable(True)
        top.addWidget(self.beside)
        self.use = link("", lambda: self.wanted.emit(self.id))
        top.addWidget(self.use)
        column.addLayout(top)
        self.about, self.needs, self.reason = (self._line(name) for name in ("", "quiet", "reason"))
        for line in (self.about, self.needs, self.reason):
            column.addWidget(line)
        self.id = ""

    @staticmethod
    def _line(name: str) -> QLabel:
        line = label("", name)
        line.setWordWrap(True)
        return line

    def show_fit(self, fit: Fit, use: str, paired: bool) -> None:
        """Show a design with its verdict; `use` is what its button says, empty where it is the one in use."""
        design = fit.design
        self.id = design.id
        self.title.set_text(design.title)
        self.about.setText(design.summary)
        self.needs.setText(f"Needs: {needs(design)}.")
        self.reason.setText(fit.reason)
        self.reason.setVisible(bool(fit.reason))
        for widget in (self, self.title, self.about, self.reason):
            if widget.property("fits") != fit.fits:
                widget.setProperty("fits", fit.fits)
                widget.style().unpolish(widget)
                widget.style().polish(widget)
        self.use.setText(use or "in use")
        self.use.setEnabled(bool(use))
        self.use.setAccessibleName(f"{use or 'In use'}: {design.title}")
        self.beside.setChecked(paired)
        self.beside.setText("side by side ✓" if paired else "side by side")
        self.beside.setAccessibleName(f"Side by side: {design.title}")


class Chooser(Page):
    """The whole page. `done` says that the Bench is wanted."""

    key = "Choose"

    done = Signal(str)  # for which aim; empty for a new one

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.answers: dict[str, str] = {}
        self.pair: list[str] = []
        self.aim_id = ""  # whose design is in doubt; empty for a new aim
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._questions())
        row.addWidget(hairline(vertical=True))
        row.addWidget(self._list(), 1)
        session.changed.connect(self._aim_may_be_gone)
        self.refresh()

    # --- building ---

    def _questions(self) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        margin = self.theme.px(24)
        column.setContentsMargins(margin, self.theme.px(18), self.theme.px(14), self.theme.px(14))
        column.setSpacing(self.theme.px(1))
        self.heading = label("", "pageTitle")
        self.heading.setWordWrap(True)
        column.addWidget(self.heading)
        hint = label("Answer what you know, in any order. A click on an answer takes it back.", "quiet")
        hint.setWordWrap(True)
        column.addWidget(hint)
        self.options: dict[tuple[str, str], QPushButton] = {}
        for question in QUESTIONS:
            self._add_question(column, question)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setObjectName("questions")
        scroll.setWidgetResizable(True)
        scroll.setFixedWidth(self.theme.px(SIDE))
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)  # words break where they broke before
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(body)
        return scroll

    def _add_question(self, column: QVBoxLayout, question: Question) -> None:
        column.addSpacing(self.theme.px(12))
        text = label(question.text, "strong")
        text.setWordWrap(True)
        column.addWidget(text)
        group = QButtonGroup(self)
        group.setExclusive(False)
        line = QHBoxLayout() if question.short else column
        line.setSpacing(self.theme.px(1))
        for option in question.options:
            button = QPushButton(option.label, checkable=True)
            button.setObjectName("answer")
            button.setAccessibleName(f"{question.text} {option.label}")
            button.clicked.connect(lambda on, q=question.name, v=option.value: self._answer(q, v, on))
            self.options[question.name, option.value] = button
            line.addWidget(button)
        if question.short:
            line.addStretch(1)
            column.addLayout(line)

    def _list(self) -> QWidget:
        area = QWidget()
        column = QVBoxLayout(area)
        column.setContentsMargins(self.theme.px(22), self.theme.px(16), self.theme.px(18), self.theme.px(10))
        column.setSpacing(self.theme.px(8))
        top = QHBoxLayout()
        self.search = QLineEdit()
        self.search.setPlaceholderText("or search by any name: Welch, 2x3 anova, before after, wards …")
        self.search.setAccessibleName("Search for a design")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self.refresh())
        top.addWidget(self.search, 1)
        top.addWidget(link("Start over", self.start_over))
        column.addLayout(top)
        self.count = label("", "quiet")
        column.addWidget(self.count)
        self.guard = label("", "guard")
        self.guard.setWordWrap(True)
        column.addWidget(self.guard)
        self.compared = Compared(self.theme)
        column.addWidget(self.compared)
        body = QWidget()
        self._entries_box = QVBoxLayout(body)
        self._entries_box.setContentsMargins(0, 0, self.theme.px(8), 0)
        self._entries_box.setSpacing(self.theme.px(6))
        self._entries_box.addStretch(1)
        self.entries: list[Entry] = []
        self._scroll = QScrollArea()
        self._scroll.setObjectName("entries")
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setWidget(body)
        column.addWidget(self._scroll, 1)
        return area

    # --- what users do ---

    def start(self, aim_id: str = "") -> None:
        """Open the page: for a new aim, or to ask whether an aim has the right design."""
        self.aim_id = aim_id
        self.start_over()
        aim = self._aim()
        if aim is not None and not trouble_of(aim):
            design = design_named(aim.design)
            self.answers = {name: options[0] for name, options in taken_by(design).items() if len(options) == 1}
            self.refresh()
        self.search.setFocus()

    def start_over(self) -> None:
        """Leave every question open."""
        self.answers, self.pair = {}, []
        self.search.clear()
        self.refresh()

    def _answer(self, question: str, value: str, on: bool) -> None:
        self.answers = {name: given for name, given in self.answers.items() if name != question}
        if on:
            self.answers[question] = value
        self.refresh()

    def pair_up(self, design_id: str) -> None:
        if design_id in self.pair:
            self.pair.remove(design_id)
        else:
            self.pair = [*self.pair, design_id][-2:]
        self.refresh()

    def _use(self, design_id: str) -> None:
        design = design_named(design_id)
        if self.aim_id:
            self.session.do(edits.change_design(self.session.study, self.aim_id, design), then_show=self.aim_id)
        else:
            claim = self.answers.get("claim", "")
            aim = edits.aim_beside(self.session.study, self.session.aim, design, claim)
            self.session.do(edits.add_aim(self.session.study, aim), then_show=aim.id)
        self.done.emit(self.aim_id)

    def _aim_may_be_gone(self) -> None:
        if self.aim_id and all(aim.id != self.aim_id for aim in self.session.study.aims):
            self.aim_id = ""
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        self.refresh()

    def _aim(self) -> Aim | None:
        """The aim in doubt, if there is one and it is still there."""
        return next((aim for aim in self.session.study.aims if aim.id == self.aim_id), None)

    # --- showing ---

    def found(self) -> list[Fit]:
        """The designs as the list has them."""
        verdicts = {fit.design.id: fit for fit in fits(self.answers)}
        if not self.search.text().strip():
            return list(verdicts.values())
        met = search(self.search.text())
        if met:
            return sorted((verdicts[design.id] for design in met), key=lambda fit: fit.ruled_out)
        return [_lacking(verdicts[design.id], words) for design, words in nearest(self.search.text())]

    def refresh(self) -> None:
        """Show the questions as they are answered, and the designs that are left."""
        aim = self._aim()
        self.heading.setText(f"Is this the right design for “{aim.name[:60]}”?" if aim else "What does the study ask?")
        for (question, value), button in self.options.items():
            button.setChecked(self.answers.get(question) == value)
        found = self.found()
        self._show_entries(found, "" if aim is None else aim.design)
        left = sum(fit.fits for fit in found)
        designs = "1 design fits." if left == 1 else f"{left} designs fit."
        nothing = "No design has such a name; try another word, or answer the questions."
        if found and self.search.text().strip() and not search(self.search.text()):
            designs = "No design is called all of that. These come nearest:"
        self.count.setText(designs if found else nothing)
        said = [guard.text for guard in guards(self.answers, self.search.text())]
        self.guard.setText("\n".join(said))
        self.guard.setVisible(bool(said))
        self._show_pair()

    def _show_entries(self, found: list[Fit], current: str) -> None:
        while len(self.entries) < len(found):
            entry = Entry(self.theme)
            entry.wanted.connect(self._use)
            entry.paired.connect(self.pair_up)
            self.entries.append(entry)
            self._entries_box.insertWidget(len(self.entries) - 1, entry)
        for at, entry in enumerate(self.entries):
            entry.setVisible(at < len(found))
        for entry, fit in zip(self.entries, found, strict=False):
            use = "Add it as an aim" if not self.aim_id else "" if fit.design.id == current else "Change to it"
            entry.show_fit(fit, use, fit.design.id in self.pair)

    def _show_pair(self) -> None:
        self.compared.setVisible(bool(self.pair))
        if len(self.pair) == 1:
            self.compared.say(f"{design_named(self.pair[0]).title}: choose a second design to put beside it.")
        if len(self.pair) == 2:
            self.compared.say("Working out both …")
            one, other = (design_named(name) for name in self.pair)
            values = self._values_for(one)
            self.jobs.start(lambda ticket: beside(one, other, values), self.compared.show_both, _fall)
        else:
            self.jobs.cancel()

    def _values_for(self, design: Design) -> dict[str, Any]:
        """The values of the aim in doubt or in view, else those that the design starts from."""
        aim = self._aim() or self.session.aim
        return aim.values() if aim is not None else dict(design.starting)


def _lacking(fit: Fit, words: tuple[str, ...]) -> Fit:
    """A design that was not asked for by all of the words, and by which not."""
    told = listed([f"“{word}”" for word in words])
    return replace(fit, reason=f"Nothing of it is called {told}. {fit.reason}".strip())


def _fall(error: Exception) -> None:
    raise error
