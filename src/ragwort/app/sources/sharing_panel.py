"""How the aims share the study's error: a live sentence, each aim's alpha and chance, the chances together."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.kit.jobs import Jobs
from ragwort.app.kit.table import CalmTable
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import Wrapped
from ragwort.app.session.live_sentence import LiveSentence
from ragwort.app.session.live_text import SMALL
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel, scrolled
from ragwort.designs import Answer
from ragwort.study import edits
from ragwort.study.results.outcome import key_of
from ragwort.study.sharing import together as sharing
from ragwort.study.sharing.family import alphas_of
from ragwort.study.slots.sharing import sharing_sentence

_ROLE = 1  # the column of roles


class SharingPanel(SidePanel):
    """Opened from the menu over the picture."""

    key = "sharing"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "sharingPanel", "How the aims share the error")
        self.jobs = Jobs(self)
        self._known: tuple[object, sharing.Together | None] | None = None
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(theme.px(8))
        self.sentence = LiveSentence(session, theme, "sharing", SMALL)
        self.says = Wrapped("", "strong")
        self.table = CalmTable(theme, "Aims and how they share the error")
        self.table.as_high_as_rows = True
        self.table.cellClicked.connect(self._cell_taken)
        self.table.cellActivated.connect(self._cell_taken)
        for widget in (self.sentence, self.says, self.table):
            column.addWidget(widget)
        column.addStretch(1)
        self.column.addWidget(scrolled(body), 1)
        session.changed.connect(self.refresh)

    @override
    def finish(self) -> None:
        self.jobs.finish()

    @property
    @override
    def busy(self) -> bool:
        return self.jobs.busy

    def refresh(self) -> None:
        """Show what has changed; chances are worked out beside."""
        if not self.isVisible():
            return
        study = self.session.study
        found = [(aim, self.session.outcome(aim.as_planned())) for aim in study.aims]
        asked = [(key_of(aim), outcome.power) for aim, outcome in found if isinstance(outcome, Answer)]
        key = (
            study.family,
            tuple(alphas_of(study).items()),
            tuple((aim.id, aim.role, aim.words.many) for aim in study.aims),
            asked,
        )
        if len(asked) == len(found) and (self._known is None or self._known[0] != key):
            self.jobs.start(lambda _: (key, sharing.together_of(study, found)), self._take)
        known = self._known[1] if self._known is not None and self._known[0] == key else None
        self.sentence.show_sentence(sharing_sentence(study))
        self.table.show_rows(*sharing.rows_of(study, found, known))
        self._mark_roles()
        self.says.setText(sharing.words_of(study, found, known))

    def _mark_roles(self) -> None:
        """They look as what can be chosen does."""
        for row in range(self.table.rowCount()):
            item = self.table.item(row, _ROLE)
            item.setData(Qt.ItemDataRole.ForegroundRole, "leaf")
            item.setToolTip("Click, or press Enter, to choose the aim's role.")

    def _cell_taken(self, row: int, column: int) -> None:
        """A role that is clicked, or taken by Enter, is chosen from a list below it."""
        if column != _ROLE or row >= len(self.session.study.aims):
            return
        aim = self.session.study.aims[row]
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for role, words, ticked in sharing.roles_for(aim):
            action = QAction(words, menu, checkable=True, checked=ticked)
            action.triggered.connect(lambda _=False, role=role: self._give_role(aim.id, role))
            menu.addAction(action)
        place = self.table.visualRect(self.table.model().index(row, _ROLE))
        menu.popup(self.table.viewport().mapToGlobal(place.bottomLeft()))

    def _give_role(self, aim_id: str, role: str) -> None:
        self.session.do(edits.set_role(self.session.study, aim_id, role))

    def _take(self, made: tuple[object, sharing.Together | None]) -> None:
        self._known = made
        self.refresh()
