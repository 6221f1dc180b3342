"""The Bench: sentence on top, ledger and picture below, the shelf at the foot."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from ragwort.app.detail import Detail
from ragwort.app.evidence import EvidencePanel
from ragwort.app.ledger import Ledger
from ragwort.app.parts import hairline
from ragwort.app.picture import PictureView
from ragwort.app.progress import ProgressPanel
from ragwort.app.sentence import SentenceView
from ragwort.app.session import Session
from ragwort.app.shelf import Shelf
from ragwort.app.theme import Theme

LEDGER_WIDTH = 364
ROOMY = 600  # a Bench less high than this leaves out explanations in favour of the picture


class Bench(QWidget):
    """Everything about the aim in view."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.sentence = SentenceView(session, theme)
        self.ledger = Ledger(session, theme)
        self.ledger.setFixedWidth(theme.px(LEDGER_WIDTH))
        self.picture = PictureView(session, theme)
        self.detail = Detail(session, theme)
        self.shelf = Shelf(session, theme)
        self.ledger.focused.connect(self.detail.show_assumption)
        seen = QWidget()
        right = QVBoxLayout(seen)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(0)
        right.addWidget(self.picture, 1)
        right.addWidget(self.detail)
        self.evidence = EvidencePanel(session, theme)
        self.progress = ProgressPanel(session, theme)
        self.right = QStackedWidget()
        for view in (seen, self.evidence, self.progress):
            self.right.addWidget(view)
        self.ledger.evidence_asked.connect(self.show_evidence)
        self.ledger.progress_asked.connect(self.show_progress)
        for panel in (self.evidence, self.progress):
            panel.closed.connect(lambda: self.right.setCurrentIndex(0))
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.ledger)
        middle.addWidget(hairline(vertical=True))
        middle.addWidget(self.right, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.sentence)
        column.addWidget(hairline())
        column.addLayout(middle, 1)
        column.addWidget(hairline())
        column.addWidget(self.shelf)
        self._session = session
        session.changed.connect(self._show_or_hide)
        self._show_or_hide()

    def show_evidence(self) -> None:
        """The panel that finds the effect from what is known."""
        self.evidence.open()
        self.right.setCurrentIndex(1)

    def show_progress(self) -> None:
        """The panel that counts who has an outcome so far."""
        self.right.setCurrentIndex(2)
        self.progress.open()

    def finish(self) -> None:
        """Wait until no thread works for the panels any more: for closing the window."""
        self.evidence.finish()
        self.progress.finish()

    def _show_or_hide(self) -> None:
        """Without an aim there is only the invitation to add one."""
        for view in (self.ledger, self.picture, self.shelf):
            view.setVisible(self._session.aim is not None)

    def resizeEvent(self, event: object) -> None:
        roomy = self.height() >= self.theme.px(ROOMY)
        self.detail.set_roomy(roomy)
        self.picture.says.setVisible(roomy)
