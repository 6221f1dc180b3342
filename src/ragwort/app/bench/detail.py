"""The strip below the picture: what the assumption in hand means and where it comes from, or the aim's words."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.bench.effect_row import EffectRow
from ragwort.app.bench.illustrated import Illustrated
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, Standing, discard, label, link
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.designs import Answer, Design, design_named
from ragwort.designs.illustration import PairsSeen
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Words
from ragwort.study.document.history import Edit
from ragwort.study.words.naming import label_of, namings_of, title_of, with_names

NARROW = 380  # a strip less wide has short links
MOST_KINDS = 5  # kinds of names that fit side by side
MOST_TYPED = 500  # characters of a word or a remark
WHY = "why this one: importance or realism, who judged"
ROWS = ("Words", "Names")  # of what the aim calls things
_WORDS = (
    ("outcome", "Outcome", ""),
    ("unit", "Unit", ""),
    ("one", "One person", "participant"),
    ("many", "Several", "participants"),
    ("clusters", "Clusters", "wards"),
)

_EXAMPLES = {  # by what is measured, an outcome and its unit
    "number": ("reaction time", "ms"),
    "yes-no": ("sleepy at 4 am", "none"),
    "category": ("choice of drink", "none"),
    "count": ("errors logged", "none"),
    "time": ("time to the first error", "weeks"),
    "rate": ("errors logged", "months"),
}


class Detail(QFrame):
    """Help, source and note of one assumption; or what the aim calls things."""

    guide_asked = Signal()

    def __init__(self, session: Session, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.session, self.theme = session, theme
        self.setObjectName("detail")
        self.name = ""
        self.explaining = self._roomy = True
        self.row = ""  # which of `ROWS` is open: folded, the picture has the room
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(8), theme.px(18), theme.px(10))
        column.setSpacing(theme.px(4))
        top = QHBoxLayout()
        self.title = Elided(name="strong")
        top.addWidget(self.title, 1)
        self.flip_link = link("Words of this aim", self._flip_over, "smallLink")
        top.addWidget(self.flip_link)
        self._rows = {row: link(row, lambda row=row: self.open_row(row), "smallLink") for row in ROWS}
        for opener in self._rows.values():
            opener.setCheckable(True)
            top.addWidget(opener)
        top.addSpacing(theme.px(10))
        self.guide_link = link("About this design", self.guide_asked.emit, "smallLink")
        top.addWidget(self.guide_link)
        column.addLayout(top)
        self.stack = QStackedWidget()
        self.stack.addWidget(self._words_page())
        self.stack.addWidget(self._about_page())
        column.addWidget(self.stack)
        session.changed.connect(self.refresh)
        self.refresh()

    def _words_page(self) -> QWidget:
        page = QWidget()
        self._word_grid = QGridLayout(page)
        self._word_grid.setContentsMargins(0, 0, 0, 0)
        self._word_grid.setHorizontalSpacing(self.theme.px(8))
        self._word_grid.setVerticalSpacing(self.theme.px(2))
        self.words: dict[str, QLineEdit] = {}
        self._headings: dict[str, QLabel] = {}
        for column, (name, title, example) in enumerate(_WORDS):
            heading = label(title, "quiet")
            self._word_grid.addWidget(heading, 0, column)
            self._headings[name] = heading
            editor = self._remark_editor(title, example)
            make_live(editor, self.session, lambda text, name=name: self._word(name, text))
            self.words[name] = editor
            self._word_grid.addWidget(editor, 1, column)
        self.names: dict[str, QLineEdit] = {}
        self._name_titles: dict[str, QLabel] = {}
        return page

    def _show_words(self, aim: Aim, design: Design) -> None:
        measured = next(iter(design.takes.get("measured", ())), "number")
        measured = "rate" if measured == "count" and design.has_times else measured
        examples = _EXAMPLES.get(measured, ("", ""))
        self._headings["unit"].setText("Unit of time" if design.has_times else "Unit")
        for name, example in zip(("outcome", "unit"), examples, strict=True):
            self.words[name].setPlaceholderText(example)
        for name, editor in self.words.items():
            show_in(editor, getattr(aim.words, name))
            asked = (name != "clusters" or bool(design.clusters)) and self.row == "Words"
            editor.setVisible(asked)
            self._headings[name].setVisible(asked)

    def _show_names(self, aim: Aim) -> None:
        """A field for each kind of thing that has names; built anew where the aim has others."""
        namings = namings_of(aim)[:MOST_KINDS]
        if [naming.key for naming in namings] != list(self.names):
            old = (*self.names.values(), *self._name_titles.values())
            self.names, self._name_titles = {}, {}
            for column, naming in enumerate(namings):
                self._add_names(naming.key, column)
            for widget in old:
                discard(widget)  # last: the one in focus says that it is left, and this is called again
        for naming in namings:
            editor, title = self.names[naming.key], title_of(naming, aim)
            for widget in (editor, self._name_titles[naming.key]):
                widget.setVisible(self.row == "Names")
            self._name_titles[naming.key].setText(title)
            editor.setAccessibleName(f"Names: {title}")
            editor.setPlaceholderText(", ".join(naming.stand_ins))
            editor.setToolTip("Names apart by commas")
            show_in(editor, ", ".join(aim.words.names.get(naming.key, ())))

    def _add_names(self, key: str, column: int) -> None:
        title, editor = label("", "quiet"), self._remark_editor("", "")
        make_live(
            editor, self.session, lambda text: edits.type_names(self.session.study, self.session.aim_id, key, text)
        )
        self._name_titles[key], self.names[key] = title, editor
        self._word_grid.addWidget(title, 2, column)
        self._word_grid.addWidget(editor, 3, column)

    def _about_page(self) -> QWidget:
        page = QWidget()
        both = QHBoxLayout(page)
        both.setContentsMargins(0, 0, 0, 0)
        both.setSpacing(self.theme.px(14))
        column = QVBoxLayout()
        column.setSpacing(self.theme.px(4))
        both.addLayout(column, 1)
        self.illustrated = Illustrated(self.theme)
        both.addWidget(self.illustrated, 0, Qt.AlignmentFlag.AlignTop)
        self.help = Standing(name="quiet")
        column.addWidget(self.help)
        row = QHBoxLayout()
        row.setSpacing(self.theme.px(8))
        self.source = self._remark_editor("Source", "where the value comes from")
        self.note = self._remark_editor("Note", "why this value")
        self._titles: dict[str, QLabel] = {}
        for words, editor, field in (("Source", self.source, "source"), ("Note", self.note, "note")):
            title = label(words, "quiet")
            self._titles[field] = title
            row.addWidget(title)
            row.addWidget(editor, 1)
            make_live(editor, self.session, lambda text, field=field: self._remark(field, text))
        column.addLayout(row)
        self.effect = EffectRow(self.session, self.theme)
        column.addWidget(self.effect)
        return page

    def _remark_editor(self, title: str, example: str) -> QLineEdit:
        editor = QLineEdit()
        editor.setObjectName("remark")
        editor.setAccessibleName(title)
        editor.setPlaceholderText(example)
        editor.setMaxLength(MOST_TYPED)
        editor.setMinimumWidth(self.theme.px(40))
        return editor

    def show_assumption(self, name: str) -> None:
        """Explain an assumption of the aim in view."""
        self.name = name
        self.refresh()

    def set_explaining(self, explaining: bool) -> None:
        """Show or hide explanations; sources and notes stay."""
        self.explaining = explaining
        self.refresh()

    def set_roomy(self, roomy: bool) -> None:
        """Where there is little room, explanations are the title's tool tip only."""
        if roomy != self._roomy:
            self._roomy = roomy
            self.refresh()

    def open_row(self, row: str) -> None:
        """Open the words or the names, or close them again."""
        self.row = "" if row == self.row else row
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        narrow = self.width() < self.theme.px(NARROW)
        self.flip_link.setText("Words" if narrow else "Words of this aim")
        self.guide_link.setText("Design" if narrow else "About this design")

    def _flip_over(self) -> None:
        self.show_words()

    def show_words(self) -> None:
        """The aim's words, open."""
        self.name, self.row = "", "Words"
        self.refresh()

    def refresh(self) -> None:
        """Show the session's aim."""
        aim = self.session.aim
        if aim is None:
            return
        design = design_named(aim.design)
        known = {assumption.name: assumption for assumption in design.assumptions}
        about = known.get(self.name)
        self.flip_link.setVisible(about is not None)
        for row, opener in self._rows.items():
            opener.setVisible(about is None and (row == "Words" or bool(namings_of(aim))))
            opener.setChecked(row == self.row)
        self.stack.setCurrentIndex(0 if about is None else 1)
        self.stack.setVisible(about is not None or bool(self.row))
        for index in range(self.stack.count()):  # the page behind asks for no height
            shown = index == self.stack.currentIndex()
            policy = QSizePolicy.Policy.Preferred if shown else QSizePolicy.Policy.Ignored
            self.stack.widget(index).setSizePolicy(QSizePolicy.Policy.Preferred, policy)
        if about is None:
            self.title.set_text("What this aim calls things" if self.row else f"Words: {_called(aim)}")
            self._show_quietly(not self.row)
            self._show_words(aim, design)
            self._show_names(aim)
            return
        entry = aim.entry(self.name)
        self._show_quietly(False)
        self.title.set_text(f"{label_of(about, aim)}  {about.symbol}".strip())
        usual = f" Usual: {about.usual}." if about.usual else ""
        seen = self._illustration(aim, design)
        says = "" if seen is None else with_names(aim, seen.says)
        self.illustrated.show_pairs(seen, says)
        self.help.set_text(f"{about.help}{usual} {says}".strip())
        self.help.setVisible(self.explaining and self._roomy)
        self.title.setToolTip(self.help.text() if self.explaining else "")
        justified = self.name in design.justified_names()
        self._titles["note"].setText("Why" if justified else "Note")
        self.note.setAccessibleName("Why" if justified else "Note")
        self.note.setPlaceholderText(WHY if justified else "why this value")
        self.effect.show_effect(aim, self.name, self._roomy or bool(aim.planned_on))
        show_in(self.source, entry.source)
        show_in(self.note, entry.note)

    def _show_quietly(self, quiet: bool) -> None:
        """A line that nobody asked for stands back."""
        name = "quiet" if quiet else "strong"
        if self.title.objectName() != name:
            self.title.setObjectName(name)
            self.title.style().unpolish(self.title)
            self.title.style().polish(self.title)

    def _illustration(self, aim: Aim, design: Design) -> PairsSeen | None:
        """The assumption seen, as far as explanations are wanted and there is an answer."""
        outcome = self.session.outcome(aim)
        if self.name not in design.illustrations or not isinstance(outcome, Answer):
            return None
        return design.illustrations[self.name](outcome.plan) if self.explaining and self._roomy else None

    def _word(self, name: str, text: str) -> Edit:
        word = " ".join(text.split())
        if not word and name in ("one", "many"):
            word = str(Words.model_fields[name].default)
        return edits.set_words(self.session.study, self.session.aim_id, **{name: word})

    def _remark(self, field: str, text: str) -> Edit:
        aim = self.session.aim
        if aim is None or self.name not in {each.name for each in design_named(aim.design).assumptions}:
            return Edit("", self.session.study)  # pasted by a menu that outlived what it was opened for
        return edits.set_remark(self.session.study, self.session.aim_id, self.name, field, text)


def _called(aim: Aim) -> str:
    """What an aim calls things, in a line: `reaction time (ms) · staff · usual lighting, brighter lighting`."""
    words = aim.words
    outcome = " ".join(part for part in (words.outcome, f"({words.unit})" if words.unit else "") if part)
    names = [", ".join(given) for given in words.names.values() if any(given)]
    return " · ".join(part for part in (outcome, words.many, *names) if part)
