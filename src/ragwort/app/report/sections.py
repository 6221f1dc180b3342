"""What the report holds: its sections with a tick for each, their order, and the user's own words around one."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QEvent, QObject, QSignalBlocker, Qt
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ragwort.app.kit.plain_text import PlainText
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Elided, label, link
from ragwort.app.session.session import Session
from ragwort.study import edits
from ragwort.study.document.part import LONGEST_TEXT
from ragwort.study.document.study_wide import Writing
from ragwort.study.document.writing import CHAPTERS, PAPERS, PLACES, SECTIONS, is_shown, ordered, own_text, paper_of

_NAME = Qt.ItemDataRole.UserRole


class SectionList(QListWidget):
    """Chapters of the study and sections of an aim; Alt+Up and Alt+Down move the one that is picked."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setObjectName("sections")
        self.setAccessibleName("Sections of the report")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.itemChanged.connect(self._ticked)
        self.itemSelectionChanged.connect(self._stay_picked)

    def _stay_picked(self) -> None:
        """A click beside the sections leaves picked, and marked, what was."""
        if self.currentItem() is not None and not self.selectedItems():
            self.currentItem().setSelected(True)

    @property
    def picked(self) -> str:
        """The name of the section that is picked; empty if none is."""
        item = self.currentItem()
        return "" if item is None else str(item.data(_NAME) or "")

    def refresh(self) -> None:
        """Show the sections in their order; what was picked stays so."""
        writing, kept = self.session.study.writing, self.picked
        wanted = [*_lines(CHAPTERS, "IN THE STUDY", writing), *_lines(SECTIONS, "IN EACH AIM", writing)]
        shown = [(self.item(at).data(_NAME), self.item(at).checkState()) for at in range(self.count())]
        if shown == [(name, _tick(ticked)) for name, _, ticked in wanted]:
            return
        with QSignalBlocker(self):
            self.clear()
            for name, words, ticked in wanted:
                self._add(name, words, ticked)
        self.pick(kept)

    def _add(self, name: str, words: str, ticked: bool) -> None:
        item = QListWidgetItem(words, self)
        item.setData(_NAME, name)
        item.setCheckState(_tick(ticked))
        if not name:
            item.setData(Qt.ItemDataRole.CheckStateRole, None)
            item.setFlags(Qt.ItemFlag.NoItemFlags)

    def pick(self, name: str) -> None:
        """Pick a section by its name, if there is one of it."""
        for at in range(self.count()):
            if name and self.item(at).data(_NAME) == name:
                self.setCurrentRow(at)

    def _ticked(self, item: QListWidgetItem) -> None:
        shown = item.checkState() == Qt.CheckState.Checked
        self.session.do(edits.show_section(self.session.study, item.data(_NAME), shown))

    def move(self, by: int) -> None:  # type: ignore[override]  # a place in the list, not on the screen
        """Move the section that is picked up (-1) or down (1)."""
        if self.picked:
            self.session.do(edits.move_section(self.session.study, self.picked, by))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.scheduleDelayedItemsLayout()  # the lines are as high as the style sheet has them by now

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        if event.modifiers() == Qt.KeyboardModifier.AltModifier and event.key() in steps:
            self.move(steps[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)


def _lines(names: Mapping[str, str], heading: str, writing: Writing) -> list[tuple[str, str, bool]]:
    lines = [("", heading, False)]
    return lines + [(name, names[name], is_shown(writing, name)) for name in ordered(writing, names)]


def _tick(ticked: bool) -> Qt.CheckState:
    return Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked


class OwnText(PlainText):
    """The user's words before or after the section that is picked; kept at every keystroke."""

    def __init__(self, session: Session, place: str) -> None:
        super().__init__(placeholder="nothing")
        self.session, self.place, self.name = session, place, ""
        self.setAccessibleName(f"{PLACES[place]} the section")
        self.textChanged.connect(self._typed)
        self.installEventFilter(self)

    def show_for(self, name: str) -> None:
        """Show the words around a section, unless they are being typed."""
        aim = self.session.aim
        changed, self.name = name != self.name, name
        self.setEnabled(bool(name) and (aim is not None or name not in SECTIONS))
        text = "" if not self.isEnabled() else own_text(self.session.study, self.session.aim_id, name, self.place)
        if (changed or not self.hasFocus()) and self.toPlainText() != text:
            with QSignalBlocker(self):
                self.setPlainText(text)

    def _typed(self) -> None:
        text, study = self.toPlainText()[:LONGEST_TEXT], self.session.study
        if not self.hasFocus() or not self.isEnabled():
            return
        if text.strip() != own_text(study, self.session.aim_id, self.name, self.place):
            written = edits.set_own_text(study, self.session.aim_id, self.name, self.place, text)
            self.session.do(written, joined=f"{self.session.aim_id} {self.place} {self.name}")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusOut:
            self.session.leave_field("", anew=True)
        return False


class SectionsView(QWidget):
    """The list, the words around what is picked in it, and the paper."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(6))
        self.list = SectionList(session, theme)
        self.list.currentItemChanged.connect(lambda *_: self._show_texts())
        column.addWidget(self.list, 3)
        column.addLayout(self._moves())
        self.of = Elided("", "quiet")
        self.texts = {place: OwnText(session, place) for place in PLACES}
        column.addWidget(self.of)
        for place, words in PLACES.items():
            column.addWidget(label(f"YOUR WORDS {words.upper()} IT", "heading"))
            column.addWidget(self.texts[place], 1)
        self.list.refresh()
        self.list.pick("size")
        session.changed.connect(self.refresh)
        self.refresh()

    def _moves(self) -> QHBoxLayout:
        line = QHBoxLayout()
        for words, by in (("Move up", -1), ("Move down", 1)):
            line.addWidget(link(words, lambda by=by: self.list.move(by), "smallLink"))
        line.addStretch(1)
        self.paper = link("", self._other_paper, "smallLink")
        self.paper.setToolTip("The paper of the PDF; a click changes it")
        line.addWidget(self.paper)
        return line

    def _other_paper(self) -> None:
        study = self.session.study
        self.session.do(edits.choose_paper(study, PAPERS[1 - PAPERS.index(paper_of(study))]))

    def refresh(self) -> None:
        """Show what the report holds."""
        self.list.refresh()
        self.paper.setText(f"Paper: {paper_of(self.session.study)}")
        self._show_texts()

    def _show_texts(self) -> None:
        name, aim = self.list.picked, self.session.aim
        for text in self.texts.values():
            text.show_for(name)
        whose = f"Of the aim in view: {aim.name}" if name in SECTIONS and aim is not None else "Of the study"
        self.of.set_text(whose if name else "")
