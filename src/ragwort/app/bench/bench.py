"""The Bench: sentence on top, ledger and picture below, the shelf at the foot."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from ragwort.app.bench.detail import Detail
from ragwort.app.bench.invitation import Invitation
from ragwort.app.bench.ledger import Ledger
from ragwort.app.bench.sentence_view import SentenceView
from ragwort.app.bench.shelf import Shelf
from ragwort.app.kit.later import Later
from ragwort.app.kit.theme import Theme
from ragwort.app.kit.widgets import hairline
from ragwort.app.picture.picture import PictureView
from ragwort.app.session.session import Session
from ragwort.designs import Answer
from ragwort.designs.evidence.kinds import KINDS
from ragwort.study.results.breakdown import kinds_text
from ragwort.study.words.coverage import PROTOCOL, WORDS

if TYPE_CHECKING:
    from ragwort.app.sources.compare_panel import ComparePanel
    from ragwort.app.sources.coverage_panel import CoveragePanel
    from ragwort.app.sources.evidence_panel import EvidencePanel
    from ragwort.app.sources.progress_panel import ProgressPanel
    from ragwort.app.sources.protocol_panel import ProtocolPanel
    from ragwort.app.sources.sharing_panel import SharingPanel
    from ragwort.app.sources.sidepanel import SidePanel
    from ragwort.app.sources.ways_panel import WaysPanel

Panel = TypeVar("Panel", bound="SidePanel")
LEDGER_WIDTH = 380
PICTURE_WIDTH = 284  # at the least
ROOMY = 600  # a Bench less high than this leaves out explanations in favour of the picture


class Bench(QWidget):
    """Everything about the aim in view."""

    comparison_asked = Signal(object)  # what makes the file

    def __init__(self, session: Session, theme: Theme, parent: QWidget) -> None:
        """Every part is put where it belongs before it is filled: moved later, all of it would be styled anew."""
        super().__init__(parent)
        self.theme, self._session = theme, session
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
        self._later_panels()
        self.shelf = Shelf(session, theme)
        self.shelf.compare_asked.connect(self.show_compare)
        column.addWidget(self.shelf)
        session.changed.connect(self._show_or_hide)
        self.right.currentChanged.connect(self._panel_changed)
        self._show_or_hide()

    def _fill_middle(self, middle: QHBoxLayout) -> None:
        """The ledger, and beside it the picture over the details; or the invitation."""
        self.ledger = Ledger(self._session, self.theme, self)
        self.ledger.setFixedWidth(self.theme.px(LEDGER_WIDTH))
        self.ledger.evidence_asked.connect(self.show_evidence)
        self.ledger.kinds_asked.connect(self._type_clusters)
        self.ledger.progress_asked.connect(self.show_progress)
        self._between = hairline(vertical=True)
        self.right = QStackedWidget(self)
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
        self.picture = PictureView(self._session, self.theme, seen)
        self.picture.range_asked.connect(self._ask_for_a_range)
        self.picture.fill_asked.connect(self.fill_with_picture)
        column.addWidget(self.picture, 1)
        self.detail = Detail(self._session, self.theme, seen)
        column.addWidget(self.detail)
        self.ledger.focused.connect(self.detail.show_assumption)
        return seen

    def _later_panels(self) -> None:
        self._evidence, self._progress = Later(self._make_evidence), Later(self._make_progress)
        self._ways, self._compare = Later(self._make_ways), Later(self._make_compare)
        self._sharing, self._coverage = Later(self._make_sharing), Later(self._make_coverage)
        self._protocol = Later(self._make_protocol)

    @property
    def evidence(self) -> EvidencePanel:
        """The panel that finds the effect from what is known."""
        return self._evidence()

    @property
    def progress(self) -> ProgressPanel:
        """The panel that counts who has an outcome so far."""
        return self._progress()

    @property
    def compare(self) -> ComparePanel:
        """The panel of scenarios side by side."""
        return self._compare()

    @property
    def ways(self) -> WaysPanel:
        """The panel of what fits the study's limit."""
        return self._ways()

    def _make_evidence(self) -> EvidencePanel:
        from ragwort.app.sources.evidence_panel import EvidencePanel

        return self._over_the_picture(EvidencePanel(self._session, self.theme))

    def _make_progress(self) -> ProgressPanel:
        from ragwort.app.sources.progress_panel import ProgressPanel

        return self._over_the_picture(ProgressPanel(self._session, self.theme))

    def _make_ways(self) -> WaysPanel:
        from ragwort.app.sources.ways_panel import WaysPanel

        return self._over_the_picture(WaysPanel(self._session, self.theme))

    @property
    def sharing(self) -> SharingPanel:
        """The panel of how the aims share the study's error."""
        return self._sharing()

    def _make_sharing(self) -> SharingPanel:
        from ragwort.app.sources.sharing_panel import SharingPanel

        return self._over_the_picture(SharingPanel(self._session, self.theme))

    @property
    def protocol(self) -> ProtocolPanel:
        """The panel of what the protocol says beside its numbers."""
        return self._protocol()

    def _make_protocol(self) -> ProtocolPanel:
        from ragwort.app.sources.protocol_panel import ProtocolPanel

        return self._over_the_picture(ProtocolPanel(self._session, self.theme))

    @property
    def coverage(self) -> CoveragePanel:
        """The panel of what guidelines ask for."""
        return self._coverage()

    def _make_coverage(self) -> CoveragePanel:
        from ragwort.app.sources.coverage_panel import CoveragePanel

        panel = self._over_the_picture(CoveragePanel(self._session, self.theme))
        panel.field_wanted.connect(self._go_to)
        return panel

    def _ask_for_a_range(self) -> None:
        """The field of the first plausible range that can be typed."""
        if self.is_filled:
            self.fill_with_picture()
        fields = [field for row in self.ledger._rows if (field := row.range_field) is not None]
        if fields:
            fields[0].setFocus()

    def _go_to(self, field: str) -> None:
        """The field of an assumption, of the aim's own words, or of what the protocol says."""
        if field == PROTOCOL:
            self.show_protocol()
            self.protocol.fields["interim"].setFocus()
        elif field == WORDS:
            self.detail.show_words()
            self.detail.words["outcome"].setFocus()
        else:
            rows = {row.assumption.name: row for row in self.ledger._rows}
            if field in rows:
                rows[field].editor.setFocus()

    def _make_compare(self) -> ComparePanel:
        from ragwort.app.sources.compare_panel import ComparePanel

        panel = self._over_the_picture(ComparePanel(self._session, self.theme))
        panel.export_asked.connect(lambda: self.comparison_asked.emit(panel.as_csv))
        return panel

    def _over_the_picture(self, panel: Panel) -> Panel:
        panel.closed.connect(lambda: self.right.setCurrentIndex(0))
        self.right.addWidget(panel)
        return panel

    def show_evidence(self) -> None:
        """Find the effect from what is known."""
        self.evidence.open()
        self.right.setCurrentWidget(self.evidence)

    def _type_clusters(self) -> None:
        """Strata from how many clusters there are of each kind, begun with those of the answer."""
        aim = self._session.aim
        if aim is not None:
            outcome = self._session.outcome(aim)
            text = kinds_text(aim, outcome if isinstance(outcome, Answer) else None)
            self.evidence.open_at(KINDS, {KINDS: text})
            self.right.setCurrentWidget(self.evidence)

    def show_progress(self) -> None:
        """Count who has an outcome so far."""
        self.right.setCurrentWidget(self.progress)
        self.progress.open()

    def show_ways(self) -> None:
        """What would bring the aim under the limit, or what the room below it would buy."""
        self.right.setCurrentWidget(self.ways)
        self.ways.open()

    def show_sharing(self) -> None:
        """How the aims share the study's error."""
        self.right.setCurrentWidget(self.sharing)
        self.sharing.open()

    def show_protocol(self) -> None:
        """What the protocol says beside its numbers, and the plan signed off."""
        self.right.setCurrentWidget(self.protocol)
        self.protocol.open()

    def show_coverage(self) -> None:
        """What guidelines ask for, and whether the aim answers it."""
        self.right.setCurrentWidget(self.coverage)
        self.coverage.open()

    def show_compare(self) -> None:
        """The aim and its scenarios side by side."""
        self.right.setCurrentWidget(self.compare)
        self.compare.open()

    def finish(self) -> None:
        """Wait until no thread works for the panels any more: for closing the window."""
        for panel in (self._evidence.made, self._progress.made, self._ways.made, self._sharing.made):
            if panel is not None:
                panel.finish()

    @property
    def is_filled(self) -> bool:
        """Whether the picture has the page for itself."""
        return self._filled and self._session.aim is not None and self.right.currentIndex() == 0

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
        there, filled = self._session.aim is not None, self.is_filled
        self.right.setVisible(there)
        for view in (self.ledger, self._between, self.shelf):
            view.setVisible(there and not filled)
        self.sentence.setVisible(not filled)
        for line in self._lines:
            line.setVisible(not filled)
        self.detail.setVisible(there and not filled)
        self.invitation.setVisible(self._session.aim_in_view is None)

    def resizeEvent(self, event: QResizeEvent) -> None:
        roomy = self.height() >= self.theme.px(ROOMY)
        self.detail.set_roomy(roomy)
        self.picture.says.setVisible(roomy)
