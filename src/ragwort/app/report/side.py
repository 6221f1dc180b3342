"""The left of the Report page: the study's own words and what can be taken out, or the report's sections."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ragwort.app.kit.plain_text import PlainText
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import label, link
from ragwort.app.report.sections import SectionsView
from ragwort.app.session.live import make_live, show_in
from ragwort.app.session.session import Session
from ragwort.report.sections.checklist import EDITIONS
from ragwort.report.sections.statements import LENGTHS
from ragwort.study import edits
from ragwort.study.document.part import LONGEST_TEXT
from ragwort.study.words.protocol import GUIDELINES

_KINDS = (("pdf", "PDF"), ("docx", "DOCX"), ("html", "One HTML file"), ("md", "Markdown"), ("txt", "Plain text"))
_TABS = ("The study", "Sections")


class ReportSide(QWidget):
    """Two views on top of each other, chosen above them."""

    export_asked = Signal(str)
    checklist_asked = Signal(str)  # of this edition of a guideline
    copy_asked = Signal(str)  # the length of a statement; empty for the whole text

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        self.setFixedWidth(theme.px(300))
        column = QVBoxLayout(self)
        column.setContentsMargins(theme.px(26), theme.px(14), theme.px(22), theme.px(20))
        column.setSpacing(theme.px(10))
        self.views = QStackedWidget()
        self.tabs: list[QPushButton] = []
        column.addLayout(self._choice())
        column.addWidget(self.views, 1)
        self.views.addWidget(self._words())
        self.sections = SectionsView(session, theme)
        self.views.addWidget(self.sections)
        self.show_view(0)
        self.refresh()

    def _choice(self) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(self.theme.px(14))
        for place, words in enumerate(_TABS):
            made = link(words, lambda place=place: self.show_view(place), "pictureTab")
            made.setCheckable(True)
            line.addWidget(made)
            self.tabs.append(made)
        line.addStretch(1)
        return line

    def show_view(self, place: int) -> None:
        """Show the study's words (0) or the sections (1)."""
        self.views.setCurrentIndex(place)
        for each, tab in enumerate(self.tabs):
            tab.setChecked(each == place)

    def _words(self) -> QWidget:
        view = QWidget()
        column = QVBoxLayout(view)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(6))
        self._add_title(column)
        self._add_background(column)
        column.addSpacing(self.theme.px(12))
        column.addWidget(label("EXPORT AS", "heading"))
        column.addLayout(self._exports())
        column.addSpacing(self.theme.px(8))
        column.addWidget(label("THE AIM IN VIEW, TO PASTE", "heading"))
        column.addLayout(self._statements())
        column.addSpacing(self.theme.px(8))
        whole = link("Copy the whole text", lambda: self.copy_asked.emit(""))
        column.addWidget(whole, 0, Qt.AlignmentFlag.AlignLeft)
        return view

    def _add_title(self, column: QVBoxLayout) -> None:
        column.addWidget(label("TITLE", "heading"))
        self.title = QLineEdit()
        self.title.setAccessibleName("Title of the study")
        make_live(self.title, self.session, lambda text: edits.retitle(self.session.study, text))
        column.addWidget(self.title)
        column.addSpacing(self.theme.px(12))

    def _add_background(self, column: QVBoxLayout) -> None:
        column.addWidget(label("BACKGROUND", "heading"))
        self.background = PlainText(placeholder="What the study asks, briefly")
        self.background.setAccessibleName("Background of the study")
        self.background.textChanged.connect(self._set_background)
        self.background.installEventFilter(self)
        column.addWidget(self.background, 1)

    def _exports(self) -> QGridLayout:
        """A link for each kind of file, two beside each other."""
        grid = QGridLayout()
        for place, (kind, words) in enumerate(_KINDS):
            grid.addWidget(link(words, lambda kind=kind: self.export_asked.emit(kind)), *divmod(place, 2))
        grid.addWidget(self._checklists(), *divmod(len(_KINDS), 2))
        return grid

    def _checklists(self) -> QPushButton:
        """A guideline's items as a file of their own: of which, in which edition."""
        self.checklists = QMenu(self)
        for edition, of in EDITIONS.items():
            self.checklists.addAction(of.name, lambda edition=edition: self.checklist_asked.emit(edition))
        self.checklist = link("Checklist…", self._choose_checklist)
        self.checklist.setToolTip("A guideline's items on sample size, and where the report answers each, as DOCX")
        return self.checklist

    def _choose_checklist(self) -> None:
        """The one that fits the kind of study is marked."""
        fitting = GUIDELINES.get(self.session.study.protocol.kind)
        for edition, action in zip(EDITIONS, self.checklists.actions(), strict=True):
            action.setText(f"{EDITIONS[edition].name}{', which fits this study' if edition == fitting else ''}")
        self.checklists.popup(self.checklist.mapToGlobal(self.checklist.rect().bottomLeft()))

    def _statements(self) -> QVBoxLayout:
        """A link for each length."""
        column = QVBoxLayout()
        self.statements = []
        for length, words in LENGTHS.items():
            made = link(f"Copy {words}", lambda length=length: self.copy_asked.emit(length))
            column.addWidget(made, 0, Qt.AlignmentFlag.AlignLeft)
            self.statements.append(made)
        return column

    def refresh(self) -> None:
        """Show the study's words."""
        study = self.session.study
        show_in(self.title, study.title)
        if not self.background.hasFocus() and self.background.toPlainText() != study.background:
            self.background.setPlainText(study.background)

    def _set_background(self) -> None:
        text = self.background.toPlainText()[:LONGEST_TEXT]
        if self.background.hasFocus() and text.strip() != self.session.study.background.strip():
            self.session.do(edits.set_study(self.session.study, background=text.strip()), joined="type background")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self.background and event.type() == QEvent.Type.FocusOut:
            self.session.leave_field("", anew=True)
        return False
