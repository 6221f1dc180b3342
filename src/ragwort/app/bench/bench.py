"""The Bench: sentence on top, ledger and picture below, the shelf at the foot."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget
from typing_extensions import override

from ragwort.app.bench.detail import Detail
from ragwort.app.bench.invitation import Invitation
from ragwort.app.bench.ledger import Ledger
from ragwort.app.bench.panels import PANELS
from ragwort.app.bench.sentence_view import SentenceView
from ragwort.app.bench.shelf import Shelf
from ragwort.app.kit.stack import Stack
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import hairline
from ragwort.app.picture.picture import PictureView
from ragwort.app.session.page import Page
from ragwort.app.session.session import Session
from ragwort.app.sources.sidepanel import SidePanel
from ragwort.designs import Answer
from ragwort.designs.evidence.kinds import KINDS_OF_CLUSTERS
from ragwort.study.results.breakdown import kinds_text
from ragwort.study.words.coverage import PROTOCOL, WORDS
from ragwort.study.words.protocol import field_of_looks

LEDGER_WIDTH = 380
PICTURE_WIDTH = 284  # at the least
ROOMY = 600  # a Bench less high than this leaves out explanations in favour of the picture


class Bench(Page):
    """Everything about the aim in view."""

    key = "Bench"

    comparison_asked = Signal(object)  # what makes the file

    def __init__(self, session: Session, theme: Theme, parent: QWidget) -> None:
        """Every part is put where it belongs before it is filled: moved later, all of it would be styled anew."""
        super().__init__(session, theme, parent)
        column, middle = QVBoxLayout(self, spacing=0), QHBoxLayout(spacing=0)
        column.setContentsMargins(0, 0, 0, 0)
        self.sentence = SentenceView(session, theme)
        self._filled = False
        self._lines = hairline(), hairline()
        column.addWidget(self.sentence)
        column.addWidget(self._lines[0])
        column.addLayout(middle, 1)
        column.addWidget(self._lines[1])
        self._fill_middle(middle)
        self.shelf = Shelf(session, theme)
        self.shelf.compare_asked.connect(partial(self.show_panel, "compare"))
        column.addWidget(self.shelf)
        session.changed.connect(self._show_or_hide)
        self.right.currentChanged.connect(self._panel_changed)
        self._show_or_hide()

    def _fill_middle(self, middle: QHBoxLayout) -> None:
        """The ledger, and beside it the picture over the details; or the invitation."""
        self.ledger = Ledger(self.session, self.theme, self)
        self.ledger.setFixedWidth(self.theme.px(LEDGER_WIDTH))
        self.ledger.evidence_asked.connect(partial(self.show_panel, "evidence"))
        self.ledger.kinds_asked.connect(self._type_clusters)
        self.ledger.progress_asked.connect(partial(self.show_panel, "progress"))
        self.ledger.underway_asked.connect(partial(self.show_panel, "underway"))
        self._between = hairline(vertical=True)
        self.right = Stack({key: partial(self._made, key) for key in PANELS}, self)
        self.right.setMinimumWidth(self.theme.px(PICTURE_WIDTH))  # a panel that is not in view asks for no width
        self.right.addWidget(self._seen())
        self.invitation = Invitation(self.theme)
        middle.addWidget(self.ledger)
        middle.addWidget(self._between)
        middle.addWidget(self.right, 1)
        middle.addWidget(self.invitation, 1)

    def _seen(self) -> QWidget:
        seen = QWidget(self.right)
        column = QVBoxLayout(seen, spacing=0)
        column.setContentsMargins(0, 0, 0, 0)
        self.picture = PictureView(self.session, self.theme, seen)
        self.picture.range_asked.connect(self._ask_for_a_range)
        self.picture.fill_asked.connect(self.fill_with_picture)
        column.addWidget(self.picture, 1)
        self.detail = Detail(self.session, self.theme, seen)
        column.addWidget(self.detail)
        self.ledger.focused.connect(self.detail.show_assumption)
        return seen

    def _ask_for_a_range(self) -> None:
        """The field of the first plausible range that can be typed."""
        if self.is_filled:
            self.fill_with_picture()
        fields = [field for row in self.ledger.rows if (field := row.range_field) is not None]
        if fields:
            fields[0].setFocus()

    def go_to(self, field: str) -> None:
        """The field of an assumption, of the aim's own words, or of what the protocol says."""
        from ragwort.app.sources.protocol_panel import ProtocolPanel

        if field == PROTOCOL:
            self.show_panel("protocol")
            self.right.of(ProtocolPanel).fields[field_of_looks(self.session.study)].setFocus()
        elif field == WORDS:
            self.detail.show_words()
            self.detail.words["outcome"].setFocus()
        else:
            rows = {row.assumption.name: row for row in self.ledger.rows}
            if field in rows:
                rows[field].editor.setFocus()

    def _made(self, key: str) -> SidePanel:
        panel = PANELS[key](self)
        panel.closed.connect(lambda: self.right.setCurrentIndex(0))
        return panel

    def show_panel(self, key: str) -> None:
        """Open one of `PANELS` over the picture."""
        self.right.setCurrentWidget(self.right.named(key))
        self.right.named(key).open()

    def _type_clusters(self) -> None:
        """Strata from how many clusters there are of each kind, begun with those of the answer."""
        from ragwort.app.sources.evidence_panel import EvidencePanel

        aim = self.session.aim
        if aim is not None:
            outcome = self.session.outcome(aim)
            text = kinds_text(aim, outcome if isinstance(outcome, Answer) else None)
            evidence = self.right.of(EvidencePanel)
            evidence.open_at(KINDS_OF_CLUSTERS, {KINDS_OF_CLUSTERS: text})
            self.right.setCurrentWidget(evidence)

    @override
    def finish(self) -> None:
        self.picture.finish()
        self.right.finish()

    @property
    @override
    def busy(self) -> bool:
        loads = self.picture.isVisible() and not self.picture.ready
        return loads or self.picture.busy or any(panel.busy for panel in self.right.made.values())

    @property
    def is_filled(self) -> bool:
        """Whether the picture has the page for itself."""
        return self._filled and self.session.aim is not None and self.right.currentIndex() == 0

    def fill_with_picture(self) -> None:
        """Give the picture the page, or what it had before."""
        self._filled = not self.is_filled
        self.right.setCurrentIndex(0)
        self._show_or_hide()

    def _panel_changed(self, place: int) -> None:
        """A panel in the picture's place ends that the picture fills the page."""
        self._filled = self._filled and place == 0
        self._show_or_hide()

    def _show_or_hide(self) -> None:
        """Without an aim there is only the invitation to add one; a picture that fills the page has it for itself."""
        there, filled = self.session.aim is not None, self.is_filled
        self.right.setVisible(there)
        for view in (self.ledger, self._between, self.shelf):
            view.setVisible(there and not filled)
        self.sentence.setVisible(not filled)
        for line in self._lines:
            line.setVisible(not filled)
        self.detail.setVisible(there and not filled)
        self.invitation.setVisible(self.session.aim_in_view is None)

    def resizeEvent(self, event: QResizeEvent) -> None:
        roomy = self.height() >= self.theme.px(ROOMY)
        self.detail.set_roomy(roomy)
        self.picture.says.setVisible(roomy)
